/** Builds the pages (Vite), and the server, its threads and the command line (esbuild; packages stay outside). */
import { build as bundle } from 'esbuild';
import { rmSync } from 'node:fs';
import path from 'node:path';
import { build as pages } from 'vite';
import { kernels } from './kernels.mjs';
import { root } from './steps.mjs';

await kernels();
const common = {
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  packages: 'external',
  alias: {
    '@wet-lacquer/core': path.join(root, 'packages/core/src'),
    '@wet-lacquer/sync': path.join(root, 'packages/sync/src'),
    '@wet-lacquer/node': path.join(root, 'packages/node/src'),
    '@wet-lacquer/server': path.join(root, 'packages/server/src'),
  },
  sourcemap: true,
  logLevel: 'warning',
};
const from = (name) => path.join(root, 'packages', name);
// In pieces, so that a thread or a verb loads no more than it needs; those of earlier builds go.
rmSync(from('server/dist'), { recursive: true, force: true });
await bundle({
  ...common,
  entryPoints: [
    ...['main', 'worker', 'backup', 'painter'].map((name) => from(`server/src/${name}.ts`)),
    from('node/src/threads/thread.ts'),
  ],
  entryNames: '[name]',
  splitting: true,
  outdir: from('server/dist'),
});
rmSync(from('cli/dist'), { recursive: true, force: true });
await bundle({
  ...common,
  entryPoints: [from('cli/src/lacquer.ts'), from('node/src/threads/thread.ts')],
  entryNames: '[name]',
  splitting: true,
  outdir: from('cli/dist'),
});
if (!process.argv.includes('--server')) await pages({ root: from('web'), logLevel: 'warn' });
