/** Longhaul: both tracks wear one island; what is painted on the sheet of plates stands on the body. */
import { spec } from '../../packages/core/src/games/longhaul/spec.ts';
import type { Patch, Vec } from '../patches.ts';
import { ball, between, block, plate, sweep } from '../shapes.ts';
import { fitting, makeSubject, panel, sheet, type Subject } from './subject.ts';

const DARK = '#26303a';
const METAL = '#5a6064';
const TRIM = '#33393c';

export function subject(): Subject {
  const [roof, foot, half] = [2.1, 0.8, 0.9];
  /** Where the body ends fore and aft, by height. */
  const nose = (y: number) => 2.2 + 0.4 * ((roof - y) / (roof - foot)) ** 0.8;
  const tail = -2.4;
  const bulge = (u: number, v: number) => 0.03 * Math.sin(Math.PI * u) ** 0.5 * Math.sin(Math.PI * v) ** 0.5;
  const side =
    (z: 1 | -1): Patch['at'] =>
    (u, v) => {
      const y = roof + (foot - roof) * v;
      const [from, to] = z === 1 ? [tail, nose(y)] : [nose(y), tail];
      return [from + (to - from) * u, y, z * (half + bulge(u, v))];
    };
  const onSide =
    (z: 1 | -1, u0: number, u1: number, v0: number, v1: number, out = 0.012): Patch['at'] =>
    (u, v) => {
      const p = side(z)(u0 + (u1 - u0) * u, v0 + (v1 - v0) * v);
      return [p[0], p[1], p[2] + z * out];
    };
  /** A belt of pads around wheels; u runs along it. */
  const track =
    (z: number): Patch['at'] =>
    (u, v) => {
      const angle = 2 * Math.PI * u;
      const [x, y] = [Math.cos(angle), Math.sin(angle)];
      const pad = 1 + 0.03 * Math.max(0, Math.sign(Math.sin(2 * Math.PI * u * 36)));
      const flat = Math.sign(x) * Math.abs(x) ** 0.42;
      return [-flat * 2.5 * pad ** 0.3, 0.46 + 0.44 * Math.sign(y) * Math.abs(y) ** 0.8 * pad, z + 0.46 * (v - 0.5)];
    };
  const wheels = ([1, -1] as const).flatMap((z) =>
    [-1.9, -0.95, 0, 0.95, 1.9].map((x, k): Patch => {
      const wheel = panel(
        `wheels, ${z === 1 ? 'starboard' : 'port'}`,
        'tracks',
        [20, 330, 170, 170],
        plate([x, 0.46, z * (1.05 + 0.235)], [0, 0, z], k % 4 === 0 ? 0.3 : 0.34, 0.05),
        { columns: 20, rows: 3 },
      );
      return {
        ...wheel,
        uv: (u, v) => [105 + 84 * v * Math.cos(2 * Math.PI * u), 415 - 84 * v * Math.sin(2 * Math.PI * u)],
      };
    }),
  );
  const edge = (points: Vec[], radius = 0.045) => fitting('trim', TRIM, sweep(points, radius), 8, points.length * 3);
  const patches = [
    panel('side, port', 'body', [20, 20, 980, 280], side(-1), { columns: 20, rows: 8 }),
    panel('side, starboard', 'body', [20, 320, 980, 280], side(1), { columns: 20, rows: 8 }),
    panel(
      'roof',
      'body',
      [20, 620, 980, 180],
      between(
        (u) => [tail + (nose(roof) - tail) * u, roof, -half],
        (u) => [tail + (nose(roof) - tail) * u, roof, half],
        (_, v) => [0, 0.07 * Math.sin(Math.PI * v), 0],
      ),
      { columns: 16, rows: 10 },
    ),
    panel(
      'tail',
      'body',
      [20, 820, 360, 180],
      between(
        (u) => [tail, roof, half * (2 * u - 1)],
        (u) => [tail, foot, half * (2 * u - 1)],
        (u, v) => [-bulge(u, v), 0.07 * Math.sin(Math.PI * u) * (1 - v), 0],
      ),
      { columns: 10, rows: 8 },
    ),
    panel(
      'nose',
      'body',
      [400, 820, 360, 180],
      (u, v) => {
        const y = roof + (foot - roof) * v;
        return [nose(y) + bulge(u, v), y + 0.07 * Math.sin(Math.PI * u) * (1 - v), half * (1 - 2 * u)];
      },
      { columns: 10, rows: 8 },
    ),
    panel('track, starboard', 'tracks', [10, 10, 492, 300], track(1.05), { columns: 144, rows: 2 }),
    // On purpose: the same island again.
    panel('track, port', 'tracks', [10, 10, 492, 300], track(-1.05), { columns: 144, rows: 2 }),
    ...wheels,
    fitting(
      'underside',
      TRIM,
      between(
        (u) => [tail + (nose(foot) - tail) * u, foot, half],
        (u) => [tail + (nose(foot) - tail) * u, foot, -half],
      ),
      2,
      2,
    ),
    fitting(
      'glass',
      DARK,
      (u, v) => {
        const y = roof - 0.1 - 0.46 * v;
        return [nose(y) + 0.03 + bulge(0.1 + 0.8 * u, 0.1 + 0.4 * v), y, 0.74 * (1 - 2 * u)];
      },
      10,
      4,
    ),
    fitting('glass', DARK, onSide(1, 0.78, 0.93, 0.1, 0.46), 6, 4),
    fitting('glass', DARK, onSide(-1, 0.07, 0.22, 0.1, 0.46), 6, 4),
    ...([1, -1] as const).flatMap((z) => {
      const at = (x: number, y: number, out = 0): Vec => [x, y, z * (half + out)];
      return [
        edge([at(tail, roof), at(0, roof), at(nose(roof), roof)]),
        edge([at(tail, foot), at(0, foot), at(nose(foot), foot)], 0.06),
        edge([at(tail, roof), at(tail, foot)]),
        edge([at(nose(roof), roof), at(nose(1.4), 1.4), at(nose(foot), foot)]),
        fitting('guards', TRIM, block([0, 0.99, z * 1.08], [2.5, 0.035, 0.26], 8), 28, 4),
        // A rail and two lockers stand before the side, where marks would be.
        fitting(
          'grab rails',
          METAL,
          sweep([at(-2.1, 1.86, 0.02), at(-2.1, 1.86, 0.13), at(-0.4, 1.86, 0.13), at(-0.4, 1.86, 0.02)], 0.022),
          8,
          18,
        ),
        fitting('lockers', METAL, block([-1.7, 1.15, z * 1.04], [0.36, 0.14, 0.13], 8), 20, 6),
        fitting('lockers', METAL, block([0.62, 1.15, z * 1.04], [0.3, 0.14, 0.13], 8), 20, 6),
        fitting('lamps', '#f3ead0', ball([nose(1.05) + 0.03, 1.05, z * 0.62], [0.06, 0.11, 0.11]), 12, 8),
        fitting('tail lamps', '#c0392b', block([tail - 0.03, 1.0, z * 0.74], [0.03, 0.1, 0.06]), 10, 5),
        fitting('mirrors', TRIM, block([2.16, 1.78, z * 1.12], [0.03, 0.14, 0.08]), 10, 6),
        fitting('mirrors', TRIM, sweep([at(2.2, 1.7), at(2.16, 1.7, 0.18)], 0.014), 6, 1),
      ];
    }),
    fitting(
      'stack',
      '#3a332d',
      sweep(
        [
          [1.1, 2.1, 0.66],
          [1.1, 2.75, 0.66],
          [1.0, 2.86, 0.66],
        ],
        0.06,
      ),
      10,
      6,
    ),
    ...[-0.66, 0.66].flatMap((z) => [
      fitting(
        'roof rack',
        METAL,
        sweep(
          [
            [-2.2, 2.26, z],
            [0.5, 2.26, z],
          ],
          0.025,
        ),
        8,
        1,
      ),
    ]),
    ...[-2.2, -1.5, -0.8, -0.1, 0.5].flatMap((x) => [
      fitting(
        'roof rack',
        METAL,
        sweep(
          [
            [x, 2.26, -0.66],
            [x, 2.26, 0.66],
          ],
          0.018,
        ),
        6,
        1,
      ),
      fitting(
        'roof rack',
        METAL,
        sweep(
          [
            [x, 2.08, -0.66],
            [x, 2.26, -0.66],
          ],
          0.018,
        ),
        6,
        1,
      ),
      fitting(
        'roof rack',
        METAL,
        sweep(
          [
            [x, 2.08, 0.66],
            [x, 2.26, 0.66],
          ],
          0.018,
        ),
        6,
        1,
      ),
    ]),
    fitting('beacon', '#e39a2d', ball([1.6, 2.24, 0], [0.1, 0.12, 0.1]), 14, 8),
    fitting(
      'hook',
      METAL,
      sweep(
        [
          [-2.42, 0.86, 0],
          [-2.62, 0.86, 0],
          [-2.68, 0.95, 0],
          [-2.6, 1, 0],
        ],
        0.035,
      ),
      8,
      10,
    ),
  ];
  return makeSubject(
    'brock',
    'Brock wagon',
    spec,
    [sheet('body', 1024), sheet('tracks', 512), sheet('plates', 1024, { alpha: 'coverage', plates: true })],
    patches,
    {},
    {
      primer: { body: '#8b8a72', tracks: '#4a4d4e' },
    },
  );
}
