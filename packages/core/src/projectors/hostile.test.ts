/** Any projector that the schema takes, on any mesh: an answer before the test's own end, numbers that are numbers, nothing thrown. */
import { expect, test } from 'vitest';
import { renderRegion } from '../compose/renderTile.ts';
import { Projector } from '../livery/projector.ts';
import fc from '../testing/property.ts';
import { layerOf, smallLivery, smallTemplate, sourcesFor } from '../testing/scenes.ts';

const edge = fc.constantFrom(-10_000, -1, -1e-6, 0, 1e-6, 0.5, 1, 10_000);
const three = fc.tuple(edge, edge, edge);
const direction = three.filter((d) => Math.hypot(...d) > 1e-9);
const scale = fc.constantFrom(1e-7, 1e-4, 0.01, 1, 1000);
const partner = fc.option(fc.record({ normal: direction, offset: edge, readable: fc.boolean() }), { nil: undefined });
const reach = fc.constantFrom(1e-6, 0.1, 2, 10_000);
const projector = fc.oneof(
  fc.record({
    ...{ kind: fc.constant('flat'), scale, at: three, facing: direction, up: direction, partner },
    ...{ limit: fc.constantFrom(1, 45, 90), soft: fc.constantFrom(0, 10, 90) },
  }),
  fc.record({ kind: fc.constant('round'), scale, at: three, axis: direction, facing: direction, partner }),
  fc.record({ kind: fc.constant('folded'), scale, at: three, facing: direction, up: direction, reach, partner }),
  fc.record({
    ...{ kind: fc.constant('along'), scale, reach, partner },
    line: fc.oneof(
      fc.record({ by: fc.constant('cut'), normal: direction, offset: edge }),
      fc.record({
        by: fc.constant('places'),
        places: fc.array(three, { minLength: 2, maxLength: 5 }),
        closed: fc.boolean(),
        facing: direction,
      }),
    ),
  }),
);
/** Corners where they like, many of them in one place; triangles that share, fold over and touch nothing. */
const mesh = fc
  .record({
    corners: fc.array(three, { minLength: 3, maxLength: 12 }),
    picks: fc.array(fc.nat(), { minLength: 3, maxLength: 36 }),
  })
  .map(({ corners, picks }) => ({
    positions: corners.flat(),
    normals: corners.flatMap(([x, y, z], i) => (i % 5 === 4 ? [0, 0, 0] : [x || 1, y, z])),
    uvs: corners.flatMap((_, i) => [(i * 0.37) % 1, (i * 0.61) % 1]),
    indices: picks.slice(0, picks.length - (picks.length % 3)).map((n) => n % corners.length),
  }));

/** Took minutes each: texels that see very much of a plane, one much more than the next. */
const SLOW = [
  [
    {
      kind: 'flat',
      scale: 0.0001,
      partner: { normal: [-10000, -10000, 1e-6], offset: -1e-6, readable: true },
      at: [0.5, -1e-6, 1e-6],
      facing: [-1e-6, -10000, 0],
      up: [0.5, 10000, 1],
      limit: 90,
      soft: 90,
    },
    {
      positions: [
        1, 1, -1e-6, -1, 1, 1, 1, 0.5, 10000, 10000, -1e-6, 1e-6, 10000, 1, -1, 1, -10000, 1, -1e-6, 0.5, 1e-6, 10000,
        1e-6, -10000, 1, -1, 1, 10000, 1e-6, -1e-6,
      ],
      normals: [
        1, 1, -1e-6, -1, 1, 1, 1, 0.5, 10000, 10000, -1e-6, 1e-6, 0, 0, 0, 1, -10000, 1, -1e-6, 0.5, 1e-6, 10000, 1e-6,
        -10000, 1, -1, 1, 0, 0, 0,
      ],
      uvs: [
        0, 0, 0.37, 0.61, 0.74, 0.21999999999999997, 0.10999999999999988, 0.8300000000000001, 0.48, 0.43999999999999995,
        0.8500000000000001, 0.04999999999999982, 0.21999999999999975, 0.6600000000000001, 0.5899999999999999,
        0.2699999999999996, 0.96, 0.8799999999999999, 0.33000000000000007, 0.4900000000000002,
      ],
      indices: [6, 3, 9],
    },
    'stripe',
  ],
  [
    {
      kind: 'round',
      scale: 1000,
      partner: { normal: [10000, -10000, 0], offset: -1e-6, readable: true },
      at: [1, 0.5, 0],
      axis: [1, 1e-6, 1],
      facing: [-1e-6, 0.5, 0],
    },
    {
      positions: [
        0.5, 10000, 0, 1, -1e-6, -1e-6, -1, -1, 0.5, 1, -10000, 0, -1e-6, 10000, 1, -10000, -1, 1, 0.5, 0.5, -1,
      ],
      normals: [0.5, 10000, 0, 1, -1e-6, -1e-6, -1, -1, 0.5, 1, -10000, 0, 0, 0, 0, -10000, -1, 1, 0.5, 0.5, -1],
      uvs: [
        0, 0, 0.37, 0.61, 0.74, 0.21999999999999997, 0.10999999999999988, 0.8300000000000001, 0.48, 0.43999999999999995,
        0.8500000000000001, 0.04999999999999982, 0.21999999999999975, 0.6600000000000001,
      ],
      indices: [4, 2, 6],
    },
    'stripe',
  ],
  [
    {
      kind: 'round',
      scale: 0.01,
      partner: { normal: [-1, -1, 1e-6], offset: -10000, readable: true },
      at: [10000, 1, 0],
      axis: [1e-6, -10000, -10000],
      facing: [10000, 1, 0],
    },
    {
      positions: [
        -1e-6, -1, 1e-6, -1e-6, 10000, -1e-6, -1e-6, -10000, 0, 1, 0, 0, 0.5, 0, -1, -1, 10000, 1, -10000, 1e-6, -1e-6,
        -1, 0, 1, -1, 10000, 0,
      ],
      normals: [
        -1e-6, -1, 1e-6, -1e-6, 10000, -1e-6, -1e-6, -10000, 0, 1, 0, 0, 0, 0, 0, -1, 10000, 1, -10000, 1e-6, -1e-6, -1,
        0, 1, -1, 10000, 0,
      ],
      uvs: [
        0, 0, 0.37, 0.61, 0.74, 0.21999999999999997, 0.10999999999999988, 0.8300000000000001, 0.48, 0.43999999999999995,
        0.8500000000000001, 0.04999999999999982, 0.21999999999999975, 0.6600000000000001, 0.5899999999999999,
        0.2699999999999996, 0.96, 0.8799999999999999,
      ],
      indices: [4, 8, 3, 6, 2, 4, 6, 6, 1],
    },
    'solid',
  ],
];

test('random projectors on random meshes', async () => {
  await fc.assert(
    fc.asyncProperty(projector, mesh, fc.constantFrom('stripe', 'chequer', 'solid'), async (given, shape, kind) => {
      const on = Projector.parse(JSON.parse(JSON.stringify(given)));
      const small = smallTemplate(64);
      const whole = { key: 'all', name: 'all', sheet: 'face', first: 0, count: shape.indices.length / 3, hex: null };
      const template = { ...small, mesh: shape, parts: [whole] };
      const paint = { hex: '#ff0000' };
      const settings = {
        stripe: { paint, x: 0, y: 0, angle: 30, width: 20, softness: 0 },
        chequer: { paint, other: null, x: 0, y: 0, angle: 0, cell: 8, columns: 6, rows: 6 },
        solid: { paint },
      }[kind];
      const livery = smallLivery([layerOf(kind, { ...settings, on })], template);
      const out = renderRegion(
        livery,
        'face',
        'colour',
        { x: 0, y: 0, width: 64, height: 64, step: 1 },
        await sourcesFor(livery, template),
      );
      // Premultiplied: no colour is more than its alpha.
      let over = 0;
      for (let i = 0; i < out.length; i += 4) over = Math.max(over, out[i] - out[i + 3]);
      expect(over).toBe(0);
    }),
    { numRuns: 150, examples: SLOW as never },
  );
});
