/** What the model is like under a sheet of 4096: the first answer, and tile after tile. `npm run bench -- surface` */
import { FieldName } from '../packages/core/src/livery/paint.ts';
import { TILE } from '../packages/core/src/raster/image.ts';
import { eachAlong, eachOfCorners, edgeIn, fieldsIn } from '../packages/core/src/surface/fields.ts';
import { bakeField, fineSubject } from '../packages/core/src/surface/baked/index.ts';
import { SheetSurface } from '../packages/core/src/surface/surface.ts';
import { ball, SIDE } from './ball.ts';
import { calibration } from './calibration.ts';
import { spread } from './median.ts';
import { timed } from './timed.ts';

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
