/** Marshkin: a creature of 96 x 48 texels, where every texel counts. */
import { spec } from '../../packages/core/src/games/marshkin/spec.ts';
import type { Patch, Vec } from '../patches.ts';
import { ball, between, sweep, through } from '../shapes.ts';
import { fitting, makeSubject, panel, sheet, type Subject } from './subject.ts';

export function subject(): Subject {
  const [middle, half]: [Vec, Vec] = [
    [0, 0.4, 0],
    [0.32, 0.28, 0.27],
  ];
  const round = ball(middle, half);
  /** A pear: wider below. u begins at the front and runs over port. */
  const body: Patch['at'] = (u, v) => {
    const [x, y, z] = round(u, v);
    const wide = 1 + 0.16 * Math.sin(Math.PI * v) * (v - 0.35);
    return [x * wide - 0.06 * (1 - v) ** 2, y, z * wide];
  };
  const face: Patch['at'] = (u, v) => {
    const [x, y, z] = body((((u - 0.5) * 0.26) % 1) + (u < 0.5 ? 1 : 0), 0.26 + 0.34 * v);
    return [middle[0] + (x - middle[0]) * 1.035, middle[1] + (y - middle[1]) * 1.02, z * 1.03];
  };
  /** A fin like a leaf, with a wave in it. */
  const fin = (side: 1 | -1): Patch['at'] => {
    const root = (u: number): Vec => [0.12 - 0.26 * (side === 1 ? 1 - u : u), 0.42, side * 0.255];
    const tip = (u: number): Vec => {
      const a = side === 1 ? 1 - u : u;
      return [
        0.14 - 0.4 * a,
        0.2 + 0.1 * Math.sin(Math.PI * a),
        side * (0.3 + 0.24 * Math.sin(Math.PI * (0.12 + 0.8 * a))),
      ];
    };
    return between(root, tip, (u, v) => [0, 0.05 * Math.sin(Math.PI * v) + 0.015 * Math.sin(9 * u) * v, 0]);
  };
  const tail = between(
    (u) => [-0.27 - 0.36 * u, 0.44 + 0.24 * u ** 1.4, 0.03 * Math.sin(5 * u)],
    (u) => [-0.27 - 0.36 * u, 0.32 - 0.16 * u ** 1.2, 0.03 * Math.sin(5 * u)],
    (u, v) => [-0.1 * u * Math.sin(2 * Math.PI * v) ** 2, 0, 0],
  );
  const patches = [
    panel('body', 'skin', [0, 0, 48, 24], body, { columns: 40, rows: 24 }),
    panel('face', 'skin', [48, 0, 16, 16], face, { columns: 12, rows: 12 }),
    panel('lamp', 'skin', [64, 0, 16, 16], ball([0.34, 0.9, 0], [0.1, 0.115, 0.1]), { columns: 20, rows: 12 }),
    panel('fin, left', 'skin', [0, 28, 24, 16], fin(-1), { columns: 12, rows: 8 }),
    panel('fin, right', 'skin', [28, 28, 24, 16], fin(1), { columns: 12, rows: 8 }),
    panel('tail', 'skin', [56, 24, 32, 16], tail, { columns: 14, rows: 10 }),
    fitting(
      'stalk',
      '#5b6a5e',
      sweep(
        [
          [-0.02, 0.64, 0],
          [0.02, 0.84, 0],
          [0.14, 0.98, 0],
          [0.28, 1.0, 0],
          [0.34, 0.97, 0],
        ],
        through([0, 0.03], [1, 0.016]),
      ),
      8,
      16,
    ),
    fitting('feet', '#4d5a50', ball([0.1, 0.13, -0.13], [0.12, 0.05, 0.075]), 14, 8),
    fitting('feet', '#4d5a50', ball([0.1, 0.13, 0.13], [0.12, 0.05, 0.075]), 14, 8),
  ];
  return makeSubject(
    'lampkin',
    'Lampkin',
    spec,
    [sheet('skin', 96, { height: 48, alpha: 'cutout' })],
    patches,
    {},
    {
      primer: { skin: '#7d9c86' },
    },
  );
}
