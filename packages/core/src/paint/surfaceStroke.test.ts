/** Strokes over a model: as on the sheet where it is flat, alike on both sides of seams, and never on what lies behind. */
import { describe, expect, test } from 'vitest';
import type { Template } from '../livery/template.ts';
import { nearestOn } from '../surface/cutLine.ts';
import { fieldsIn } from '../surface/fields.ts';
import { SheetSurface } from '../surface/surface.ts';
import type { Vec } from '../surface/vectors.ts';
import { body, cube, turnedBody, type Patch } from '../testing/bodies.ts';
import { BRUSHES, type Brush } from './brush.ts';
import { StrokeMaker } from './strokeMaker.ts';
import { tileNumber } from './strokes.ts';
import { SurfaceStroke } from './surfaceStroke.ts';

const plain: Brush = { ...BRUSHES[0], size: 24, smoothing: 0, pressureSize: 0, hardness: 60 };
const all = (template: Template) => Array.from({ length: template.mesh.indices.length / 3 }, (_, t) => t);

/** Paints through places of the model, metres. @returns 0..1 at a texel of the sheet */
function painted(template: Template, sheet: string, brush: Brush, perTexel: number, way: Vec[], mirror?: Vec) {
  const surface = new SheetSurface(template, sheet);
  const { width, height } = surface;
  const rules = { width, height, seed: 3, surface, perTexel, mirror: mirror ? { normal: mirror, offset: 0 } : null };
  const stroke = new SurfaceStroke(brush, rules);
  for (const [x, y, z] of way) {
    const { triangle } = nearestOn(template, all(template), [x, y, z])!;
    const [px, py, pz] = [x / perTexel, y / perTexel, z / perTexel];
    stroke.to({ x: px, y: py, z: pz, triangle, pressure: 1, tiltX: 0, tiltY: 0 });
  }
  return at(stroke);
}

const at = (stroke: StrokeMaker) => (x: number, y: number) =>
  (stroke.tiles.get(tileNumber(x >> 8, y >> 8))?.[(y & 255) * 256 + (x & 255)] ?? 0) / 65535;

describe('on a flat wall', () => {
  const wall = body(
    512,
    ['face'],
    [
      {
        sheet: 'face',
        box: [0.125, 0.125, 0.75, 0.75],
        at: (u, v) => [u, 1 - v, 0],
        normal: () => [0, 0, 1],
        columns: 3,
        rows: 3,
      },
    ],
  );
  const perTexel = 1 / 384;
  const way = (k: number): [number, number] => [150 + k * 20, 200 + 40 * Math.sin(k / 2)];

  test.each(['round', 'flat', 'bristle', 'chalk'] as const)('a %s tip covers what it covers on the sheet', (tip) => {
    const brush: Brush = { ...plain, tip };
    const flat = new StrokeMaker(brush, { width: 512, height: 512, seed: 3 });
    const places: Vec[] = [];
    for (let k = 0; k < 10; k++) {
      const [x, y] = way(k);
      flat.to({ x, y, pressure: 1, tiltX: 0, tiltY: 0 });
      places.push([(x - 64) * perTexel, 1 - (y - 64) * perTexel, 0]);
    }
    const [on, due] = [painted(wall, 'face', brush, perTexel, places), at(flat)];
    let [sum, count] = [0, 0];
    for (let y = 64; y < 448; y++)
      for (let x = 64; x < 448; x++) {
        if (on(x, y) === 0 && due(x, y) === 0) continue;
        sum += Math.abs(on(x, y) - due(x, y));
        count++;
      }
    expect(count).toBeGreaterThan(3000);
    // Stamps lie in quarters of a texel; a turned tip's own directions differ between the sheet and the model.
    expect(sum / count).toBeLessThan(tip === 'round' || tip === 'chalk' ? 0.02 : 0.35);
  });
});

test('over the edges of a cube it goes on, as far along the surface as its radius says', () => {
  const template = cube(512);
  const dab = painted(template, 'face', { ...plain, size: 100, hardness: 100 }, 0.01, [[0.2, 0.8, 1]]);
  const { position, normal, centred } = fieldsIn(new SheetSurface(template, 'face'), {
    left: 0,
    top: 0,
    right: 512,
    bottom: 512,
  });
  let [front, top] = [0, 0];
  for (let i = 0; i < centred.length; i++) {
    if (!centred[i]) continue;
    const [x, y, z] = position.subarray(i * 3, i * 3 + 3);
    const covers = dab(i % 512, Math.floor(i / 512));
    if (normal[i * 3 + 2] > 0.5) {
      const far = Math.hypot(x - 0.2, y - 0.8);
      if (Math.abs(far - 0.5) > 0.02) expect(covers).toBe(far < 0.5 ? 1 : 0);
      if (covers > 0.5) front++;
    } else if (normal[i * 3 + 1] > 0.5) {
      // Never farther than straight through the air, and never as far as that.
      if (Math.hypot(x - 0.2, 0.2, z - 1) > 0.52) expect(covers).toBe(0);
      if (covers > 0.5) top++;
    } else if (z < -0.5) expect(covers).toBe(0);
  }
  expect(front).toBeGreaterThan(1000);
  expect(top).toBeGreaterThan(200);
});

test('a thin wing: nothing of it on the other side, and nothing on what lies behind', () => {
  const side = (z: number, box: Patch['box']): Patch => ({
    ...{ sheet: 'face', box, columns: 4, rows: 4, normal: () => [0, 0, z > 0 ? 1 : -1] as const },
    at: (u, v) => [u, 1 - v, z],
  });
  const wing = body(
    256,
    ['face'],
    [side(0.005, [0.05, 0.05, 0.4, 0.4]), side(-0.005, [0.55, 0.05, 0.4, 0.4]), side(-0.1, [0.05, 0.55, 0.4, 0.4])],
  );
  const dab = painted(wing, 'face', { ...plain, size: 40 }, 0.01, [
    [0.5, 0.5, 0.005],
    [0.6, 0.5, 0.005],
  ]);
  const sum = (left: number, top: number) => {
    let covered = 0;
    for (let y = 0; y < 110; y++) for (let x = 0; x < 110; x++) covered += dab(left + x, top + y);
    return covered;
  };
  expect(sum(10, 10)).toBeGreaterThan(300);
  expect([sum(140, 10), sum(10, 140)]).toEqual([0, 0]);
});

test('round a cylinder over a seam between sheets: both sides alike, and the mirrored half as the first', () => {
  const half = (from: number, to: number, sheet: string): Patch => {
    const patch = turnedBody(
      () => 0.5,
      (v) => 0.5 - v,
    );
    const turn = (u: number, v: number): Vec => patch.at(from + (to - from) * u, v);
    return {
      sheet,
      box: [0.1, 0.1, 0.8, 0.5],
      columns: 32,
      rows: 4,
      at: turn,
      normal: (u, v) => {
        const [x, , z] = turn(u, v);
        return [x, 0, z];
      },
    };
  };
  const template = body(512, ['one', 'two'], [half(0, 0.5, 'one'), half(0.5, 1, 'two')]);
  const soft: Brush = { ...plain, size: 60, hardness: 0 };
  // Over the seam at the back, where z is -0.5.
  const way: Vec[] = Array.from({ length: 9 }, (_, k) => {
    const a = Math.PI * (0.9 + 0.025 * k);
    return [0.5 * Math.sin(a), 0.1, 0.5 * Math.cos(a)];
  });
  const [one, two] = [painted(template, 'one', soft, 0.004, way), painted(template, 'two', soft, 0.004, way)];
  const column = (of: typeof one, x: number) => (v: number) => {
    const y = (0.1 + 0.5 * v) * 512 - 0.5;
    const [top, t] = [Math.floor(y), y - Math.floor(y)];
    const line = (row: number) => (of(x - 1, row) + of(x, row)) / 2;
    return line(top) * (1 - t) + line(top + 1) * t;
  };
  // The last column of the first, with its gutter, and the first of the second.
  const [left, right] = [column(one, Math.round(0.9 * 512)), column(two, Math.round(0.1 * 512))];
  let most = 0;
  for (let k = 0; k < 100; k++) {
    most = Math.max(most, left(k / 100));
    expect(Math.abs(left(k / 100) - right(k / 100))).toBeLessThan(0.02);
  }
  expect(most).toBeGreaterThan(0.5);
  const both = painted(template, 'one', soft, 0.004, [
    [0.5, 0.1, 0.02],
    [0.5, -0.1, 0.02],
  ]);
  const mirrored = painted(
    template,
    'two',
    soft,
    0.004,
    [
      [0.5, 0.1, 0.02],
      [0.5, -0.1, 0.02],
    ],
    [1, 0, 0],
  );
  let [own, other] = [0, 0];
  for (let y = 0; y < 512; y++) for (let x = 0; x < 512; x++) [own, other] = [own + both(x, y), other + mirrored(x, y)];
  expect(own).toBeGreaterThan(500);
  expect(Math.abs(own - other)).toBeLessThan(own * 0.01);
});
