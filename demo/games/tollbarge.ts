/** Tollbarge: sixteen sails share one atlas, and one cell of it is painted. */
import { drawSvg } from '../../packages/core/src/files/svg.ts';
import { spec } from '../../packages/core/src/games/tollbarge/spec.ts';
import { sailArt } from '../originals.ts';
import type { Patch } from '../patches.ts';
import { bc1 } from './files.ts';
import { makeSubject, panel, quad, sheet, type Subject } from './subject.ts';

export function subject(): Subject {
  const patches = Array.from({ length: 16 }, (_, i) => {
    const [column, row] = [i % 4, Math.floor(i / 4)];
    const [x, y] = [column * 1.3 - 2.6, 4 - row * 1.3];
    const belly = quad([x, y, 0], [x + 1.15, y, 0], [x + 1.15, y - 1.15, 0], [x, y - 1.15, 0]);
    const at: Patch['at'] = (u, v) => {
      const p = belly(u, v);
      return [p[0], p[1], p[2] + 0.25 * Math.sin(Math.PI * u) * Math.sin(Math.PI * v)];
    };
    return panel(`sail ${row + 1}.${column + 1}`, 'sails', [column * 256, row * 256, 256, 256], at, {
      columns: 8,
      rows: 8,
    });
  });
  const sheets = [sheet('sails', 1024, { cells: { columns: 4, rows: 4 } })];
  return makeSubject('toll-sails', 'Tollbarge sails', spec, sheets, patches, { sails: sailArt() });
}

/** The atlas that all sails share. */
export function brings() {
  const atlas = sailArt();
  return { 'barges/sails.dds': bc1(drawSvg(atlas.svg, Math.max(atlas.width, atlas.height))) };
}
