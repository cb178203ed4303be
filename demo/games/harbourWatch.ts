/** Harbour Watch: the hull lies on three sheets that meet, and is painted as one. */
import { spec } from '../../packages/core/src/games/harbourWatch/spec.ts';
import { proposeRun } from '../../packages/core/src/surface/runs.ts';
import type { Patch, Vec } from '../patches.ts';
import { bc1, plain } from './files.ts';
import { makeSubject, panel, quad, sheet, type Subject } from './subject.ts';

export function subject(): Subject {
  const cuts = [3.6, 1.2, -1.2, -3.6];
  const beam = (x: number) => 1.05 * (x < 1 ? 1 : Math.sqrt(Math.max(0.003, 1 - ((x - 1) / 2.6) ** 2)));
  /** Starboard keel, gunwale, over the deck, port gunwale, port keel. */
  const skin = (x: number, v: number): Vec => {
    const w = beam(x);
    const rise = 0.25 * Math.max(0, x / 3.6) ** 2;
    const [low, high] = [0.1 + rise, 0.95 + rise];
    if (v < 0.3) return [x, low + (high - low) * (v / 0.3), w * (0.6 + 0.4 * (v / 0.3))];
    if (v > 0.7) return [x, low + (high - low) * ((1 - v) / 0.3), -w * (0.6 + 0.4 * ((1 - v) / 0.3))];
    const across = 1 - (v - 0.3) / 0.2;
    return [x, high + 0.06 * (1 - across * across), w * across];
  };
  const names = ['bow', 'middle', 'stern'];
  // Painted at the larger of the two sizes that the game wants.
  const density = 1600;
  const hull = names.map((name, i): Patch => {
    const [from, to] = [cuts[i], cuts[i + 1]];
    const skinPart = panel(`${name} skin`, name, [0, 0, 1, 1], (u, v) => skin(from + (to - from) * u, v), {
      columns: 12,
      rows: 20,
    });
    return { ...skinPart, uv: (u, v) => [128 + u * (from - to) * density, 128 + v * 3840] };
  });
  const house = [
    panel(
      'house, port',
      'house',
      [64, 64, 1880, 880],
      quad([0.9, 2, -0.6], [-1.1, 2, -0.6], [-1.3, 1, -0.6], [1.3, 1, -0.6]),
    ),
    panel(
      'house, starboard',
      'house',
      [64, 1024, 1880, 880],
      quad([-1.1, 2, 0.6], [0.9, 2, 0.6], [1.3, 1, 0.6], [-1.3, 1, 0.6]),
    ),
    panel('house, front', null, [0, 0, 1, 1], quad([0.9, 2, 0.6], [0.9, 2, -0.6], [1.3, 1, -0.6], [1.3, 1, 0.6]), {
      hex: '#26343c',
    }),
    panel('house, roof', null, [0, 0, 1, 1], quad([-1.1, 2, -0.6], [0.9, 2, -0.6], [0.9, 2, 0.6], [-1.1, 2, 0.6]), {
      inside: true,
      hex: '#5d6467',
    }),
  ];
  const sheets = [
    ...names.map((name) => sheet(name, 4096, { axis: { kind: 'horizontal', at: 2048 } })),
    sheet('house', 2048),
  ];
  const made = makeSubject('dunlin', 'Dunlin launch', spec, sheets, [...hull, ...house]);
  const pieces = proposeRun(made.template, names);
  if (!pieces) throw new Error('The hull of the Dunlin does not meet.');
  return { ...made, template: { ...made.template, runs: [{ key: 'hull', name: 'Hull', pieces }] } };
}

/** A livery that holds a number already. */
export const brings = () => ({
  'liveries/launch-21/launch-21_bow.dds': bc1(plain('#8a4b32', 1024)),
  'liveries/launch-21/launch-21_bow_large.dds': bc1(plain('#8a4b32', 4096)),
});
