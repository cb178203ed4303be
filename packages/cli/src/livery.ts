import { existsSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { readBundle } from '@wet-lacquer/core/files/bundle.ts';
import { SHIPPED_SPECS } from '@wet-lacquer/core/games/index.ts';
import { specFor as ownSpec } from '@wet-lacquer/core/delivery/specs.ts';
import { keptTexts, lookAtTarget, type Credit, type Target } from '@wet-lacquer/core/delivery/target.ts';
import { filesOf } from '@wet-lacquer/core/livery/template.ts';
import { readSpec, type DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import { sceneOf } from '@wet-lacquer/server/jobs/scene.ts';
import { creditsOf } from '@wet-lacquer/server/jobs/target.ts';
import { folderReader } from '@wet-lacquer/node/gameFolder.ts';
import { getBlobs } from '@wet-lacquer/server/store/blobs.ts';
import { connect, type Db } from '@wet-lacquer/server/store/db.ts';
import { getLivery } from '@wet-lacquer/server/store/liveries.ts';
import { keepBlobsIn } from '@wet-lacquer/server/store/objects.ts';
import { specOf } from '@wet-lacquer/server/store/specs.ts';
import type { Scene } from '@wet-lacquer/node/threads/scene.ts';
import { readBytes, readJson } from './files.ts';

/** A livery as the command line opens it. */
export interface OpenScene extends Scene {
  credits: readonly Credit[];
  /** The spec that it is pinned to, where a painter made that; else it is a shipped one or its template's. */
  made: DeliverySpec | null;
  /** Files of the game's own that its template keeps, by their SHA-256. */
  files: ReadonlyMap<string, Uint8Array>;
}

const isId = (name: string) => /^[0-9a-f]{8}-[0-9a-f-]{27}$/.test(name);

/** A livery from a bundle file, or from the database by its id. @throws InputError */
export async function openLivery(name: string): Promise<OpenScene> {
  if (existsSync(name)) {
    const bundle = await readBundle(await readBytes(name));
    return { ...bundle, credits: bundle.borrowed, made: bundle.spec ?? null, files: bundle.files };
  }
  return inDatabase(name, async (db) => {
    const { livery } = await getLivery(db, name);
    const scene = await sceneOf(db, livery);
    const files = await getBlobs(db, filesOf(scene.template));
    return { ...scene, credits: await creditsOf(db, livery), made: await specOf(db, livery, scene.template), files };
  });
}

/** Something that is another whenever the livery was saved. */
export async function liveryRevision(name: string): Promise<string> {
  if (existsSync(name)) return String(statSync(name).mtimeMs);
  return inDatabase(name, async (db) => String((await getLivery(db, name)).revision));
}

async function inDatabase<T>(id: string, work: (db: Db) => Promise<T>): Promise<T> {
  if (!isId(id)) throw new InputError(`${id} is neither a bundle file nor the id of a livery.`);
  const { db, pool } = connect(databaseUrl());
  try {
    await keepBlobsIn(process.env.WET_LACQUER_BLOBS);
    return await work(db);
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

/** The spec asked for (the key of a shipped one, or a file), or the livery's own. @throws InputError */
export async function specFor(scene: OpenScene, asked: string | undefined): Promise<DeliverySpec> {
  if (!asked) return scene.made ?? ownSpec(scene.livery, scene.template);
  if (SHIPPED_SPECS[asked]) return SHIPPED_SPECS[asked];
  if (!existsSync(asked))
    throw new InputError(
      `There is no delivery spec "${asked}"; there are ${Object.keys(SHIPPED_SPECS).join(', ')}, or a spec's file.`,
    );
  return readSpec(await readJson(asked), asked);
}

/** What the livery's delivery meets in a game's folder. */
export const targetIn = async (scene: OpenScene, spec: DeliverySpec, folder: string): Promise<Target> =>
  lookAtTarget(
    scene.livery,
    scene.template,
    spec,
    await folderReader(folder),
    { slot: null, files: new Map() },
    scene.credits,
    [],
    await keptIn(scene, spec),
  );

/** The files of the template that the spec's sidecars are made of. @throws InputError when one was left out of the bundle */
export const keptIn = (scene: OpenScene, spec: DeliverySpec): Promise<Map<string, Uint8Array>> =>
  keptTexts(scene.template, spec, (hash) => {
    const bytes = scene.files.get(hash);
    return bytes
      ? Promise.resolve(bytes)
      : Promise.reject(new InputError('This bundle was saved without the game’s files.'));
  });
