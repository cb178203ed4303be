/** Runs TypeScript beside a PostgreSQL of its own, for benches and sieges. */
import { spawn } from 'node:child_process';
import path from 'node:path';
import { startPostgres } from './postgres.mjs';
import { data, root } from './steps.mjs';

/**
 * @param {string[][]} scripts each a file with its arguments, one after the other
 * @returns the last code that was not 0, or 0
 */
export async function runWithCluster(scripts) {
  const postgres = await startPostgres(path.join(data, 'test-pg'));
  let worst = 0;
  try {
    for (const script of scripts) {
      const code = await new Promise((resolve) => {
        const child = spawn('npx', ['tsx', ...script], {
          cwd: root,
          stdio: 'inherit',
          env: { ...process.env, TEST_POSTGRES: postgres.url('postgres') },
        });
        child.on('close', resolve);
      });
      if (code !== 0) worst = code ?? 1;
    }
  } finally {
    await postgres.stop();
  }
  return worst;
}
