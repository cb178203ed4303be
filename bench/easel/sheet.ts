/** The whole sheet composited at native size beside sharp, and what a dab costs by size and by number of layers. */
import os from 'node:os';
import sharp from 'sharp';
import { TileCache } from '../../packages/core/src/compose/tileCache.ts';
import { Layer } from '../../packages/core/src/livery/layer.ts';
import { Template } from '../../packages/core/src/livery/template.ts';
import { scoped } from '../../packages/core/src/raster/arena.ts';
import { smallLivery, smallTemplate, sourcesFor } from '../../packages/core/src/testing/scenes.ts';
import { Pool } from '../../packages/node/src/threads/pool.ts';
import { spread } from '../median.ts';
import { layers, SIDE } from './stack.ts';
import { ms, row, seconds } from './table.ts';

export async function benchSheet(): Promise<void> {
  const template = Template.parse(smallTemplate(SIDE));
  const livery = smallLivery(layers, template);
  const size = { width: SIDE, height: SIDE };
  for (const threads of new Set([os.availableParallelism(), 1])) {
    const pool = new Pool(threads, new URL('../../packages/server/dist/thread.js', import.meta.url));
    const times: number[] = [];
    for (let k = 0; k < 6; k++) {
      const began = performance.now();
      await pool.flatten({ livery, template, blobs: new Map() }, 'face', 'colour', size);
      times.push(performance.now() - began);
    }
    await pool.close();
    const warm = times.slice(1);
    row(
      `whole sheet, forty layers, threads: ${threads}`,
      threads > 1 ? '1.2 s' : '',
      `${seconds(spread(warm).median)} (${seconds(Math.min(...warm))} to ${seconds(Math.max(...warm))}); cold ${seconds(times[0])}`,
    );
  }
  row(
    'memory of that, at most',
    '1.2 GB',
    `${(process.resourceUsage().maxRSS / 1024).toFixed(0)} MiB, Node.js and all`,
  );
  const raw = { ...size, channels: 4 } as const;
  const background = { r: 90, g: 120, b: 60, alpha: 0.4 };
  const flat = await sharp({ create: { ...raw, background } })
    .raw()
    .toBuffer();
  const began = performance.now();
  await sharp(flat, { raw })
    .composite(
      layers
        .slice(1)
        .map(({ blend }) => ({ input: flat, raw, blend: (blend === 'normal' ? 'over' : blend) as 'over' })),
    )
    .raw()
    .toBuffer();
  row('as many flat pictures by sharp, all threads', 'four times that', seconds(performance.now() - began));
}

/** A dab of 60 texels on the middle layer, caches warm: what is drawn anew for it, in milliseconds. */
async function dab(count: number, side: number): Promise<number> {
  const own = Template.parse(smallTemplate(side));
  const normal = layers.filter(({ blend, kind }) => blend === 'normal' && kind !== 'brush');
  const middle = { id: 'hot', blend: 'normal', x: side / 2, y: side / 2, angle: 0, width: 60, opacity: 100 };
  const some = Array.from({ length: count }, (_, i) =>
    i === count >> 1
      ? Layer.parse({ ...layers[1], ...middle })
      : ({ ...(i < count >> 1 ? layers[i % 20] : normal[1 + (i % (normal.length - 1))]), id: `d${i}` } as Layer),
  );
  const from = await sourcesFor(smallLivery(some, own), own);
  const cache = new TileCache(256 * 2 ** 20);
  const tile = Math.floor(side / 2 / 256);
  const at = { x: 100, y: 0, width: 60, height: 60 };
  const hot = some[count >> 1];
  const first = smallLivery(some, own);
  const once = (k: number) => {
    const moved = some.map((layer) => (layer === hot ? ({ ...hot, x: side / 2 + k } as Layer) : layer));
    const [sheet] = first.sheets;
    const next = { ...first, sheets: [{ ...sheet, maps: [{ ...sheet.maps[0], layers: moved }] }] };
    const began = performance.now();
    scoped(() => cache.rect(next, 'face', 'colour', 0, tile, tile, at, from, 'hot'));
    return performance.now() - began;
  };
  for (let k = 0; k < 200; k++) once(k);
  return spread(Array.from({ length: 1500 }, (_, k) => once(k % 7))).median;
}

export async function benchDabs(): Promise<void> {
  for (const [what, a, b] of [
    ['10 layers and 100', [10, 1024], [100, 1024]],
    ['sheets of 1024 and of 8192, forty layers', [40, 1024], [40, 8192]],
  ] as const) {
    const [first, second] = [await dab(a[0], a[1]), await dab(b[0], b[1])];
    row(
      `a dab of 60 px drawn anew: ${what}`,
      '1.3 times',
      `${ms(first)} and ${ms(second)}: ${(second / first).toFixed(2)} times`,
    );
  }
}
