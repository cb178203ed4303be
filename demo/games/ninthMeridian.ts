/** Ninth Meridian: the hull is one unrolled skin, cut amidships into two sheets; every sheet has a lamp-lit night map. */
import { spec } from '../../packages/core/src/games/ninthMeridian/spec.ts';
import { proposeRun } from '../../packages/core/src/surface/runs.ts';
import type { Patch, Vec } from '../patches.ts';
import { ball, between, block, onBody, otherSide, plate, sweep, through, type Body } from '../shapes.ts';
import { text } from './files.ts';
import { fitting, makeSubject, panel, sheet, type Subject } from './subject.ts';

/** A round nose, a cabin, and a boom that rises to the tail. */
const HULL: Body = {
  wide: through([-4.2, 0.07], [-3, 0.24], [-1.2, 0.52], [0.4, 0.66], [2, 0.62], [2.9, 0.5], [3.25, 0.36], [3.4, 0.2]),
  high: through(
    [-4.2, 0.12],
    [-3, 0.3],
    [-1.2, 0.62],
    [0.4, 0.84],
    [1.5, 0.82],
    [2.2, 0.62],
    [2.9, 0.5],
    [3.25, 0.36],
    [3.4, 0.2],
  ),
  middle: through([-4.2, 1.98], [-3, 1.8], [-1.2, 1.6], [0.4, 1.56], [1.5, 1.54], [2.2, 1.42], [3.4, 1.36]),
  power: through([-4.2, 2], [0, 2.5], [2, 2.5], [3.4, 2]),
};
const DARK = '#2c3a42';
const METAL = '#5a6268';

export function subject(): Subject {
  const night = { maps: [{ key: 'night', name: 'Night', alpha: 'none' as const }] };
  /** From starboard keel over the spine to port keel, so that the port side reads the right way up with the bow left; the seam is at the keel. */
  const skin = (x: number, around: number, out = 0): Vec => onBody(HULL, x, 0.485 - 0.97 * around, out);
  const density = 490;
  const hull = (name: string, on: string, from: number, to: number, left: number): Patch => ({
    ...panel(name, on, [0, 0, 1, 1], (u, v) => skin(from + (to - from) * u, v), { columns: 24, rows: 36 }),
    uv: (u, v) => [left + u * Math.abs(to - from) * density, 74 + v * 1900],
  });
  /** A window over the skin, between two stations and two places around. */
  const pane = (from: number, to: number, low: number, high: number): Patch =>
    fitting('glass', DARK, (u, v) => skin(from + (to - from) * u, low + (high - low) * v, 0.012), 8, 6);
  const thick = (t: number) => 0.05 * Math.sin(Math.PI * Math.min(1, t) ** 0.6);
  const finEdge =
    (front: boolean) =>
    (v: number): Vec => {
      const round = Math.sqrt(Math.max(0, 1 - ((1 - v) / 0.999) ** 4));
      return front
        ? [-2.75 - 0.75 * (1 - v) - 0.32 * (1 - round), 1.78 + 1.5 * (1 - v), 0]
        : [-4.25 + 0.28 * (1 - round), 1.78 + 1.5 * (1 - v), 0];
    };
  const fin =
    (side: 1 | -1): Patch['at'] =>
    (u, v) => {
      const along = side === 1 ? 1 - u : u;
      const [a, b] = [finEdge(true)(v), finEdge(false)(v)];
      return [a[0] + (b[0] - a[0]) * along, a[1], side * thick(along) * (0.4 + 0.6 * v)];
    };
  /** A wing in two skins, narrower and rounded at its tips. @param span half of it */
  const wing = (middle: Vec, span: number, chord: number, rise: number, top: boolean): Patch['at'] => {
    const edge =
      (front: boolean) =>
      (u: number): Vec => {
        const z = (2 * u - 1) * span;
        const tip = Math.max(0, (Math.abs(2 * u - 1) - 0.86) / 0.14);
        const half = (chord / 2) * Math.sqrt(Math.max(0.02, 1 - tip * tip));
        return [middle[0] + (front ? half : -half), middle[1] + rise * Math.abs(2 * u - 1), z];
      };
    const camber = (u: number, v: number): Vec => {
      const tip = Math.max(0, (Math.abs(2 * u - 1) - 0.86) / 0.14);
      return [0, (top ? 0.1 : -0.04) * Math.sin(Math.PI * v ** 0.7) * (1 - 0.8 * tip), 0];
    };
    return top
      ? between(edge(true), edge(false), camber)
      : between(edge(false), edge(true), (u, v) => camber(u, 1 - v));
  };
  /** A float: deck flat, bottom in a V, with a step. Around from its keel; the port one is the starboard one's mirror. */
  const float = (u: number, v: number): Vec => {
    const x = 2.9 - 5.6 * v;
    const wide = through([-2.7, 0.04], [-1.6, 0.24], [0.2, 0.36], [2, 0.32], [2.7, 0.16], [2.9, 0.03])(x);
    const deep = through([-2.7, 0.1], [-0.4, 0.24], [-0.2, 0.4], [1.6, 0.4], [2.6, 0.2], [2.9, 0.03])(x);
    const turn = 2 * Math.PI * (u - 0.5);
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    const up = c > 0 ? 0.2 * Math.sign(c) * Math.abs(c) ** 0.6 * Math.min(1, wide / 0.2) : c * deep;
    const aside = Math.sign(s) * Math.abs(s) ** (c > 0 ? 0.5 : 0.9) * wide;
    return [x, 0.12 + 0.18 * Math.max(0, (x - 1.2) / 1.7) ** 2 + up, 1.5 + aside];
  };
  const strut = (from: Vec, to: Vec, radius = 0.045) =>
    [sweep([from, to], radius, { flat: 0.5 }), otherSide(sweep([from, to], radius, { flat: 0.5 }))].map((at) =>
      fitting('struts', METAL, at, 8, 1),
    );
  const blade = (k: number): Patch => {
    const angle = (k * 2 * Math.PI) / 3;
    return fitting(
      'propeller',
      '#30363a',
      (u, v) => {
        const r = 0.08 + 0.92 * v;
        const across = (u - 0.5) * 0.17 * Math.sin(Math.PI * (0.12 + 0.86 * v)) ** 0.6;
        const twist = 1.1 - 0.8 * v;
        const [c, s] = [Math.cos(angle), Math.sin(angle)];
        return [
          3.52 + across * Math.sin(twist),
          1.36 + s * r + c * across * Math.cos(twist),
          c * r - s * across * Math.cos(twist),
        ];
      },
      4,
      8,
    );
  };
  const patches = [
    hull('bow skin', 'bow', 3.4, -0.3, 40),
    hull('stern skin', 'stern', -0.3, -4.2, 40),
    panel('fin, port', 'tail', [60, 60, 900, 800], fin(-1), { columns: 14, rows: 14 }),
    panel('fin, starboard', 'tail', [1020, 60, 900, 800], fin(1), { columns: 14, rows: 14 }),
    panel('tailplane, top', 'tail', [60, 930, 1900, 480], wing([-3.75, 2.02, 0], 1.75, 0.95, 0.04, true), {
      columns: 20,
      rows: 8,
    }),
    panel('tailplane, under', 'tail', [60, 1490, 1900, 480], wing([-3.75, 2.01, 0], 1.75, 0.95, 0.04, false), {
      columns: 20,
      rows: 8,
    }),
    // Each half from its tip to the middle, so that it keeps its shape.
    ...[true, false].flatMap((top, row) => {
      const skinOf = wing([0.5, top ? 2.5 : 2.46, 0], 5.4, 1.75, 0.22, top);
      return [0, 0.5].map((from, half) =>
        panel(
          `wing, ${half === 0 ? 'port' : 'starboard'} ${top ? 'top' : 'under'}`,
          'wings',
          [24, 24 + (row * 2 + half) * 506, 2000, 482],
          (u, v) => skinOf(from + u / 2, v),
          { columns: 18, rows: 12 },
        ),
      );
    }),
    // On purpose: both floats wear one island, the port one mirrored.
    panel('float, starboard', 'floats', [60, 60, 1928, 1928], float, { columns: 24, rows: 24 }),
    panel('float, port (mirrored)', 'floats', [60, 60, 1928, 1928], (u, v) => otherSide(float)(1 - u, v), {
      columns: 24,
      rows: 24,
      inside: true,
    }),
    pane(2.32, 1.55, 0.4, 0.6),
    pane(2.2, 1.6, 0.285, 0.385),
    pane(1.6, 2.2, 0.715, 0.615),
    ...[0.95, 0.15, -0.65].flatMap((x) => [pane(x + 0.55, x, 0.29, 0.38), pane(x, x + 0.55, 0.71, 0.62)]),
    ...strut([1, 0.3, 1.5], [1.1, 1.15, 0.5]),
    ...strut([-0.6, 0.25, 1.5], [-0.5, 1.2, 0.42]),
    ...strut([1, 0.3, 1.5], [0.2, 1.25, 0.5], 0.03),
    ...strut([0.95, 1.2, 0.55], [0.8, 2.52, 2.9]),
    ...strut([-0.2, 1.3, 0.55], [0.1, 2.52, 2.9], 0.035),
    ...[0.9, -0.5].map((x) =>
      fitting(
        'struts',
        METAL,
        sweep(
          [
            [x, 0.26, -1.5],
            [x, 0.26, 1.5],
          ],
          0.035,
        ),
        8,
        1,
      ),
    ),
    fitting(
      'engine ring',
      '#3a4146',
      sweep(
        [
          [3.42, 1.36, 0],
          [3.3, 1.36, 0],
          [3.12, 1.36, 0],
        ],
        through([0, 0.28], [0.3, 0.41], [1, 0.47]),
      ),
      24,
      6,
    ),
    fitting('spinner', '#c9cdd0', ball([3.5, 1.36, 0], [0.17, 0.13, 0.13]), 16, 8),
    ...[0, 1, 2].map(blade),
    ...[0.1, -0.1].map((z) =>
      fitting(
        'exhausts',
        '#4a3b33',
        sweep(
          [
            [2.9, 1.02, z * 3],
            [2.6, 0.86, z * 3],
            [2.3, 0.84, z * 3],
          ],
          0.05,
        ),
        8,
        4,
      ),
    ),
    fitting('lamps', '#c8362f', ball([0.5, 2.76, -5.38], 0.06), 8, 5),
    fitting('lamp, starboard', '#2f9b5a', ball([0.5, 2.76, 5.38], 0.06), 8, 5),
    fitting('lamp, tail', '#f2efe2', ball([-4.24, 3.1, 0], 0.05), 8, 5),
    fitting(
      'aerial',
      '#3a4146',
      sweep(
        [
          [0.4, 2.6, 0],
          [0.25, 3.05, 0],
        ],
        0.014,
      ),
      6,
      1,
    ),
    fitting(
      'aerial',
      '#3a4146',
      sweep(
        [
          [0.3, 2.95, 0],
          [-3.9, 3.2, 0],
        ],
        0.006,
      ),
      4,
      1,
    ),
    ...[1, -1].flatMap((side) => [
      fitting('water rudders', METAL, block([-2.82, 0.1, 1.5 * side], [0.14, 0.2, 0.02]), 10, 6),
      fitting('cleats', '#8a8f92', block([2.1, 0.37, 1.5 * side], [0.1, 0.03, 0.03]), 8, 4),
      fitting(
        'ladder',
        '#8a8f92',
        sweep(
          [
            [0.75, 0.36, 1.3 * side],
            [0.75, 1.15, 0.72 * side],
          ],
          0.018,
        ),
        6,
        1,
      ),
      fitting(
        'ladder',
        '#8a8f92',
        sweep(
          [
            [0.45, 0.36, 1.3 * side],
            [0.45, 1.15, 0.72 * side],
          ],
          0.018,
        ),
        6,
        1,
      ),
    ]),
    fitting('air intake', '#23292d', plate([3.3, 1.02, 0], [1, -0.25, 0], 0.12), 12, 2),
  ];
  const sheets = [
    sheet('bow', 2048, { ...night, axis: { kind: 'horizontal', at: 1024 } }),
    sheet('stern', 2048, { ...night, axis: { kind: 'horizontal', at: 1024 } }),
    sheet('tail', 2048, { ...night, alpha: 'cutout' }),
    sheet('wings', 2048, night),
    sheet('floats', 2048, night),
  ];
  const made = makeSubject(
    'whimbrel',
    'Whimbrel floatplane',
    spec,
    sheets,
    patches,
    {},
    {
      primer: { bow: '#c4c8c6', stern: '#c4c8c6', tail: '#c4c8c6', wings: '#c4c8c6', floats: '#9ba3a5' },
    },
  );
  const pieces = proposeRun(made.template, ['bow', 'stern']);
  if (!pieces) throw new Error('The hull of the Whimbrel does not meet.');
  return { ...made, template: { ...made.template, runs: [{ key: 'hull', name: 'Hull', pieces }] } };
}

/** The list that deliveries go into, with two entries of the game's own. */
export const brings = () => ({
  'hangar.list': text(
    [
      'entry 0 {',
      '  title "Works white"',
      '  code "works"',
      '  wrap ""',
      '  registration "NM-000"',
      '  thumbnail ""',
      '}',
      'entry 1 {',
      '  title "Primer"',
      '  code "primer"',
      '  wrap ""',
      '  registration "NM-001"',
      '  thumbnail ""',
      '}',
    ],
    '\r\n',
  ),
});
