/** npm run backup -- FILE and npm run restore -- FILE: everything that is stored, as one open archive, and back into an empty store. */
import { existsSync, mkdirSync } from 'node:fs';
import path from 'node:path';
import { startPostgres } from './postgres.mjs';
import { build, data, debian, packages, run, step } from './steps.mjs';

const [what, named] = process.argv.slice(2);
if (!named || (what !== 'backup' && what !== 'restore')) {
  console.error('Say where: npm run backup -- FILE.tar, or npm run restore -- FILE.tar');
  process.exit(2);
}
const file = path.resolve(process.env.INIT_CWD ?? process.cwd(), named);
if (what === 'backup' && existsSync(file)) {
  console.error(`${file} is there already; a backup writes over nothing.`);
  process.exit(1);
}
mkdirSync(data, { recursive: true });
let started = null;
try {
  await packages({ tests: false });
  let url = process.env.DATABASE_URL;
  if (!url) {
    await debian('postgres');
    const folder = path.join(data, 'pg');
    await step('Looking for PostgreSQL', async () => {
      const cluster = await startPostgres(folder);
      // One that was running already goes on.
      if (!cluster.found) started = cluster;
      url = await cluster.database('wet_lacquer');
    });
  }
  await build();
  const said = await run('node', ['packages/server/dist/backup.js', what, file], {
    env: { ...process.env, DATABASE_URL: url },
  });
  process.stdout.write(said);
} catch (error) {
  console.error(error.message.split('\n').slice(1).join('\n') || error.message);
  process.exitCode = 1;
} finally {
  await started?.stop();
}
