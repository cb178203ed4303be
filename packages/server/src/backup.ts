/** Backs a database up, or fills an empty one from a backup. `node backup.js backup|restore FILE`, with DATABASE_URL. */
import { InputError } from '@wet-lacquer/core/errors.ts';
import { readConfig } from './host/config.ts';
import { backUp, restore } from './store/backup.ts';
import { bringUpToDate, connect, whenThere } from './store/db.ts';
import { keepBlobsIn } from './store/objects.ts';

const [what, file] = process.argv.slice(2);
const config = readConfig(process.env);
const { pool } = connect(config.databaseUrl);
try {
  await keepBlobsIn(config.blobs);
  await whenThere(() => bringUpToDate(pool, config.migrations));
  const { rows, blobs, bytes } = await (what === 'backup' ? backUp : restore)(pool, file);
  console.log(`${file}: ${rows} rows, ${blobs} blobs of ${(bytes / 2 ** 20).toFixed(1)} MiB.`);
} catch (error) {
  const code = (error as NodeJS.ErrnoException).code;
  console.error(
    error instanceof InputError
      ? error.message
      : code === 'ENOENT'
        ? `${file} is not there.`
        : code === 'EEXIST'
          ? `${file}.part is there: another backup is being written, or was broken off; take it away first.`
          : String(error),
  );
  process.exitCode = 1;
} finally {
  await pool.end();
}
