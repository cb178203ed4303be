/** How long a large layered file takes to open, and how much memory: 4096 x 4096, sixty layers that each cover a quarter of the sheet. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Layer } from 'ag-psd';
import { pixels, writePsd } from '../packages/core/src/testing/layeredFiles.ts';
import { hasher } from './hash.ts';

const root = path.resolve(import.meta.dirname, '..');
const folder = path.join(root, '.data/bench');
mkdirSync(folder, { recursive: true });
const SIDE = 4096;
const file = path.join(folder, 'sixty.psd');

if (!existsSync(file)) {
  // Panels with grain, so that run lengths do not flatter: a quarter of the sheet each, half of them soft at their edges.
  const layers = Array.from({ length: 60 }, (_, i): Layer => {
    const noise = hasher(i);
    const [left, top] = [((i * 701) % 4) * 512, ((i * 467) % 5) * 512];
    return {
      name: `layer ${i + 1}`,
      left,
      top,
      blendMode: i % 4 === 3 ? 'multiply' : 'normal',
      opacity: i % 3 ? 1 : 0.7,
      imageData: pixels(SIDE / 2, SIDE / 2, (x, y) => {
        const g = (x >> 5) ^ (y >> 4) ^ noise(x >> 2, y >> 2);
        const edge = Math.min(x, y, SIDE / 2 - 1 - x, SIDE / 2 - 1 - y);
        return [(g * 3 + i * 20) & 255, (g * 5) & 255, (x >> 3) & 255, i % 2 ? 255 : Math.min(255, edge)];
      }),
    };
  });
  writeFileSync(file, writePsd(layers, SIDE, SIDE));
}

const child = spawnSync(
  'node',
  [
    '-e',
    `const began = performance.now();
     process.on('exit', () => console.error(JSON.stringify({ seconds: (performance.now() - began) / 1000, rss: process.resourceUsage().maxRSS / 1024 / 1024 })));
     process.argv = ['node', 'lacquer', 'inspect', ${JSON.stringify(file)}, '--json'];
     import(${JSON.stringify(path.join(root, 'packages/cli/dist/lacquer.js'))});`,
  ],
  { encoding: 'utf8', maxBuffer: 1 << 28 },
);
if (child.status !== 0) throw new Error(child.stderr);
const facts = JSON.parse(child.stdout) as { layers: unknown[] };
const { seconds, rss } = JSON.parse(child.stderr.trim().split('\n').at(-1)!) as { seconds: number; rss: number };
console.log(
  `opening ${facts.layers.length} layers of ${SIDE / 2} x ${SIDE / 2} in a PSD of ${SIDE} x ${SIDE}, roles and composite: ${seconds.toFixed(1)} s, ${rss.toFixed(2)} GiB at most`,
);
