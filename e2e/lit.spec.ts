/**
 * The light of the turntable against a renderer of the tests' own, which follows the published formulas: GGX (Walter and others, 2007),
 * its joint masking (Heitz, 2014), reflectance by Schlick (1994), roughness squared (glTF 2.0, appendix B).
 */
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { expect, test, type Page } from '@playwright/test';
import type { Ball } from './lit/sphere.ts';

type Vec = [number, number, number];
const dot = (a: Vec, b: Vec) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const unit = (a: Vec): Vec => a.map((v) => v / Math.sqrt(dot(a, a))) as Vec;
const plus = (a: Vec, b: Vec, k = 1): Vec => a.map((v, i) => v + b[i] * k) as Vec;
/** IEC 61966-2-1. */
const linear = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
const encoded = (v: number) => Math.min(1, v <= 0.0031308 ? v * 12.92 : 1.055 * v ** (1 / 2.4) - 0.055) * 255;

const SIDE = 96;
const FROM: Vec = [0, 0, 4];
const DARK = { up: '#000000', horizon: '#000000', ground: '#000000', sky: 1 };
const ONE_LAMP = { ...DARK, lamps: [{ from: [2, 3, 4] as Vec, colour: '#ffffff', strength: 0.6 }] };

let script: string;
test.beforeAll(async () => {
  const made = await build({
    entryPoints: [fileURLToPath(new URL('lit/sphere.ts', import.meta.url))],
    ...{ bundle: true, write: false, format: 'iife', globalName: 'lit', target: 'es2022' },
  });
  script = made.outputFiles[0].text;
});
async function drawn(page: Page, ball: Ball): Promise<number[]> {
  if (!(await page.evaluate(() => 'lit' in globalThis))) await page.addScriptTag({ content: script });
  return page.evaluate(
    (of) => (globalThis as unknown as { lit: { drawBall(b: Ball): number[] } }).lit.drawBall(of),
    ball,
  );
}

/** Where the ray through a pixel's middle meets the ball; null: it passes. */
function hitAt(px: number, py: number): Vec | null {
  const half = Math.tan((20 * Math.PI) / 180);
  const ray = unit([(((px + 0.5) / SIDE) * 2 - 1) * half, (((py + 0.5) / SIDE) * 2 - 1) * half, -1]);
  const b = dot(FROM, ray);
  const under = b * b - (dot(FROM, FROM) - 1);
  return under <= 0 ? null : plus(FROM, ray, -b - Math.sqrt(under));
}

/** One lamp on the ball: linear light that comes back, for a grey base colour. */
function shaded(n: Vec, base: number, roughness: number, metal: number): number {
  const rough = Math.max(0.04, roughness);
  const v = unit(plus(FROM, n, -1));
  const l = unit([2, 3, 4]);
  const h = unit(plus(l, v));
  const [nl, nv, nh, vh] = [dot(n, l), Math.max(dot(n, v), 1e-3), Math.max(0, dot(n, h)), Math.max(0, dot(v, h))];
  if (nl <= 0) return 0;
  const a2 = rough ** 4;
  const spread = a2 / (Math.PI * (nh * nh * (a2 - 1) + 1) ** 2);
  const masked = 0.5 / (nl * Math.sqrt(nv * nv * (1 - a2) + a2) + nv * Math.sqrt(nl * nl * (1 - a2) + a2));
  const straight = 0.04 * (1 - metal) + base * metal;
  const f = straight + (1 - straight) * (1 - vh) ** 5;
  return (base * (1 - metal) * (1 - f) + f * Math.min(spread * masked, 40) * Math.PI) * 0.6 * nl;
}

for (const metal of [0, 1])
  test(`a ball under one lamp, five roughnesses, ${metal ? 'metal' : 'no metal'}: within 2 of 255`, async ({
    page,
  }) => {
    for (const roughness of [20, 35, 50, 75, 100]) {
      const pixels = await drawn(page, {
        ...{ rig: ONE_LAMP, color: '#bcbcbc', roughness, metal: metal * 100, coat: 0, side: SIDE, from: FROM },
      });
      const base = linear(0xbc / 255);
      const rough = Math.round(roughness * 2.55) / 255;
      let [looked, off, worst] = [0, 0, 0];
      for (let y = 0; y < SIDE; y++)
        for (let x = 0; x < SIDE; x++) {
          const n = hitAt(x, y);
          // The outermost ring is where polygons are no ball.
          if (!n || dot(n, unit(FROM)) < 0.3) continue;
          const wanted = encoded(shaded(n, base, rough, metal));
          const apart = Math.abs(pixels[(y * SIDE + x) * 4] - wanted);
          worst = Math.max(worst, apart);
          looked++;
          if (apart > 2) off++;
        }
      expect(looked).toBeGreaterThan(2000);
      expect(off / looked, `roughness ${roughness} %, worst ${worst.toFixed(1)}`).toBeLessThan(0.01);
    }
  });

test('in a sky that is white all round nothing sends back more than comes in', async ({ page }) => {
  const white = { up: '#ffffff', horizon: '#ffffff', ground: '#ffffff', sky: 0.8, lamps: [] };
  for (const metal of [0, 100])
    for (const coat of [0, 100])
      for (const roughness of [0, 30, 60, 100]) {
        const pixels = await drawn(page, {
          ...{ rig: white, color: '#ffffff', roughness, metal, coat, side: 48, from: FROM },
        });
        const most = Math.max(...pixels.filter((_, i) => i % 4 < 3));
        expect(most, `metal ${metal}, coat ${coat}, roughness ${roughness}`).toBeLessThanOrEqual(
          Math.ceil(encoded(0.8)) + 1,
        );
        expect(most).toBeGreaterThan(150);
      }
});

test('a normal map bends the light: green looks up, red to the right', async ({ page }) => {
  const lampAt = (from: Vec) => ({ ...DARK, lamps: [{ from, colour: '#ffffff', strength: 0.6 }] });
  const lit = async (bent: Vec, lamp: Vec, greenDown = false) => {
    const pixels = await drawn(page, {
      ...{ rig: lampAt(lamp), color: '#808080', roughness: 100, metal: 0, coat: 0, side: 32, from: FROM },
      ...{ bent, greenDown },
    });
    return pixels[(16 * 32 + 16) * 4];
  };
  const flat = await lit([128, 128, 255], [0, 1, 1]);
  expect(await lit([128, 218, 218], [1, 0, 1])).toBeLessThan(flat);
  // The plane's V goes up, a template's goes down: there green is turned over with it.
  expect(await lit([128, 38, 218], [0, 1, 1])).toBeGreaterThan(flat);
  expect(await lit([218, 128, 218], [1, 0, 1])).toBeGreaterThan(flat);
  expect(await lit([38, 128, 218], [1, 0, 1])).toBeLessThan(flat);
  // Of the other handedness green alone is turned over.
  for (const lamp of [
    [0, 1, 1],
    [1, 0, 1],
    [1, 2, 3],
  ] as Vec[]) {
    const [one, other] = [await lit([160, 218, 218], lamp, true), await lit([160, 37, 218], lamp)];
    expect(Math.abs(one - other)).toBeLessThanOrEqual(1);
  }
});

test('lamps carried round the model shine from where they are then', async ({ page }) => {
  const from: Vec = [2, 3, 4];
  const quarter = [4, 3, -2] as Vec;
  const ball = { color: '#808080', roughness: 40, metal: 0, coat: 100, side: SIDE, from: FROM };
  const lampAt = (at: Vec) => ({ ...DARK, lamps: [{ from: at, colour: '#ffffff', strength: 0.6 }] });
  const there = await drawn(page, { ...ball, rig: lampAt(quarter) });
  const carried = await drawn(page, { ...ball, rig: lampAt(from), turned: Math.PI / 2 });
  const worst = there.reduce((most, v, i) => Math.max(most, Math.abs(v - carried[i])), 0);
  expect(worst).toBeLessThanOrEqual(1);
  expect(Math.max(...there.map((v, i) => (i % 4 < 3 ? v : 0)))).toBeGreaterThan(20);
});
