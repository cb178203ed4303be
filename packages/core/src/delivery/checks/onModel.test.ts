/** What preflight says of art as it lies on the model: steps at seams, stretched marks, letters too small, marks on nothing. */
import { describe, expect, test } from 'vitest';
import type { Layer } from '../../livery/layer.ts';
import type { Livery } from '../../livery/livery.ts';
import type { Template } from '../../livery/template.ts';
import { SHIPPED_SPECS } from '../../games/index.ts';
import { seamSamples } from '../../surface/seams.ts';
import { long, minus } from '../../surface/vectors.ts';
import { body, cube, turnedBody } from '../../testing/bodies.ts';
import { layerOf, smallLivery, sourcesFor } from '../../testing/scenes.ts';
import type { Check } from '../finding.ts';
import { planDelivery } from '../plan.ts';
import { NO_TARGET } from '../target.ts';
import { decalOutside } from './decalOutside.ts';
import { islandEdges } from './islandEdges.ts';
import { marksStretched } from './marksStretched.ts';
import { seamSteps } from './seamSteps.ts';
import { tooThin } from './tooThin.ts';

const spec = SHIPPED_SPECS['brackwater-run'];

async function run(check: Check, layers: Layer[], template: Template) {
  const livery: Livery = smallLivery(layers, template);
  const sources = await sourcesFor(livery, template);
  const plan = planDelivery(livery, template, spec);
  return check.run({ livery, template, spec, plan, target: NO_TARGET, sources });
}

const solid = (hex: string, parts: string[] = []) => layerOf('solid', { paint: { hex }, parts });
const stripe = (y: number, more: object) =>
  layerOf('stripe', { x: 0, y, angle: 0, width: 40, softness: 0, paint: { hex: '#d02020' }, ...more });

describe('seams', () => {
  const box = cube(512);

  test('of a cube are its twelve edges, each side of a place on its own island', () => {
    const samples = seamSamples(box, 600, 1);
    expect(samples.reduce((sum, { length }) => sum + length, 0)).toBeCloseTo(24, 6);
    for (const { place, sides } of samples) {
      expect(sides[0].part).not.toBe(sides[1].part);
      // On an edge of a cube of side 2 two of three numbers are 1 or -1.
      expect(place.filter((v) => Math.abs(Math.abs(v) - 1) < 1e-9).length).toBeGreaterThanOrEqual(2);
      for (const { sheet, x, y } of sides) {
        const spot = sourcesSpot(box, sheet, x, y);
        expect(long(minus(spot, place))).toBeLessThan(0.03);
      }
    }
  });

  test('a stripe that lies on the model makes no step, nor do parts in colours of their own', async () => {
    const on = { kind: 'along', scale: 0.01, line: { by: 'cut', normal: [0, 1, 0], offset: 0.2 }, reach: 0.4 };
    expect(await run(seamSteps, [solid('#f0f0f0'), stripe(0, { on })], box)).toEqual([]);
    const colours = ['#f0f0f0', '#203040', '#c0a020', '#30a050', '#a03080', '#804020'];
    expect(
      await run(
        seamSteps,
        colours.map((hex, k) => solid(hex, [`p${k}`])),
        box,
      ),
    ).toEqual([]);
  });

  test('stripes of the sheet that do not meet do, and it is said where', async () => {
    // The sides of the first row of islands at one height, those of the second at another.
    const found = await run(
      seamSteps,
      [solid('#f0f0f0'), stripe(70, { parts: ['p0'] }), stripe(120, { parts: ['p2'] }), stripe(295, { parts: ['p3'] })],
      box,
    );
    expect(found.map(({ title }) => title)).toContain('Art does not meet at the seam between p0 and p2');
    for (const { detail } of found) expect(detail).toMatch(/^Over \d\.\d\d m of 2\.00 m it makes a step/);
  });
});

/** Where a texel lies on a cube whose faces are evenly laid. */
function sourcesSpot(template: Template, sheet: string, x: number, y: number): [number, number, number] {
  const { mesh } = template;
  const { width, height } = template.sheets.find(({ key }) => key === sheet)!;
  for (let t = 0; t < mesh.indices.length / 3; t++) {
    const [a, b, c] = [0, 1, 2].map((k) => mesh.indices[t * 3 + k]);
    const uv = (i: number) => [mesh.uvs[i * 2] * width, mesh.uvs[i * 2 + 1] * height];
    const [[ax, ay], [bx, by], [cx, cy]] = [uv(a), uv(b), uv(c)];
    const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
    const p = ((x - ax) * (cy - ay) - (y - ay) * (cx - ax)) / area;
    const q = ((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / area;
    if (p < -1e-6 || q < -1e-6 || p + q > 1 + 1e-6) continue;
    const at = (i: number, k: number) => mesh.positions[i * 3 + k];
    return [0, 1, 2].map((k) => at(a, k) + p * (at(b, k) - at(a, k)) + q * (at(c, k) - at(a, k))) as [
      number,
      number,
      number,
    ];
  }
  throw new Error(`No triangle has ${x}, ${y}.`);
}

describe('marks', () => {
  const barrel = (high: number) =>
    body(
      512,
      ['face'],
      [
        {
          ...{ sheet: 'face', box: [0, 0, 1, 0.5], columns: 96, rows: 8 },
          ...turnedBody(
            () => 1 / (2 * Math.PI),
            (v) => high * (1 - v),
          ),
        },
      ],
    );
  const lettering = (more: object) =>
    layerOf('lettering', {
      ...{ x: 256, y: 128, turn: 0, mirrored: false, text: '7', font: 'barlow', size: 80 },
      ...{ outline: null, spacing: 0, slant: 0, paint: { hex: '#101010' } },
      ...more,
    });
  const on = (more: object) => ({
    on: {
      ...{ kind: 'flat', scale: 0.01, at: [0, 0.25, 1 / (2 * Math.PI)], facing: [0, 0, 1], up: [0, 1, 0] },
      ...{ limit: 89, soft: 0, ...more },
    },
    ...{ x: 0, y: 0 },
  });

  test('are as wide as they are high where texels are square, and stretched where they are not', async () => {
    expect(await run(marksStretched, [lettering({})], barrel(0.5))).toEqual([]);
    const [found] = await run(marksStretched, [lettering({ name: 'Seven' })], barrel(1));
    expect(found.title).toBe('“Seven” is stretched 2.0 times');
  });

  test('on the model keep their shape, whatever the sheet does, but not aslant to the surface', async () => {
    expect(await run(marksStretched, [lettering({ ...on({}), size: 4 })], barrel(1))).toEqual([]);
    const aslant = on({ facing: [Math.sin(1.1), 0, Math.cos(1.1)] });
    const [found] = await run(marksStretched, [lettering({ ...aslant, size: 3, name: 'Seven' })], barrel(1));
    expect(found.title).toMatch(/^“Seven” is stretched (1\.[5-9]|2\.\d) times$/);
    expect(found.detail).toMatch(/aslant/);
  });

  test('on the model are counted in the texels that they get there', async () => {
    // A texel is 1/512 m here: 1 cm are 5.1 of them.
    const [found] = await run(tooThin, [lettering({ ...on({}), size: 1 })], barrel(0.5));
    expect(found.detail).toMatch(/^Its capitals are 5\.1 texels high, and 2\.6 .* A sheet of 1024 texels would do/);
    expect(await run(tooThin, [lettering({ ...on({}), size: 3 })], barrel(0.5))).toEqual([]);
  });

  test('on the model are torn by no edge, and are named when they lie on nothing', async () => {
    const box = cube(512);
    const over = lettering({ ...on({ at: [0, 0.9, 1] }), size: 60 });
    expect(await run(islandEdges, [over], box)).toEqual([]);
    expect(await run(decalOutside, [over], box)).toEqual([]);
    const away = lettering({ ...on({ at: [0, 9, 1] }), size: 10, name: 'Lost' });
    const [found] = await run(decalOutside, [away], box);
    expect(found.title).toBe('“Lost” lies on nothing that is painted');
  });
});
