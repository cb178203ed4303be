/** Planes on plain bodies, against formulas: where they lie, what they cover, and that nothing breaks at a seam. */
import { describe, expect, test } from 'vitest';
import { renderCoarse } from '../compose/renderSheet.ts';
import { renderRegion } from '../compose/renderTile.ts';
import { partnerOf } from '../livery/arrange.ts';
import type { Layer } from '../livery/layer.ts';
import { Projector } from '../livery/projector.ts';
import type { Template } from '../livery/template.ts';
import { fieldsIn, Plane } from '../surface/fields.ts';
import { nearestOn } from '../surface/cutLine.ts';
import { SheetSurface } from '../surface/surface.ts';
import { unit, type Vec } from '../surface/vectors.ts';
import { body, cube, turnedBody, type Patch } from '../testing/bodies.ts';
import { demoBundle, layerOf, smallLivery, sourcesFor } from '../testing/scenes.ts';
import { projectionsOf } from './index.ts';
import { Footprint } from './projection.ts';

const RED = { hex: '#ff0000' };
/** Units of the plane to a metre. */
const PER = 100;
const scale = 1 / PER;

/** Alpha 0..1 of a sheet with one layer on it, texel by texel. */
async function drawn(template: Template, layer: Layer, sheet = template.sheets[0].key, step = 1) {
  const livery = smallLivery([layer], template);
  const { width, height } = template.sheets[0];
  const { data } = renderCoarse(livery, sheet, 'colour', { width, height }, step, await sourcesFor(livery, template));
  const wide = Math.ceil(width / step);
  return { data, at: (x: number, y: number) => data[(y * wide + x) * 4 + 3] / 255 };
}

const fieldsOf = (template: Template, sheet = template.sheets[0].key) => {
  const surface = new SheetSurface(template, sheet);
  return fieldsIn(surface, { left: 0, top: 0, right: surface.width, bottom: surface.height });
};

const stripe = (on: object, set: object = {}) =>
  layerOf('stripe', { paint: RED, x: 0, y: 0, angle: 0, width: 30, softness: 0, on, ...set });

/** The share of a texel within -w/2 < f < w/2, f even over it: by 16 x 16 points. */
function shareOf(value: number, right: number, down: number, low: number, high: number): number {
  let inside = 0;
  for (let j = 0; j < 16; j++)
    for (let i = 0; i < 16; i++) {
      const f = value + right * ((i + 0.5) / 16 - 0.5) + down * ((j + 0.5) / 16 - 0.5);
      if (f >= low && f < high) inside++;
    }
  return inside / 256;
}

/** Mean difference, and greatest, of a drawn band from its exact coverage over all texels that a triangle covers. */
function against(
  template: Template,
  at: (x: number, y: number) => number,
  value: (p: Vec, n: Vec) => number | null,
  low: number,
  high: number,
) {
  const side = template.sheets[0].width;
  const { position, normal, triangle, centred } = fieldsOf(template);
  let [sum, count, most] = [0, 0, 0];
  const p = (i: number): Vec => [position[i * 3], position[i * 3 + 1], position[i * 3 + 2]];
  const n = (i: number): Vec => [normal[i * 3], normal[i * 3 + 1], normal[i * 3 + 2]];
  for (let y = 1; y < side - 1; y++)
    for (let x = 1; x < side - 1; x++) {
      const i = y * side + x;
      if (!centred[i] || triangle[i - 1] !== triangle[i] || triangle[i + 1] !== triangle[i]) continue;
      if (triangle[i - side] !== triangle[i] || triangle[i + side] !== triangle[i]) continue;
      const [here, left, right, up, down] = [i, i - 1, i + 1, i - side, i + side].map((k) => value(p(k), n(i)));
      if (here === null || left === null || right === null || up === null || down === null) continue;
      const off = Math.abs(at(x, y) - shareOf(here, (right - left) / 2, (down - up) / 2, low, high));
      sum += off;
      count++;
      most = Math.max(most, off);
    }
  return { mean: sum / count, most, count };
}

/** Facing +z, up +y. */
const flat = (more: object = {}) => ({
  ...{ kind: 'flat', scale, at: [0, 0.1, 0], facing: [0, 0, 1], up: [0, 1, 0], limit: 90, soft: 0, through: true },
  ...more,
});

const CYLINDER: Patch[] = [
  {
    sheet: 'face',
    box: [0.0625, 0.0625, 0.875, 0.4],
    columns: 64,
    rows: 4,
    ...turnedBody(
      () => 0.5,
      (v) => 0.5 - v,
    ),
  },
];
const cylinder = body(
  512,
  ['face'],
  CYLINDER.map((one) => ({
    ...one,
    normal: (u, v) => {
      const [x, , z] = one.at(u, v);
      return [x, 0, z];
    },
  })),
);
const ball: Patch = {
  ...{ sheet: 'face', box: [0.05, 0.05, 0.9, 0.9], columns: 96, rows: 48 },
  ...turnedBody(
    (v) => Math.sin(Math.PI * (0.02 + 0.96 * v)),
    (v) => Math.cos(Math.PI * (0.02 + 0.96 * v)),
  ),
};
const sphere = body(512, ['face'], [ball]);
const torus = body(
  512,
  ['face'],
  [
    {
      ...{ sheet: 'face', box: [0.05, 0.05, 0.9, 0.9], columns: 96, rows: 48 },
      ...turnedBody(
        (v) => 1 + 0.4 * Math.cos(2 * Math.PI * v),
        (v) => 0.4 * Math.sin(2 * Math.PI * v),
      ),
      normal: (u, v) => [
        Math.cos(2 * Math.PI * v) * Math.sin(2 * Math.PI * u),
        Math.sin(2 * Math.PI * v),
        Math.cos(2 * Math.PI * v) * Math.cos(2 * Math.PI * u),
      ],
    },
  ],
);

describe('flat', () => {
  test.each([
    ['cube', cube(512)],
    ['cylinder', cylinder],
    ['sphere', sphere],
    ['torus', torus],
  ])('a band on a %s covers what two planes cut out of it, to 1/255 in the mean', async (_name, template) => {
    const { at } = await drawn(template, stripe(flat(), { angle: 20, width: 31.4 }));
    const [cos, sin] = [Math.cos(Math.PI / 9), Math.sin(Math.PI / 9)];
    // Across the stripe: it falls to the right by twenty degrees.
    const off = against(
      template,
      at,
      ([x, y], n) => (n[2] > 0.05 ? (-(y - 0.1) * cos - x * sin) * PER : null),
      -15.7,
      15.7,
    );
    expect(off.count).toBeGreaterThan(4000);
    expect(off.mean).toBeLessThan(1 / 255);
    expect(off.most).toBeLessThan(0.2);
  });

  test('what looks away stays clear; the limit runs out as it says', async () => {
    const { at } = await drawn(sphere, layerOf('solid', { paint: RED, on: flat({ limit: 60, soft: 20 }) }));
    const { normal, centred } = fieldsOf(sphere);
    let [worst, seen] = [0, 0];
    for (let i = 0; i < centred.length; i++) {
      if (!centred[i]) continue;
      const [all, none] = [Math.cos((50 * Math.PI) / 180), Math.cos((70 * Math.PI) / 180)];
      const due = Math.min(1, Math.max(0, (normal[i * 3 + 2] - none) / (all - none)));
      worst = Math.max(worst, Math.abs(at(i % 512, Math.floor(i / 512)) - due));
      if (due > 0 && due < 1) seen++;
    }
    expect(seen).toBeGreaterThan(1000);
    expect(worst).toBeLessThan(0.01);
  });

  test('the nearest surface only: what another part hides is not painted, unless it goes through', async () => {
    const wall = (sheet: string, z: number, box: Patch['box'], from: number, to: number): Patch => ({
      ...{ sheet, box, columns: 3, rows: 3, normal: () => [0, 0, 1] as const },
      at: (u, v) => [from + (to - from) * u, 1 - v, z],
    });
    const template = body(
      256,
      ['face'],
      [wall('face', 0, [0.05, 0.05, 0.9, 0.4], 0, 2), wall('face', 0.5, [0.05, 0.55, 0.4, 0.4], 0.6, 1.2)],
    );
    const solid = (on: object) => layerOf('solid', { paint: RED, on });
    const nearest = await drawn(template, solid({ ...flat(), through: undefined }));
    const through = await drawn(template, solid(flat()));
    const first = await drawn(template, solid({ ...flat(), through: undefined, not: ['p1'] }));
    const column = (x: number) => Math.round((0.05 + (0.9 * x) / 2) * 256);
    expect([0.3, 0.9, 1.6].map((x) => nearest.at(column(x), 60))).toEqual([1, 0, 1]);
    expect([0.3, 0.9, 1.6].map((x) => through.at(column(x), 60))).toEqual([1, 1, 1]);
    // Left out, it hides nothing and is not painted.
    expect([0.3, 0.9, 1.6].map((x) => first.at(column(x), 60))).toEqual([1, 1, 1]);
    expect([nearest.at(60, 190), through.at(60, 190), first.at(60, 190)]).toEqual([1, 1, 0]);
    // The edge of what is hidden lies where the other one ends.
    let painted = 0;
    for (let x = column(0); x < column(1); x++) painted += nearest.at(x, 60);
    expect(Math.abs(painted - 0.6 * 0.45 * 256)).toBeLessThan(1);
  });

  test('depth: what lies farther from the place than it says stays clear', async () => {
    const { at } = await drawn(sphere, layerOf('solid', { paint: RED, on: flat({ at: [0, 0, 1], depth: 0.5 }) }));
    const { position, normal, centred } = fieldsOf(sphere);
    for (let i = 0; i < centred.length; i += 7)
      if (centred[i] && normal[i * 3 + 2] > 0.1 && Math.abs(position[i * 3 + 2] - 0.5) > 0.01)
        expect(at(i % 512, Math.floor(i / 512))).toBe(position[i * 3 + 2] > 0.5 ? 1 : 0);
  });

  test('zoomed out it lies where the sheet has it', async () => {
    const layer = stripe(flat(), { angle: 20 });
    const [fine, coarse] = [await drawn(torus, layer), await drawn(torus, layer, 'face', 4)];
    let sum = 0;
    for (let y = 8; y < 120; y++)
      for (let x = 8; x < 120; x++) {
        let mean = 0;
        for (let k = 0; k < 16; k++) mean += fine.at(x * 4 + (k & 3), y * 4 + (k >> 2)) / 16;
        sum += Math.abs(coarse.at(x, y) - mean);
      }
    expect(sum / 112 / 112).toBeLessThan(2 / 255);
  });
});

describe('round', () => {
  const on = { kind: 'round', scale, at: [0, 0, 0], axis: [0, 1, 0], facing: [0, 0, 1] };

  test('lengths along the arc are true on a cylinder, and heights along the axis', async () => {
    const across = await drawn(cylinder, stripe(on, { angle: 90, x: 40, width: 20 }));
    // An arc of 0.4 m about 0.5 m from the axis; u grows with the turn.
    const off = against(cylinder, across.at, ([x, , z]) => Math.atan2(x, z) * 0.5 * PER, 30, 50);
    expect(off.mean).toBeLessThan(1 / 255);
    let texels = 0;
    for (let x = 32; x < 480; x++) texels += across.at(x, 120);
    // Facets lie within their sagitta of the circle.
    expect(Math.abs(texels - (0.2 / (2 * Math.PI * 0.5)) * 512 * 0.875)).toBeLessThan(0.5);
    const along = await drawn(cylinder, stripe(on, { y: 10, width: 20 }));
    expect(against(cylinder, along.at, ([, y]) => -y * PER, 0, 20).mean).toBeLessThan(1 / 255);
  });

  test('on a cone the arc is as long as it says at every height', async () => {
    const cone: Patch = {
      sheet: 'face',
      box: [0.0625, 0.0625, 0.875, 0.875],
      columns: 128,
      rows: 4,
      ...turnedBody(
        (v) => 0.2 + 0.6 * v,
        (v) => 0.4 - 0.8 * v,
      ),
    };
    const template = body(512, ['face'], [cone]);
    const { at } = await drawn(template, stripe(on, { angle: 90, x: 15, width: 10 }));
    for (const y of [60, 150, 260, 400]) {
      let texels = 0;
      for (let x = 32; x < 480; x++) texels += at(x, y);
      const radius = 0.2 + (0.6 * ((y + 0.5) / 512 - 0.0625)) / 0.875;
      expect(Math.abs(texels - (0.1 / (2 * Math.PI * radius)) * 512 * 0.875)).toBeLessThan(0.5);
    }
  });
});

describe('along', () => {
  const cut = (normal: Vec, offset: number, reach = 0.3) => ({
    kind: 'along',
    scale,
    line: { by: 'cut', normal, offset },
    reach,
  });

  test('a waterline round a cylinder and a line along it: the strip is as wide as it says on the surface', async () => {
    const ring = await drawn(cylinder, stripe(cut([0, 1, 0], 0.1), { width: 25 }));
    expect(against(cylinder, ring.at, ([, y]) => (0.1 - y) * PER, -12.5, 12.5).mean).toBeLessThan(1 / 255);
    const straight = await drawn(cylinder, stripe(cut([1, 0, 0], 0), { width: 40 }));
    for (const y of [60, 120, 180]) {
      let texels = 0;
      for (let x = 32; x < 480; x++) texels += straight.at(x, y);
      // Front and back, 0.4 m of arc each.
      expect(Math.abs(texels - (0.8 / (2 * Math.PI * 0.5)) * 512 * 0.875)).toBeLessThan(0.5);
    }
  });

  test('on a cone the strip keeps its width down the slope', async () => {
    const cone: Patch = {
      sheet: 'face',
      box: [0.0625, 0.0625, 0.875, 0.875],
      columns: 128,
      rows: 12,
      ...turnedBody(
        (v) => 0.2 + 0.6 * v,
        (v) => 0.4 - 0.8 * v,
      ),
      normal: (u) => [0.8 * Math.sin(2 * Math.PI * u), 0.6, 0.8 * Math.cos(2 * Math.PI * u)],
    };
    const template = body(512, ['face'], [cone]);
    const { at } = await drawn(template, stripe(cut([0, 1, 0], 0), { width: 30 }));
    for (const x of [40, 200, 377]) {
      let texels = 0;
      for (let y = 32; y < 480; y++) texels += at(x, y);
      // A slope of length 1 lies on 0.875 of the sheet.
      expect(Math.abs(texels - 0.3 * 512 * 0.875)).toBeLessThan(0.5);
    }
  });

  test('a great circle of a sphere: as far from it as the arc says, round the whole ball', async () => {
    const normal = unit([0.3, 1, -0.2]);
    const { at } = await drawn(sphere, stripe(cut(normal, 0), { width: 40 }));
    const value = ([x, y, z]: Vec) =>
      -Math.asin(Math.max(-1, Math.min(1, x * normal[0] + y * normal[1] + z * normal[2]))) * PER;
    const off = against(sphere, at, value, -20, 20);
    expect(off.mean).toBeLessThan(1 / 255);
    expect(off.count).toBeGreaterThan(40_000);
  });

  test('on a fine mesh, told from corner to corner, as well', async () => {
    const fine = body(512, ['face'], [{ ...ball, columns: 400, rows: 200 }]);
    const normal = unit([0.3, 1, -0.2]);
    const { at } = await drawn(fine, stripe(cut(normal, 0.2, 0.4), { width: 40 }));
    const due = Math.asin(0.2);
    const value = ([x, y, z]: Vec) => (due - Math.asin(x * normal[0] + y * normal[1] + z * normal[2])) * PER;
    const { position, centred } = fieldsOf(fine);
    let [sum, count] = [0, 0];
    for (let i = 0; i < centred.length; i++) {
      if (!centred[i]) continue;
      const far = value([position[i * 3], position[i * 3 + 1], position[i * 3 + 2]].map((v) => v * 0.99999) as never);
      // A texel of the sheet is up to 1.4 units wide.
      if (Math.abs(Math.abs(far) - 20) < 1.5) continue;
      sum += Math.abs(at(i % 512, Math.floor(i / 512)) - (Math.abs(far) < 20 ? 1 : 0));
      count++;
    }
    expect(count).toBeGreaterThan(150_000);
    expect(sum / count).toBeLessThan(0.1 / 255);
  });

  test('over the edge of a cube it goes on by the surface, not by shadow', async () => {
    // A line 0.1 m above the edge between the front and the bottom: 0.15 m reach 0.05 m on under it.
    const template = cube(512);
    const { at } = await drawn(template, stripe(cut([0, 1, 0], -0.9), { width: 30 }));
    const { position, normal, centred } = fieldsOf(template);
    let [worst, beneath] = [0, 0];
    for (let i = 0; i < centred.length; i++) {
      if (!centred[i]) continue;
      const [x, y, z] = position.subarray(i * 3, i * 3 + 3);
      const down = normal[i * 3 + 1] < -0.5;
      if (down && Math.abs(x) > 0.9 && Math.abs(z) > 0.9) continue;
      if (normal[i * 3 + 1] > 0.5) continue;
      const far = down ? 0.1 + 1 - Math.max(Math.abs(x), Math.abs(z)) : y + 0.9;
      if (Math.abs(Math.abs(far) - 0.15) < 0.012) continue;
      const due = Math.abs(far) < 0.15 ? 1 : 0;
      if (down && due) beneath++;
      worst = Math.max(worst, Math.abs(at(i % 512, Math.floor(i / 512)) - due));
    }
    expect(beneath).toBeGreaterThan(200);
    expect(worst).toBeLessThan(0.02);
  });

  test('from place to place, ending square where it ends', async () => {
    const template = cube(512);
    const on = {
      kind: 'along',
      scale,
      line: {
        by: 'places',
        places: [
          [-0.5, 0.4, 1],
          [0.5, 0.4, 1],
        ],
        closed: false,
        facing: [0, 0, 1],
      },
      reach: 0.3,
    };
    const { at } = await drawn(template, stripe(on, { width: 20 }));
    let texels = 0;
    for (let y = 0; y < 512; y++) for (let x = 0; x < 512; x++) texels += at(x, y);
    // A metre by 0.2: a face is 2 m wide, 0.28 of the sheet.
    expect(Math.abs(texels - ((1 * 512 * 0.28) / 2) * ((0.2 * 512 * 0.28) / 2))).toBeLessThan(20);
  });

  // Pieces shorter than they are bent: their strips end where the two sides of the bend meet.
  test.each([
    ['rescue-launch', -0.0845],
    ['rescue-launch', 0.31],
    ['tern-tide', 0.42],
  ] as const)(
    'on the hull of %s, at %f m: nothing lies nearer to the line than through the air',
    async (key, offset) => {
      const { template } = await demoBundle(key);
      const on = Projector.parse(cut([0, 1, 0], offset, 0.9));
      const { own } = projectionsOf(on, template);
      const foot = new Footprint();
      let count = 0;
      for (const { key: sheet, width, height } of template.sheets) {
        const surface = new SheetSurface(template, sheet, { width: width / 4, height: height / 4 });
        const plane = new Plane(surface);
        for (let rank = 0; rank < surface.laid.triangle.length; rank++) {
          const t = surface.laid.triangle[rank];
          if (own.boxes[t * 4] > own.boxes[t * 4 + 2]) continue;
          plane.of(rank);
          own.onto(t, plane);
          const [ax, ay, bx, by, cx, cy] = surface.laid.corners.subarray(rank * 6, rank * 6 + 6);
          for (const [p, q, r] of [
            [1 / 3, 1 / 3, 1 / 3],
            [0.6, 0.2, 0.2],
            [0.2, 0.6, 0.2],
            [0.2, 0.2, 0.6],
          ]) {
            const [x, y] = [ax * p + bx * q + cx * r, ay * p + by * q + cy * r];
            if (own.at(x, y, foot) === 0) continue;
            const high = plane.origin[1] + plane.right[1] * x + plane.down[1] * y;
            expect(Math.abs(foot.v) * scale).toBeGreaterThan(Math.abs(high - offset) * 0.97 - 2e-3);
            count++;
          }
        }
      }
      expect(count).toBeGreaterThan(1000);
    },
  );

  test('a ring of bars closes without a break', async () => {
    // Bars half as wide as their pitch, twenty of them round the cylinder.
    const around = 64 * 2 * 0.5 * Math.sin(Math.PI / 64) * PER;
    const layer = layerOf('chequer', {
      paint: RED,
      other: null,
      x: around / 2,
      y: 0,
      angle: 0,
      cell: around / 40,
      columns: 40,
      rows: 1,
      on: cut([0, 1, 0], 0),
    });
    const { at } = await drawn(cylinder, layer);
    const row = Array.from({ length: 448 }, (_, x) => at(32 + x, 128));
    const begins = row.filter((a, x) => a > 0.5 && (row[x - 1] ?? row[row.length - 1]) <= 0.5).length;
    expect(begins).toBe(20);
  });
});

describe('folded', () => {
  test('up a side and across the top of a cube without a break', async () => {
    const template = cube(512);
    const on = { kind: 'folded', scale, at: [0, 0.6, 1], facing: [0, 0, 1], up: [0, 1, 0], reach: 2 };
    const { at } = await drawn(
      template,
      layerOf('stripe', { paint: RED, x: 0, y: 0, angle: 90, width: 40, softness: 0, on }),
    );
    const { position, normal, centred } = fieldsOf(template);
    let [worst, over] = [0, 0];
    for (let i = 0; i < centred.length; i++) {
      if (!centred[i]) continue;
      const [x, y, z] = position.subarray(i * 3, i * 3 + 3);
      const top = normal[i * 3 + 1] > 0.5;
      if (!top && normal[i * 3 + 2] < 0.5) continue;
      // How far the place is when the top is folded up into the front.
      const up = top ? 0.4 + (1 - z) : y - 0.6;
      if (Math.hypot(x, up) > 1.9 || Math.abs(Math.abs(x) - 0.2) < 0.012) continue;
      const due = Math.abs(x) < 0.2 ? 1 : 0;
      if (top && due) over++;
      worst = Math.max(worst, Math.abs(at(i % 512, Math.floor(i / 512)) - due));
    }
    expect(over).toBeGreaterThan(1000);
    expect(worst).toBeLessThan(0.02);
  });
});

describe('partner', () => {
  const partner = { normal: [1, 0, 0], offset: 0, readable: true };
  const box = { left: 10, right: 30, top: -40, bottom: -20 };
  const knots = [
    [0, 0],
    [20, 0],
    [20, 20],
    [0, 6],
  ].map(([x, y]) => ({ x, y, smooth: false }));
  const mark = (on: object) =>
    layerOf('shape', {
      paint: RED,
      x: box.left,
      y: box.top,
      paths: [{ knots, closed: true, how: 'add' }],
      line: null,
      on,
    });
  /** Islands that mirror one another across the middle of the sheet. */
  const halves = (): Patch[] => {
    const at = (u: number, v: number): Vec => [0.9 * u, 1 - 2 * v, 0.5 - 0.3 * u * u];
    return [
      { sheet: 'face', box: [0.5, 0.1, 0.4, 0.8], at, normal: (u) => [0.6 * u, 0, 0.9], columns: 6, rows: 6 },
      {
        sheet: 'face',
        box: [0.1, 0.1, 0.4, 0.8],
        at: (u, v) => {
          const [x, y, z] = at(1 - u, v);
          return [-x, y, z];
        },
        normal: (u) => [-0.6 * (1 - u), 0, 0.9],
        columns: 6,
        rows: 6,
      },
    ];
  };

  test('a true mirror image, to the bit, on a model that is its own', async () => {
    const template = body(512, ['face'], halves());
    const livery = smallLivery([mark(flat({ at: [0, 0, 0.5], partner: { ...partner, readable: false } }))], template);
    const whole = { x: 0, y: 0, width: 512, height: 512, step: 1 };
    const data = renderRegion(livery, 'face', 'colour', whole, await sourcesFor(livery, template));
    let painted = 0;
    for (let y = 0; y < 512; y++)
      for (let x = 0; x < 256; x++) {
        const [here, there] = [(y * 512 + x) * 4 + 3, (y * 512 + 511 - x) * 4 + 3];
        if (data[here] > 0) painted++;
        if (data[here] !== data[there]) throw new Error(`${x}, ${y}: ${data[here]} and ${data[there]}`);
      }
    expect(painted).toBeGreaterThan(200);
  });

  test('what can be read is there as if it had been put on the other side by hand', async () => {
    const template = cube(512);
    const number = layerOf('lettering', {
      ...{ text: '27', font: 'russo-one', size: 60, x: 20, y: 10, turn: 12, paint: RED, outline: null },
      ...{ spacing: 0, slant: 0, mirrored: false },
      on: flat({ at: [0, 0, 1], partner: { normal: [0, 0, 1], offset: 0, readable: true } }),
    });
    const byHand = partnerOf({ ...number, on: undefined }, { across: 'x', at: 0 }, true)!;
    const other = { ...byHand, on: flat({ at: [0, 0, -1], facing: [0, 0, -1] }) } as Layer;
    const alone = { ...number, on: { ...number.on!, partner: undefined } };
    const [both, one, two] = await Promise.all([number, alone, other].map((layer) => drawn(template, layer)));
    let painted = 0;
    for (let i = 3; i < both.data.length; i += 4) {
      expect(both.data[i]).toBe(Math.max(one.data[i], two.data[i]));
      if (two.data[i] > 0) painted++;
    }
    expect(painted).toBeGreaterThan(1000);
  });
});

test('both sides of every seam, between sheets as well, and in smaller levels, are alike', async () => {
  const part =
    (from: number, to: number, turn: boolean) =>
    (u: number, v: number): Vec => {
      const [a, h] = turn ? [from + (to - from) * v, 1 - u] : [from + (to - from) * u, v];
      return [0.5 * Math.sin(2 * Math.PI * a), 0.5 - h, 0.5 * Math.cos(2 * Math.PI * a)];
    };
  const out = (at: Patch['at']): Pick<Patch, 'at' | 'normal'> => ({
    at,
    normal: (u, v) => {
      const [x, , z] = at(u, v);
      return [x, 0, z];
    },
  });
  const patches: Patch[] = [
    { sheet: 'one', box: [0.1, 0.1, 0.8, 0.35], columns: 24, rows: 3, ...out(part(0, 0.4, false)) },
    { sheet: 'one', box: [0.1, 0.55, 0.3, 0.35], columns: 3, rows: 18, ...out(part(0.4, 0.7, true)) },
    { sheet: 'two', box: [0.2, 0.2, 0.5, 0.6], columns: 18, rows: 3, ...out(part(0.7, 1, false)) },
  ];
  const template = body(1024, ['one', 'two'], patches);
  // Smooth over some texels: what differs across a seam is then not where texels happen to lie.
  const fade = layerOf('fade', {
    ...{ shape: 'linear', x: -40, y: 0, angle: 10, length: 110 },
    stops: [
      { at: 0, paint: RED, opacity: 0 },
      { at: 1, paint: RED, opacity: 100 },
    ],
    on: { kind: 'folded', scale, at: [0, 0, 0.5], facing: [0, 0, 1], up: [0, 1, 0], reach: 3 },
  });
  for (const step of [1, 2, 4, 8, 16]) {
    const sheets = { one: await drawn(template, fade, 'one', step), two: await drawn(template, fade, 'two', step) };
    const read = ({ sheet, box }: Patch, u: number, v: number) => {
      const { at } = sheets[sheet as 'one' | 'two'];
      const [x, y] = [((box[0] + box[2] * u) * 1024) / step - 0.5, ((box[1] + box[3] * v) * 1024) / step - 0.5];
      const [left, top] = [Math.floor(x), Math.floor(y)];
      const [s, t] = [x - left, y - top];
      return (
        (at(left, top) * (1 - s) + at(left + 1, top) * s) * (1 - t) +
        (at(left, top + 1) * (1 - s) + at(left + 1, top + 1) * s) * t
      );
    };
    let worst = 0;
    for (let k = 1; k < 400; k++) {
      const h = 0.1 + (0.8 * k) / 400;
      // The first strip's end and the turned one's beginning; at the back the unfolded halves end.
      worst = Math.max(worst, Math.abs(read(patches[0], 0, h) - read(patches[2], 1, h)));
      if (step < 16) worst = Math.max(worst, Math.abs(read(patches[0], 1, h) - read(patches[1], 1 - h, 0)));
    }
    expect(worst).toBeLessThan((2 * step) / 255 + 1 / 255);
  }
});

test('triangles without area, and places that are on none, break nothing', async () => {
  // A ball to its very poles, where a row of triangles is points and lines.
  const poles = body(
    256,
    ['face'],
    [
      {
        ...ball,
        ...turnedBody(
          (v) => Math.sin(Math.PI * v),
          (v) => Math.cos(Math.PI * v),
        ),
      },
    ],
  );
  const triangles = Array.from({ length: poles.mesh.indices.length / 3 }, (_, t) => t);
  for (const at of [
    [0, 1, 0],
    [0, 2, 0],
    [1, 0, 0],
    [0, -1, 0],
  ] as const) {
    const found = nearestOn(poles, triangles, at)!;
    expect(found.place.every(Number.isFinite)).toBe(true);
    expect(found.far).toBeLessThan(1.01);
  }
  for (const on of [
    flat({ at: [0, 1, 0], facing: [0, 1, 0] }),
    { kind: 'round', scale, at: [0, 0, 0], axis: [0, 1, 0], facing: [0, 0, 1] },
    { kind: 'along', scale, line: { by: 'cut', normal: [1, 0, 0], offset: 0 }, reach: 0.3 },
    { kind: 'folded', scale, at: [0, 1, 0], facing: [0, 1, 0], up: [1, 0, 0], reach: 0.8 },
  ]) {
    const { at } = await drawn(poles, stripe(on));
    let painted = 0;
    for (let y = 0; y < 256; y++) for (let x = 0; x < 256; x++) painted += at(x, y);
    expect(painted).toBeGreaterThan(100);
  }
});

test('wherever a region begins: pieces of what texels see more and less of are the whole, to the bit', async () => {
  // A wall that passes close by the axis: there a texel sees four hundred times as much as at its ends.
  const wall = body(
    256,
    ['face'],
    [
      {
        ...{ sheet: 'face', box: [0, 0, 1, 1], columns: 1, rows: 1 },
        ...{ at: (u, v) => [2 * u - 1, 1 - v, 0.05], normal: () => [0, 0, 1] },
      },
    ],
  );
  const on = Projector.parse({ kind: 'round', scale: 0.003, at: [0, 0, 0], axis: [0, 1, 0], facing: [0, 0, 1] });
  const livery = smallLivery([stripe(on, { angle: 35, width: 9 })], wall);
  const sources = await sourcesFor(livery, wall);
  const draw = (x: number, y: number, width: number, height: number) =>
    renderRegion(livery, 'face', 'colour', { x, y, width, height, step: 1 }, sources).slice();
  const whole = draw(0, 0, 256, 256);
  for (const [x, y] of [
    [0, 130],
    [37, 11],
    [128, 200],
    [190, 64],
  ]) {
    const piece = draw(x, y, 48, 48);
    for (let j = 0; j < 48; j++)
      expect(piece.subarray(j * 192, j * 192 + 192)).toEqual(
        whole.subarray(((y + j) * 256 + x) * 4, ((y + j) * 256 + x + 48) * 4),
      );
  }
});
