/** Two heavy deliveries, part by part, on one thread and on two: the Whimbrel's ten sheets, and the Turnstone at twice its size. */
import { readFileSync } from 'node:fs';
import { planDelivery } from '../packages/core/src/delivery/plan.ts';
import { SHIPPED_SPECS } from '../packages/core/src/games/index.ts';
import { NO_TARGET } from '../packages/core/src/delivery/target.ts';
import { readBundle } from '../packages/core/src/files/bundle.ts';
import { Sha256 } from '../packages/core/src/livery/ids.ts';
import { newLivery } from '../packages/core/src/livery/newLivery.ts';
import type { DeliverySpec } from '../packages/core/src/livery/spec.ts';
import { layerOf } from '../packages/core/src/testing/scenes.ts';
import { makeFiles } from '../packages/node/src/makeFiles.ts';
import type { Scene } from '../packages/node/src/threads/scene.ts';
import { openTemplate } from '../packages/node/src/threads/templates.ts';
import { Pool } from '../packages/node/src/threads/pool.ts';

const demo = (name: string) => new Uint8Array(readFileSync(new URL(`../demo/out/${name}`, import.meta.url)));

/** Every map of the Whimbrel in a slanted fade under stripes: nothing is flat, so that no block is free. */
async function whimbrel(): Promise<Scene> {
  const { document: template } = await openTemplate({ bytes: demo('whimbrel.template.zip') });
  const livery = newLivery(template, Sha256.parse('0'.repeat(64)), 'Bench');
  livery.particulars.registration = 'NM-1';
  for (const sheet of livery.sheets)
    for (const map of sheet.maps) {
      const stops = ['#e8e2d2', '#2f5d62'].map((hex, at) => ({ at, paint: { hex }, opacity: 100 }));
      map.layers.push(
        layerOf('fade', { shape: 'linear', x: 0, y: 0, length: 2600, angle: 40, stops }),
        layerOf('stripe', { paint: { hex: '#c4532f' }, x: 900, y: 900, angle: 15, width: 300, softness: 12 }),
      );
    }
  return { livery, template, blobs: new Map() };
}

const STAGES = ['painting', 'filtering', 'encoding', 'the rest'] as const;

async function measure(what: string, scene: Scene, spec: DeliverySpec): Promise<void> {
  for (const threads of [1, 2]) {
    const pool = new Pool(threads, new URL('../packages/server/dist/thread.js', import.meta.url));
    for (const warm of ['cold', 'warm']) {
      const spent: Record<string, number> = {};
      let [stage, since] = ['the rest', performance.now()];
      const into = (next: string) => {
        spent[stage] = (spent[stage] ?? 0) + performance.now() - since;
        [stage, since] = [next, performance.now()];
      };
      const began = performance.now();
      const plan = planDelivery(scene.livery, scene.template, spec, NO_TARGET);
      const files = await makeFiles(pool, scene, spec, plan, NO_TARGET, async (step) =>
        into(
          step.endsWith('painting')
            ? 'painting'
            : step.includes('filtering')
              ? 'filtering'
              : step.includes('mip level')
                ? 'encoding'
                : 'the rest',
        ),
      );
      into('the rest');
      const all = performance.now() - began;
      const shares = STAGES.map((one) => `${one} ${Math.round((100 * (spent[one] ?? 0)) / all)} %`).join(', ');
      const bytes = files.reduce((n, file) => n + file.bytes, 0);
      const peak = Math.round(process.resourceUsage().maxRSS / 1024);
      console.log(
        `${what}, ${threads} ${threads === 1 ? 'thread' : 'threads'}, ${warm}: ${(all / 1000).toFixed(1)} s for ${files.length} files, ${(bytes / 2 ** 20).toFixed(0)} MiB${threads === 1 ? ` (${shares})` : ''}; at most ${peak} MiB until now`,
      );
    }
    await pool.close();
  }
}

await measure('Whimbrel, ten sheets of 2048 in BC3', await whimbrel(), SHIPPED_SPECS['ninth-meridian']);
const bundle = await readBundle(demo('tern-tide.livery'));
const brackwater = SHIPPED_SPECS['brackwater-run'];
const doubled = { ...brackwater, files: brackwater.files.map((file) => ({ ...file, scale: 2 as const })) };
await measure('Turnstone, hull at 4096 in BC7', { ...bundle, blobs: bundle.blobs }, doubled);
