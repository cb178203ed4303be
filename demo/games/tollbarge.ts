/** Tollbarge: sixteen sails share one atlas, and one cell of it is painted. */
import { drawSvg } from '../../packages/core/src/files/svg.ts';
import { spec } from '../../packages/core/src/games/tollbarge/spec.ts';
import { sailArt } from '../originals.ts';
import type { Patch } from '../patches.ts';
import { between, block, sweep, through } from '../shapes.ts';
import { bc1 } from './files.ts';
import { fitting, makeSubject, panel, sheet, type Subject } from './subject.ts';

const TIMBER = '#6b5138';
const DECK = '#8d7552';
const SPAR = '#9a8461';

export function subject(): Subject {
  // A fleet of sixteen barges: each carries the sail of its cell.
  const barges = Array.from({ length: 16 }, (_, i) => {
    const [column, row] = [i % 4, Math.floor(i / 4)];
    const [x, z] = [column * 2.3 - 3.4, row * 2.4 - 3.6];
    const sail: Patch['at'] = (u, v) => {
      const full = 0.3 * Math.sin(Math.PI * u) ** 0.8 * Math.sin(Math.PI * (0.15 + 0.8 * v));
      return [x - 0.66 + 1.3 * u + 0.04 * v, 2.25 - 1.3 * v, z + 0.12 + full];
    };
    const beam = through([-1, 0.24], [-0.7, 0.34], [0.3, 0.36], [0.85, 0.2], [1.05, 0.02]);
    const sheer = through([-1, 0.42], [0, 0.34], [1.05, 0.52]);
    const hull: Patch['at'] = (u, v) => {
      const along = 1.05 - 2.05 * v;
      const turn = Math.PI * (0.5 - u);
      const [c, s] = [Math.cos(turn), Math.sin(turn)];
      const high = sheer(along);
      return [x + along, high - high * Math.abs(c) ** 0.7, z + Math.sign(s) * Math.abs(s) ** 0.6 * beam(along)];
    };
    return {
      sail: panel(`sail ${row + 1}.${column + 1}`, 'sails', [column * 256, row * 256, 256, 256], sail, {
        columns: 10,
        rows: 10,
      }),
      rest: [
        fitting('hulls', TIMBER, hull, 12, 14),
        fitting(
          'decks',
          DECK,
          between(
            (u) => [x + 1.03 - 2.03 * u, sheer(1.03 - 2.03 * u) - 0.03, z + beam(1.03 - 2.03 * u)],
            (u) => [x + 1.03 - 2.03 * u, sheer(1.03 - 2.03 * u) - 0.03, z - beam(1.03 - 2.03 * u)],
          ),
          10,
          1,
        ),
        fitting(
          'spars',
          SPAR,
          sweep(
            [
              [x, 0.3, z],
              [x, 2.5, z],
            ],
            through([0, 0.045], [1, 0.02]),
          ),
          8,
          2,
        ),
        fitting(
          'spars',
          SPAR,
          sweep(
            [
              [x - 0.76, 2.28, z + 0.1],
              [x + 0.74, 2.28, z + 0.1],
            ],
            0.025,
          ),
          6,
          1,
        ),
        fitting(
          'spars',
          SPAR,
          sweep(
            [
              [x - 0.72, 0.92, z + 0.14],
              [x + 0.74, 0.92, z + 0.14],
            ],
            0.022,
          ),
          6,
          1,
        ),
        fitting('cargo', '#7d6a4c', block([x - 0.5, 0.46, z], [0.2, 0.14, 0.18], 6), 12, 5),
      ],
    };
  });
  // Of a name together, so that each is one part.
  const rest = barges.flatMap((barge) => barge.rest).toSorted((a, b) => (a.key < b.key ? -1 : a.key > b.key ? 1 : 0));
  const patches = [...barges.map(({ sail }) => sail), ...rest];
  const sheets = [sheet('sails', 1024, { cells: { columns: 4, rows: 4 } })];
  return makeSubject('toll-sails', 'Tollbarge sails', spec, sheets, patches, { sails: sailArt() });
}

/** The atlas that all sails share. */
export function brings() {
  const atlas = sailArt();
  return { 'barges/sails.dds': bc1(drawSvg(atlas.svg, Math.max(atlas.width, atlas.height))) };
}
