/** npm run worker: encodes deliveries for the database that DATABASE_URL names, on this machine too. */
import { spawn } from 'node:child_process';
import { build, packages, root } from './steps.mjs';

if (!process.env.DATABASE_URL) {
  console.error('Say which database to work for: DATABASE_URL=postgres://user@host/name npm run worker');
  process.exit(2);
}
await packages({ tests: false });
await build();
const worker = spawn('node', ['--enable-source-maps', 'packages/server/dist/worker.js'], {
  cwd: root,
  stdio: 'inherit',
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => worker.kill(signal));
worker.on('close', (code) => process.exit(code ?? 0));
