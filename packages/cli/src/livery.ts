import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { readBundle } from '@wet-lacquer/core/files/bundle.ts';
import { SHIPPED_SPECS, specFor as ownSpec } from '@wet-lacquer/core/delivery/specs.ts';
import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import { sceneOf } from '@wet-lacquer/server/jobs/scene.ts';
import { connect } from '@wet-lacquer/server/store/db.ts';
import { getLivery } from '@wet-lacquer/server/store/liveries.ts';
import type { Scene } from '@wet-lacquer/server/threads/tasks.ts';
import { readBytes } from './files.ts';

/** A livery from a bundle file, or from the database by its id. @throws InputError */
export async function openLivery(name: string): Promise<Scene> {
  if (existsSync(name)) return readBundle(await readBytes(name));
  if (!/^[0-9a-f]{8}-[0-9a-f-]{27}$/.test(name))
    throw new InputError(`${name} is neither a bundle file nor the id of a livery.`);
  const { db, pool } = connect(databaseUrl());
  try {
    return await sceneOf(db, (await getLivery(db, name)).livery);
  } finally {
    await pool.end();
  }
}

/** DATABASE_URL, or the database of the server that npm start is running here. */
function databaseUrl(): string {
  if (process.env.DATABASE_URL) return process.env.DATABASE_URL;
  const left = path.resolve(import.meta.dirname, '../../../.data/database-url');
  if (!existsSync(left)) throw new InputError('To open a livery by its id, start Wet Lacquer or set DATABASE_URL.');
  return readFileSync(left, 'utf8').trim();
}

/** The spec asked for, or the livery's own. @throws InputError */
export function specFor(scene: Scene, key: string | undefined): DeliverySpec {
  if (!key) return ownSpec(scene.livery, scene.template);
  const spec = SHIPPED_SPECS[key];
  if (!spec)
    throw new InputError(`There is no delivery spec "${key}"; there are ${Object.keys(SHIPPED_SPECS).join(', ')}.`);
  return spec;
}
