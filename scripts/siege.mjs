/** npm run siege [-- crowd SECONDS | kills HOW-MANY DELIVERIES]: painters, deliveries and kills, all on loopback; prints what was lost. */
import { spawn } from 'node:child_process';
import path from 'node:path';
import { startPostgres } from './postgres.mjs';
import { build, data, debian, packages, root } from './steps.mjs';

await packages();
await debian('postgres', 'chromium');
await build();
const postgres = await startPostgres(path.join(data, 'test-pg'));
try {
  process.exitCode = await new Promise((resolve) => {
    const child = spawn('npx', ['tsx', 'siege/siege.ts', ...process.argv.slice(2)], {
      cwd: root,
      stdio: 'inherit',
      env: { ...process.env, TEST_POSTGRES: postgres.url('postgres') },
    });
    child.on('close', resolve);
  });
} finally {
  await postgres.stop();
}
