/** Ambient occlusion of the Turnstone's hull (5,100 triangles): 64 rays a texel at 512 x 512, brought up to 2048, with all threads. */
import { readFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { Template } from '../packages/core/src/livery/template.ts';
import { Pool } from '../packages/server/src/threads/pool.ts';

const root = path.resolve(import.meta.dirname, '..');
const template = Template.parse(JSON.parse(readFileSync(path.join(root, 'demo/out/turnstone.template.json'), 'utf8')));
const threads = os.availableParallelism();
const pool = new Pool(threads, new URL('../packages/server/dist/thread.js', import.meta.url));
for (const run of ['cold', 'warm']) {
  const began = performance.now();
  await pool.occlusion({ template, sheet: 'hull', width: 512, height: 512, rays: 64, reach: 1.5 }, () => {});
  console.log(
    `occlusion of the hull, ${threads} threads, ${run}: ${((performance.now() - began) / 1000).toFixed(1)} s`,
  );
}
await pool.close();
