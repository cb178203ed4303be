/** The level as its players see it: each of the twelve settings does what its box says, and art shows where the game puts it. */
import { expect, test } from 'vitest';
import type { BayPicture } from './report.ts';
import { drawLevel } from './level.ts';

type Rgba = [number, number, number, number];
const CLEAR: Rgba = [0, 0, 0, 0];
/** In the order of the boxes. */
const NAMES = [
  'fog',
  'glow',
  'litter',
  'skyTop',
  'skyFoot',
  'shallow',
  'deep',
  'foam',
  'moss',
  'rain',
  'shadow',
  'tint',
] as const;

/** A skin with nothing on it but its settings: all clear but for those that are given. @param art what fills the frames */
function skin(settings: Partial<Record<(typeof NAMES)[number], Rgba>>, art: Rgba = CLEAR): BayPicture {
  const pixels = new Uint8Array(1024 * 1024 * 4);
  const fill = (x: number, y: number, w: number, h: number, colour: Rgba) => {
    for (let j = y; j < y + h; j++) for (let i = x; i < x + w; i++) pixels.set(colour, (j * 1024 + i) * 4);
  };
  fill(0, 0, 1024, 900, art);
  for (const [k, name] of NAMES.entries()) fill(16 + k * 40, 976, 32, 32, settings[name] ?? CLEAR);
  return { width: 1024, height: 1024, pixels };
}
const W = 480;
const at = ({ pixels, width }: BayPicture, x: number, y: number) =>
  [...pixels.subarray((y * width + x) * 4, (y * width + x) * 4 + 4)] as Rgba;
const differing = (a: BayPicture, b: BayPicture, from = 0, to = a.height): number => {
  let n = 0;
  for (let y = from; y < to; y++)
    for (let x = 0; x < a.width; x++) if (at(a, x, y).some((v, k) => Math.abs(v - at(b, x, y)[k]) > 1)) n++;
  return n;
};

test('sky and water are the colours of their boxes, from the one to the other, and everything is opaque', () => {
  const drawn = drawLevel(
    skin({ skyTop: [10, 20, 200, 255], skyFoot: [250, 200, 100, 255], deep: [5, 60, 90, 255] }),
    W,
  );
  expect([drawn.width, drawn.height]).toEqual([W, 270]);
  expect(at(drawn, 240, 0)).toEqual([10, 20, 200, 255]);
  // The horizon lies at 268 of 540.
  const foot = at(drawn, 240, 132);
  expect(foot[0]).toBeGreaterThan(235);
  expect(foot[2]).toBeLessThan(112);
  expect(at(drawn, 470, 250)).toEqual([5, 60, 90, 255]);
  for (let i = 3; i < drawn.pixels.length; i += 4) if (drawn.pixels[i] !== 255) throw new Error(`clear at ${i}`);
});

test.each(['fog', 'glow', 'litter', 'foam', 'rain', 'tint', 'shallow'] as const)(
  'what is said by %s is there, and gone when its box is clear',
  (name) => {
    const base = {
      skyTop: [60, 60, 60, 255] as Rgba,
      skyFoot: [60, 60, 60, 255] as Rgba,
      deep: [60, 60, 60, 255] as Rgba,
    };
    const without = drawLevel(skin(base), W);
    const half = drawLevel(skin({ ...base, [name]: [255, 255, 255, 128] }), W);
    const full = drawLevel(skin({ ...base, [name]: [255, 255, 255, 255] }), W);
    expect(differing(without, drawLevel(skin({ ...base, [name]: [255, 255, 255, 0] }), W))).toBe(0);
    expect(differing(without, half)).toBeGreaterThan(20);
    // More of it is more to be seen.
    const light = (picture: BayPicture) => picture.pixels.reduce((sum, value) => sum + value, 0);
    expect(light(half)).toBeGreaterThan(light(without));
    expect(light(full)).toBeGreaterThan(light(half));
  },
);

test('art stands where the game puts it; moss and shadow lie on it alone', () => {
  const grey: Rgba = [128, 128, 128, 255];
  const sky = { skyTop: [0, 0, 0, 255] as Rgba, skyFoot: [0, 0, 0, 255] as Rgba, deep: [0, 0, 0, 255] as Rgba };
  const bare = drawLevel(skin(sky), W);
  const art = drawLevel(skin(sky, grey), W);
  expect(differing(bare, art)).toBeGreaterThan((W * 270) / 4);
  // A ledge reaches under the feet at the left.
  expect(at(art, 60, 215)).toEqual([128, 128, 128, 255]);
  const mossy = drawLevel(skin({ ...sky, moss: [0, 255, 0, 255] }, grey), W);
  expect(differing(art, mossy)).toBeGreaterThan(500);
  expect(differing(bare, drawLevel(skin({ ...sky, moss: [0, 255, 0, 255] }), W))).toBe(0);
  const shaded = drawLevel(skin({ ...sky, shadow: [0, 0, 0, 255] }, grey), W);
  expect(differing(art, shaded)).toBeGreaterThan(500);
});

test('the same skin gives the same picture', () => {
  const one = skin(
    { skyTop: [90, 120, 160, 255], rain: [200, 210, 220, 90], moss: [80, 120, 60, 200] },
    [90, 80, 70, 255],
  );
  expect(Buffer.from(drawLevel(one, W).pixels).equals(Buffer.from(drawLevel(one, W).pixels))).toBe(true);
});
