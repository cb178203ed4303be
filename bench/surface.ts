/** What the model is like under a sheet of 4096: the first answer, and tile after tile. `npm run bench -- surface` */
import { FieldName } from '../packages/core/src/livery/paint.ts';
import type { Subject } from '../packages/core/src/livery/template.ts';
import { TILE } from '../packages/core/src/raster/image.ts';
import { eachAlong, eachOfCorners, edgeIn, fieldsIn } from '../packages/core/src/surface/fields.ts';
import { bakeField, fineSubject } from '../packages/core/src/surface/baked/index.ts';
import { SheetSurface } from '../packages/core/src/surface/surface.ts';
import { calibration } from './calibration.ts';
import { spread } from './median.ts';

const SIDE = 4096;

/** A ball of so many triangles, its sheet in strips with gaps between, as a layout has them. */
function ball(triangles: number): Subject {
  const islands = 16;
  const wide = Math.round(Math.sqrt(triangles) / islands);
  const columns = wide * islands;
  const rows = Math.round(triangles / 2 / columns);
  const mesh: Subject['mesh'] = { positions: [], normals: [], uvs: [], indices: [] };
  for (let island = 0; island < islands; island++) {
    for (let y = 0; y <= rows; y++)
      for (let x = 0; x <= wide; x++) {
        const [u, v] = [(island * wide + x) / columns, y / rows];
        const [a, b] = [u * 2 * Math.PI, v * Math.PI];
        const n = [Math.sin(b) * Math.cos(a), Math.cos(b), Math.sin(b) * Math.sin(a)];
        mesh.positions.push(...n);
        mesh.normals.push(...n);
        mesh.uvs.push((island + 0.06 + (x / wide) * 0.88) / islands, 0.02 + v * 0.96);
      }
    const first = island * (rows + 1) * (wide + 1);
    for (let y = 0; y < rows; y++)
      for (let x = 0; x < wide; x++) {
        const at = first + y * (wide + 1) + x;
        mesh.indices.push(at, at + 1, at + wide + 1, at + 1, at + wide + 2, at + wide + 1);
      }
  }
  return {
    sheets: [{ key: 's', name: 's', width: SIDE, height: SIDE, alpha: 'none', axis: null }],
    parts: [{ key: 'ball', name: 'ball', sheet: 's', first: 0, count: mesh.indices.length / 3, hex: null }],
    mesh,
  };
}

const timed = (work: () => void): number => {
  const began = performance.now();
  work();
  return performance.now() - began;
};

console.log(`calibrating loop ${calibration().toFixed(0)} ms`);
for (const wanted of [5_100, 100_000]) {
  const subject = ball(wanted);
  const many = subject.mesh.indices.length / 3;
  const firsts = [0, 1, 2].map(() => timed(() => void new SheetSurface(subject, 's').ownerAt(2000, 2000)));
  const surface = new SheetSurface(subject, 's');
  const tiles = Array.from({ length: 64 }, (_, i) => (i * 37) % 256);
  const windowOf = (tile: number) => {
    const [left, top] = [(tile % 16) * TILE, Math.floor(tile / 16) * TILE];
    return { left, top, right: left + TILE, bottom: top + TILE };
  };
  void surface.laid;
  const each = tiles.map((tile) => timed(() => fieldsIn(surface, windowOf(tile))));
  const again = tiles.map((tile) => timed(() => fieldsIn(surface, windowOf(tile))));
  const edges = tiles.map((tile) => timed(() => edgeIn(surface, windowOf(tile))));
  const regionOf = (tile: number) => ({
    ...{ x: (tile % 16) * TILE, y: Math.floor(tile / 16) * TILE },
    ...{ width: TILE, height: TILE, step: 1 },
  });
  let sum = 0;
  const belts = tiles.map((tile) =>
    timed(() => eachAlong(surface, regionOf(tile), [0, 1, 0], (_i, at) => void (sum += at))),
  );
  const fine = timed(() => void fineSubject(subject));
  const baked = FieldName.options.map((name) => ({ name, ms: timed(() => void bakeField(subject, name)) }));
  const corners = bakeField(subject, 'height');
  const finer = new SheetSurface(fineSubject(subject), 's');
  void finer.laid;
  const masks = tiles.map((tile) =>
    timed(() => eachOfCorners(finer, regionOf(tile), corners, (_i, value) => void (sum += value))),
  );
  if (Number.isNaN(sum)) throw new Error('A place is no number.');
  const owners = new SheetSurface(subject, 's');
  const whole = timed(() => owners.ownersIn({ left: 0, top: 0, right: SIDE, bottom: SIDE }));
  const line = (name: string, ms: readonly number[]) =>
    `  ${name}: median ${spread(ms).median.toFixed(1)} ms, 95th percentile ${spread(ms).p95.toFixed(1)}`;
  console.log(`${many} triangles on ${SIDE} x ${SIDE}`);
  console.log(line('first texel of a sheet', firsts));
  console.log(line('a tile of 256 with all fields, new', each));
  console.log(line('the same again', again));
  console.log(line('distance to the edge, a tile', edges));
  console.log(line('a belt over a tile, tile known', belts));
  console.log(line('a baked field over a tile, new', masks));
  console.log(
    `  finer mesh ${fine.toFixed(0)} ms; baked: ${baked.map(({ name, ms }) => `${name} ${ms.toFixed(0)} ms`).join(', ')}`,
  );
  console.log(`  owners of the whole sheet, one thread: ${whole.toFixed(0)} ms`);
}
console.log(`calibrating loop ${calibration().toFixed(0)} ms`);
