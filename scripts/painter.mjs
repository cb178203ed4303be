/** npm run painter -- [NAME]: a link that makes an account for a keeper, or lets NAME back in. */
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { build, data, packages, run } from './steps.mjs';

// Where npm start runs, it says which database it uses.
const kept = path.join(data, 'database-url');
const url = process.env.DATABASE_URL ?? (existsSync(kept) ? readFileSync(kept, 'utf8') : null);
if (!url) {
  console.error('Nothing runs here: start it with WET_LACQUER_SIGN_IN=on npm start, or say DATABASE_URL.');
  process.exit(2);
}
try {
  await packages({ tests: false });
  await build();
  process.stdout.write(
    await run('node', ['packages/server/dist/painter.js', ...process.argv.slice(2)], {
      env: { ...process.env, DATABASE_URL: url },
    }),
  );
} catch (error) {
  console.error(error.message.split('\n').slice(1).join('\n') || error.message);
  process.exitCode = 1;
}
