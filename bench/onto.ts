/**
 * A finished skin of 4096 x 4096 onto a 4096 sheet of a model of 15,000 triangles that is a tenth longer: how the models lie over each other,
 * and its texels, on two threads. Beside it sharp turns the same picture by a degree. `npm run bench -- onto`
 */
import sharp from 'sharp';
import { demoBundle } from '../packages/core/src/testing/scenes.ts';
import { reshaped } from '../packages/core/src/testing/sisters.ts';
import { colourSheet } from '../packages/core/src/testing/textures.ts';
import { TILE } from '../packages/core/src/raster/image.ts';
import { Pool } from '../packages/node/src/threads/pool.ts';
import { sharedBytes } from '../packages/node/src/threads/shared.ts';
import { calibration } from './calibration.ts';

const SIDE = 4096;
const RUNS = 3;
const before = calibration();
const { template: old } = await demoBundle('rescue-launch');
const now = reshaped(old, ([x, y, z]) => [x * 1.1, y, z]);
const sheet = now.sheets.find(({ width, height }) => width === SIDE && height === SIDE)!;
const tile = colourSheet(5, 1024);
const data = sharedBytes(SIDE * SIDE * 4);
for (let y = 0; y < SIDE; y++)
  for (let x = 0; x < SIDE; x += 1024)
    data.set(tile.data.subarray((y % 1024) * 4096, (y % 1024) * 4096 + 4096), (y * SIDE + x) * 4);
const picture = { left: 0, top: 0, image: { width: SIDE, height: SIDE, data } };

let most = 0;
const watch = setInterval(() => (most = Math.max(most, process.memoryUsage.rss())), 50);
const seconds = async (work: () => Promise<unknown>): Promise<number> => {
  const began = performance.now();
  await work();
  return (performance.now() - began) / 1000;
};
const [fits, takes, turns]: number[][] = [[], [], []];
for (let run = 0; run < RUNS; run++) {
  const pool = new Pool(2, new URL('../packages/server/dist/thread.js', import.meta.url));
  let fit: Awaited<ReturnType<typeof fitted>>;
  const fitted = () => pool.run('fitModels', { old, now });
  fits.push(await seconds(async () => (fit = await fitted())));
  const pairing = { old, now, fit: fit!, key: 'bench' };
  const pictures = [old.sheets.map(({ key }) => (key === sheet.key ? picture : null))];
  const rows = Array.from({ length: SIDE / TILE }, (_, row) => row);
  let tiles = 0;
  takes.push(
    await seconds(async () => {
      const task = { pairing, sheet: sheet.key, pictures };
      const bands = await Promise.all(rows.map((row) => pool.run('takeBand', { ...task, from: row, to: row + 1 })));
      tiles = bands.flatMap(([own]) => own).length;
    }),
  );
  if (tiles < 64) throw new Error('hardly anything was taken');
  await pool.close();
  turns.push(
    await seconds(() =>
      sharp(data, { raw: { width: SIDE, height: SIDE, channels: 4 } })
        .rotate(1)
        .raw()
        .toBuffer(),
    ),
  );
}
clearInterval(watch);
const list = (values: readonly number[]) => values.map((value) => value.toFixed(1)).join(', ');
console.log(`${now.mesh.indices.length / 3} triangles, a skin of ${SIDE} x ${SIDE}, two threads, cold each time`);
console.log(`  laid over each other, parts paired: ${list(fits)} s`);
console.log(`  its texels: ${list(takes)} s; sharp turns the picture in ${list(turns)} s`);
console.log(`  at most ${Math.round(most / 2 ** 20)} MiB`);
console.log(`calibrating loop ${before.toFixed(0)} ms before, ${calibration().toFixed(0)} after`);
