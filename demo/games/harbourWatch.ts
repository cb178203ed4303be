/** Harbour Watch: the hull lies on three sheets that meet, and is painted as one. */
import { spec } from '../../packages/core/src/games/harbourWatch/spec.ts';
import { proposeRun } from '../../packages/core/src/surface/runs.ts';
import type { Patch, Vec } from '../patches.ts';
import { ball, between, block, plate, sweep, through } from '../shapes.ts';
import { bc1, plain } from './files.ts';
import { fitting, makeSubject, panel, sheet, type Subject } from './subject.ts';

const DARK = '#26343c';
const METAL = '#8b9498';
const TRIM = '#5d6467';

export function subject(): Subject {
  const cuts = [5.7, 1.9, -1.9, -5.7];
  const beam = through([-5.7, 1.02], [-3, 1.18], [1, 1.2], [3.4, 0.96], [4.9, 0.46], [5.7, 0.03]);
  const gunwale = through([-5.7, 0.92], [-1, 0.95], [2.5, 1.12], [5.7, 1.55]);
  const keel = through([-5.7, -0.3], [1, -0.38], [4, -0.3], [5.7, 0.1]);
  /** Starboard keel, gunwale, over the deck, port gunwale, port keel; the stem is raked. */
  const skin = (x: number, v: number): Vec => {
    const w = beam(x);
    const side = (down: number): [number, number, number] => {
      const t = 1 - down;
      const rake = 0.75 * Math.max(0, (x - 2.2) / 3.5) ** 2 * down;
      return [x - rake, keel(x) + (gunwale(x) - keel(x)) * t ** 1.15, w * (0.04 + 0.96 * t ** 0.5)];
    };
    if (v <= 0.28) return side(1 - v / 0.28);
    if (v >= 0.72) {
      const [sx, sy, sz] = side((v - 0.72) / 0.28);
      return [sx, sy, -sz];
    }
    const across = 1 - (v - 0.28) / 0.22;
    // A low bulwark stands around the deck.
    const low = 0.04 * Math.min(1, w / 0.7) * Math.min(1, (1 - Math.abs(across)) / 0.06);
    return [x, gunwale(x) - low + 0.08 * (1 - across * across), w * across];
  };
  const names = ['bow', 'middle', 'stern'];
  // Painted at the larger of the two sizes that the game wants; the same along and around.
  const density = 790;
  const hull = names.map((name, i): Patch => {
    const [from, to] = [cuts[i], cuts[i + 1]];
    const skinPart = panel(`${name} skin`, name, [0, 0, 1, 1], (u, v) => skin(from + (to - from) * u, v), {
      columns: 16,
      rows: 50,
    });
    return { ...skinPart, uv: (u, v) => [548 + u * (from - to) * density, 128 + v * 3840] };
  });
  /** The wheelhouse: corners at its foot and at its roof. */
  const [fore, aft, foot, head, low, high] = [1.5, -2.2, 1, 2.45, 0.86, 0.72];
  const wall = (side: 1 | -1): Patch['at'] => {
    const line =
      (y: number, half: number, front: number) =>
      (u: number): Vec => {
        const x = side === 1 ? aft + (front - aft) * u : front + (aft - front) * u;
        return [x, y, side * half];
      };
    return between(line(head, high, fore - 0.55), line(foot, low, fore), (u, v) => [
      0,
      0,
      side * 0.05 * Math.sin(Math.PI * u) * Math.sin(Math.PI * v),
    ]);
  };
  const windows = ([1, -1] as const).flatMap((side) =>
    [0.05, 0.29, 0.53, 0.77].map((at) => {
      const wallAt = wall(side);
      const u0 = side === 1 ? 1 - at - 0.19 : at;
      return fitting(
        'glass',
        DARK,
        (u, v) => {
          const p = wallAt(u0 + 0.19 * u, 0.1 + 0.33 * v);
          return [p[0], p[1], p[2] + side * 0.012];
        },
        6,
        4,
      );
    }),
  );
  const rail = (side: 1 | -1, height: number) =>
    sweep(
      [-5.6, -4, -2, 0, 2, 3.6, 4.8, 5.6].map((x): Vec => [x, gunwale(x) + height, side * Math.max(0, beam(x) - 0.04)]),
      0.02,
    );
  const house = [
    panel('house, port', 'house', [64, 64, 1880, 880], wall(-1), { columns: 16, rows: 8 }),
    panel('house, starboard', 'house', [64, 1024, 1880, 880], wall(1), { columns: 16, rows: 8 }),
    fitting(
      'house, front',
      TRIM,
      between(
        (u) => [fore - 0.55, head, high * (1 - 2 * u)],
        (u) => [fore, foot, low * (1 - 2 * u)],
        (u, v) => [0.12 * Math.sin(Math.PI * u) * (0.4 + v), 0, 0],
      ),
      12,
      6,
    ),
    fitting(
      'glass',
      DARK,
      between(
        (u) => [fore - 0.5, head - 0.12, 0.66 * (1 - 2 * u)],
        (u) => [fore - 0.26, head - 0.64, 0.7 * (1 - 2 * u)],
        (u, v) => [0.016 + 0.12 * Math.sin(Math.PI * (0.05 + 0.9 * u)) * (0.5 + 0.4 * v), 0, 0],
      ),
      12,
      4,
    ),
    fitting(
      'house, aft',
      TRIM,
      between(
        (u) => [aft, head, high * (2 * u - 1)],
        (u) => [aft, foot, low * (2 * u - 1)],
      ),
      6,
      4,
    ),
    fitting(
      'door',
      '#3c464b',
      between(
        (u) => [aft - 0.015, head - 0.16, 0.28 * (2 * u - 1)],
        (u) => [aft - 0.015, foot + 0.05, 0.28 * (2 * u - 1)],
      ),
      2,
      2,
    ),
    fitting('house, roof', TRIM, block([-0.6, head + 0.04, 0], [1.72, 0.07, 0.84], 8), 32, 6),
    ...windows,
    fitting(
      'transom',
      TRIM,
      (u, v) => {
        const p = skin(-5.7, 0.28 * (1 - v));
        const over = 0.08 * (1 - (1 - 2 * u) ** 2) * (1 - v);
        return [p[0] - 0.02, p[1] + over, p[2] * (2 * u - 1)];
      },
      16,
      8,
    ),
    fitting(
      'mast',
      METAL,
      sweep(
        [
          [-1.2, head, 0],
          [-1.35, head + 1.1, 0],
          [-1.42, head + 1.6, 0],
        ],
        through([0, 0.07], [1, 0.025]),
      ),
      10,
      5,
    ),
    fitting(
      'mast',
      METAL,
      sweep(
        [
          [-1.36, head + 0.95, -0.5],
          [-1.36, head + 0.95, 0.5],
        ],
        0.025,
      ),
      8,
      1,
    ),
    fitting('radar', '#d8dcdd', block([-1.05, head + 0.72, 0], [0.1, 0.06, 0.55], 6), 24, 6),
    fitting('radar', '#d8dcdd', block([-1.18, head + 0.62, 0], [0.16, 0.06, 0.14], 6), 14, 6),
    fitting('lamp, port', '#c8362f', block([0.7, head - 0.02, -0.9], [0.11, 0.06, 0.05]), 10, 5),
    fitting('lamp, starboard', '#2f9b5a', block([0.7, head - 0.02, 0.9], [0.11, 0.06, 0.05]), 10, 5),
    fitting('blue lamp', '#2f6fd0', ball([-0.1, head + 0.2, 0], [0.12, 0.14, 0.12]), 14, 8),
    fitting('search lamp', '#e8e4d2', ball([0.8, head + 0.24, 0.3], [0.14, 0.12, 0.12]), 14, 8),
    ...([1, -1] as const).flatMap((side) => [
      fitting('rails', METAL, rail(side, 0.52), 6, 40),
      fitting('rails', METAL, rail(side, 0.28), 6, 40),
      ...[-5.2, -4, -2.8, -1.6, -0.4, 0.8, 2, 3.2, 4.3, 5.2].map((x) =>
        fitting(
          'rails',
          METAL,
          sweep(
            [
              [x, gunwale(x), side * Math.max(0, beam(x) - 0.04)],
              [x, gunwale(x) + 0.52, side * Math.max(0, beam(x) - 0.04)],
            ],
            0.018,
          ),
          6,
          1,
        ),
      ),
      // They hang where names like to be.
      ...[-4.4, -1.1, 2.4].map((x) =>
        fitting(
          'fenders',
          '#30363a',
          ball([x, gunwale(x) - 0.38, side * (beam(x) + 0.06)], [0.13, 0.26, 0.13]),
          12,
          10,
        ),
      ),
      fitting(
        'rubbing strake',
        '#2b3034',
        sweep(
          [-5.6, -4, -2, 0, 2, 3.6, 4.8, 5.55].map((x): Vec => [x, gunwale(x) - 0.09, side * (beam(x) - 0.02)]),
          0.05,
        ),
        8,
        40,
      ),
      fitting(
        'life rings',
        '#d8572a',
        sweep(
          Array.from({ length: 13 }, (_, k): Vec => [
            -1.9 + 0.24 * Math.cos((k * Math.PI) / 6),
            1.62 + 0.24 * Math.sin((k * Math.PI) / 6),
            side * 0.93,
          ]),
          0.06,
        ),
        8,
        32,
      ),
    ]),
    fitting('winch', METAL, block([3.7, 1.32, 0], [0.22, 0.16, 0.26], 4), 16, 8),
    fitting('lockers', TRIM, block([-3.4, 1.06, 0], [0.5, 0.2, 0.42], 8), 20, 6),
    fitting('lockers', TRIM, block([-4.7, 1.02, 0], [0.36, 0.16, 0.62], 8), 20, 6),
    fitting('hatch', '#3c464b', block([2.5, 1.18, 0], [0.4, 0.07, 0.36], 8), 20, 6),
    fitting('propellers', '#4a4f52', plate([-5.76, -0.2, 0], [-1, 0, 0], 0.2, 0.06), 12, 3),
  ];
  const sheets = [
    ...names.map((name) => sheet(name, 4096, { axis: { kind: 'horizontal', at: 2048 } })),
    sheet('house', 2048),
  ];
  const made = makeSubject(
    'dunlin',
    'Dunlin launch',
    spec,
    sheets,
    [...hull, ...house],
    {},
    {
      primer: { bow: '#7f898d', middle: '#7f898d', stern: '#7f898d', house: '#a9b0b2' },
    },
  );
  const pieces = proposeRun(made.template, names);
  if (!pieces) throw new Error('The hull of the Dunlin does not meet.');
  return { ...made, template: { ...made.template, runs: [{ key: 'hull', name: 'Hull', pieces }] } };
}

/** A livery that holds a number already. */
export const brings = () => ({
  'liveries/launch-21/launch-21_bow.dds': bc1(plain('#8a4b32', 1024)),
  'liveries/launch-21/launch-21_bow_large.dds': bc1(plain('#8a4b32', 4096)),
});
