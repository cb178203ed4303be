/** Longhaul: both tracks wear one island; the decal plates on it come with their own delivery. */
import { spec } from '../../packages/core/src/games/longhaul/spec.ts';
import type { Vec } from '../patches.ts';
import { makeSubject, panel, quad, sheet, type Subject } from './subject.ts';

export function subject(): Subject {
  const side = (z: number, flip: boolean) => {
    const corners: Vec[] = [
      [2.2, 2.1, z],
      [-2.4, 2.1, z],
      [-2.4, 0.8, z],
      [2.6, 0.8, z],
    ];
    const [a, b, c, d] = corners;
    return flip ? quad(b, a, d, c) : quad(a, b, c, d);
  };
  const track =
    (z: number) =>
    (u: number, v: number): Vec => {
      const angle = 2 * Math.PI * u;
      const [x, y] = [Math.cos(angle), Math.sin(angle)];
      return [Math.sign(x) * Math.abs(x) ** 0.5 * 2.5, 0.45 + 0.42 * y, z + 0.5 * (v - 0.5)];
    };
  const patches = [
    panel('side, port', 'body', [20, 20, 980, 280], side(-0.9, false)),
    panel('side, starboard', 'body', [20, 320, 980, 280], side(0.9, true)),
    panel(
      'roof',
      'body',
      [20, 620, 980, 180],
      quad([-2.4, 2.1, -0.9], [2.2, 2.1, -0.9], [2.2, 2.1, 0.9], [-2.4, 2.1, 0.9]),
    ),
    panel(
      'tail',
      'body',
      [20, 820, 360, 180],
      quad([-2.4, 2.1, -0.9], [-2.4, 2.1, 0.9], [-2.4, 0.8, 0.9], [-2.4, 0.8, -0.9]),
    ),
    panel(
      'nose',
      'body',
      [400, 820, 360, 180],
      quad([2.2, 2.1, 0.9], [2.2, 2.1, -0.9], [2.6, 0.8, -0.9], [2.6, 0.8, 0.9]),
    ),
    panel('track, starboard', 'tracks', [10, 10, 490, 120], track(1.05), { columns: 28, rows: 1 }),
    // On purpose: the same island again.
    panel('track, port', 'tracks', [10, 10, 490, 120], track(-1.05), { columns: 28, rows: 1 }),
  ];
  return makeSubject('brock', 'Brock wagon', spec, [sheet('body', 1024), sheet('tracks', 512)], patches);
}
