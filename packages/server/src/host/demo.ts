import { existsSync } from 'node:fs';
import { mkdir, readFile, readdir, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { strFromU8, unzipSync } from 'fflate';
import { z } from 'zod';
import { Template } from '@wet-lacquer/core/livery/template.ts';
import { gameFolder } from '@wet-lacquer/node/gameFolder.ts';
import { askDelivery, beginDelivery, openDelivery } from '../jobs/askDelivery.ts';
import { keepPicture } from '../jobs/picture.ts';
import { putBlob } from '../store/blobs.ts';
import { loadBundle } from '../store/bundles.ts';
import { transact, type Db } from '../store/db.ts';
import { addDecal } from '../store/decals.ts';
import { listTemplates, putTemplate } from '../store/templates.ts';
import type { Pool } from '@wet-lacquer/node/threads/pool.ts';
import { commitKept, getDelivery } from '../store/deliveries.ts';
import { log } from './log.ts';
import type { Services } from './services.ts';

/** How often it is looked whether a delivery is done. */
const LOOK_MS = 100;

const Marks = z.array(
  z.object({ file: z.string(), name: z.string(), tags: z.array(z.string()), origin: z.string(), licence: z.string() }),
);

/** Lays down what the stand-in games bring themselves; a game whose folder is there keeps it as it is. */
export async function installGames(demo: string, data: string): Promise<void> {
  const ending = '.game.zip';
  for (const name of (await readdir(demo)).filter((file) => file.endsWith(ending))) {
    const root = gameFolder(data, name.slice(0, -ending.length));
    if (existsSync(root)) continue;
    // Whole or not at all: a server that is killed meanwhile does it again.
    const draft = `${root}.draft`;
    await rm(draft, { recursive: true, force: true });
    const files = unzipSync(new Uint8Array(await readFile(path.join(demo, name))));
    for (const [file, bytes] of Object.entries(files)) {
      const full = path.join(draft, file);
      await mkdir(path.dirname(full), { recursive: true });
      await writeFile(full, bytes);
    }
    await rename(draft, root);
  }
}

/** A livery of the demo world, and the key that its files have there. */
export interface DemoLivery {
  id: string;
  key: string;
}

/** Loads the demo world into an empty database. @returns its liveries; of one that is not empty, none */
export async function loadDemo(db: Db, threads: Pool, folder: string): Promise<DemoLivery[]> {
  if ((await listTemplates(db)).length > 0) return [];
  const marks = Marks.parse(JSON.parse(await readFile(path.join(folder, 'marks.json'), 'utf8')));
  const template = Template.parse(JSON.parse(await readFile(path.join(folder, 'turnstone.template.json'), 'utf8')));
  const bundles = (await readdir(folder))
    .filter((name) => name.endsWith('.livery'))
    .toSorted()
    .toReversed();
  const packages = (await readdir(folder)).filter((name) => name.endsWith('.template.zip')).toSorted();
  const subjects = await Promise.all(
    packages.map(async (name) =>
      threads.run('openTemplate', { bytes: new Uint8Array(await readFile(path.join(folder, name))) }),
    ),
  );
  // All or nothing: a server that is killed meanwhile loads it again.
  return transact(db, async (tx) => {
    const pictureOf = async (name: string) => putBlob(tx, new Uint8Array(await readFile(path.join(folder, name))));
    await putTemplate(tx, template, await pictureOf('turnstone.png'));
    for (const { document, blobs, files } of subjects) {
      for (const content of [...blobs, ...files.values()]) await putBlob(tx, content);
      await putTemplate(tx, document, await pictureOf(`${document.key}.png`));
    }
    for (const { file, ...facts } of marks) {
      const bytes = new Uint8Array(await readFile(path.join(folder, '../marks', file)));
      await addDecal(tx, await threads.run('importDecal', { bytes }), facts);
    }
    const made: DemoLivery[] = [];
    for (const name of bundles) {
      const id = await loadBundle(tx, threads, new Uint8Array(await readFile(path.join(folder, name))));
      await keepPicture(tx, id, 0, await pictureOf(name.replace(/livery$/, 'png')));
      made.push({ id, key: name.replace(/\.livery$/, '') });
    }
    return made;
  });
}

/** What a delivery made, kept with the demo world: `delivery.json`, and its files under `blobs/` by their hash. */
const Stored = z.object({
  spec: z.string(),
  folder: z.string(),
  slot: z.number().nullable(),
  zip: z.string().nullable(),
  files: z.array(
    z.object({
      name: z.string(),
      blob: z.string(),
      bytes: z.number(),
      what: z.string(),
      signature: z.string(),
      base: z.string().nullable().optional(),
    }),
  ),
});

/**
 * Delivers liveries into their games one after the other, from what is kept of their deliveries: nothing is encoded. Where a game's folder is
 * not as it comes with the demo world, a livery is delivered as any other.
 */
export async function deliverDemo(services: Services, liveries: readonly DemoLivery[]): Promise<void> {
  for (const { id, key } of liveries) {
    try {
      if (await deliverStored(services, id, path.join(services.config.demo, `${key}.delivered.zip`))) continue;
      for (const { id: one } of await askDelivery(services, id, {})) await finished(services, one);
    } catch (error) {
      log.info({ error: String(error) }, 'a livery of the demo world was not delivered');
    }
  }
}

async function finished({ db }: Services, id: string): Promise<void> {
  while (['queued', 'encoding', 'publishing'].includes((await getDelivery(db, id)).state))
    await new Promise((resolve) => setTimeout(resolve, LOOK_MS));
}

/** @returns whether the kept results fit the game's folder as it is now */
async function deliverStored(services: Services, id: string, file: string): Promise<boolean> {
  const { db, config, publish } = services;
  if (!existsSync(file)) return false;
  const { 'delivery.json': about, ...blobs } = unzipSync(new Uint8Array(await readFile(file)));
  const kept = Stored.parse(JSON.parse(strFromU8(about)));
  const open = await openDelivery(services, id, kept.spec);
  // Files that it continues are looked at when it is published: changed ones make it be encoded anew.
  if (kept.slot !== open.target.slot || kept.folder !== open.plan.folder) return false;
  const made = await transact(db, async (tx) => {
    for (const content of Object.values(blobs)) await putBlob(tx, content);
    const { id: one } = await beginDelivery(tx, config, id, open);
    await commitKept(tx, one, kept);
    return one;
  });
  publish();
  await finished(services, made);
  return true;
}
