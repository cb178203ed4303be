/** Makes a link that lets somebody in: `node painter.js [NAME]`, with DATABASE_URL. NAME: back into their account; none: a new keeper. */
import { eq } from 'drizzle-orm';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { readConfig } from './host/config.ts';
import { invite, keyOf } from './people/accounts.ts';
import { bringUpToDate, connect, whenThere } from './store/db.ts';
import { painter } from './store/schema.ts';

const [name] = process.argv.slice(2);
const config = readConfig(process.env);
const { db, pool } = connect(config.databaseUrl);
try {
  await whenThere(() => bringUpToDate(pool, config.migrations));
  const [found] = name
    ? await db
        .select()
        .from(painter)
        .where(eq(painter.nameKey, keyOf(name)))
    : [];
  if (name && !found) throw new InputError(`Nobody is called ${name}.`);
  const token = await invite(db, {
    note: 'made on the server',
    keeper: found?.keeper ?? true,
    painterId: found?.id ?? null,
  });
  console.log(`Good once, for seven days: ${config.origin ?? `http://localhost:${config.port}`}/invited#${token}`);
} catch (error) {
  console.error(error instanceof InputError ? error.message : String(error));
  process.exitCode = 1;
} finally {
  await pool.end();
}
