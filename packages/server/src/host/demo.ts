import { existsSync } from 'node:fs';
import { mkdir, readFile, readdir, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { unzipSync } from 'fflate';
import { z } from 'zod';
import { Template } from '@wet-lacquer/core/livery/template.ts';
import { gameFolder } from '@wet-lacquer/node/gameFolder.ts';
import { pictureOf } from '../jobs/picture.ts';
import { putBlob } from '../store/blobs.ts';
import { loadBundle } from '../store/bundles.ts';
import { transact, type Db } from '../store/db.ts';
import { addDecal } from '../store/decals.ts';
import { listTemplates, putTemplate } from '../store/templates.ts';
import type { Pool } from '@wet-lacquer/node/threads/pool.ts';

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

/** Loads the demo world into an empty database. @returns whether there was anything to do */
export async function loadDemo(db: Db, threads: Pool, folder: string): Promise<boolean> {
  if ((await listTemplates(db)).length > 0) return false;
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
  const made = await transact(db, async (tx) => {
    await putTemplate(tx, template);
    for (const { document, blobs, files } of subjects) {
      for (const content of [...blobs, ...files.values()]) await putBlob(tx, content);
      await putTemplate(tx, document);
    }
    for (const { file, ...facts } of marks) {
      const bytes = new Uint8Array(await readFile(path.join(folder, '../marks', file)));
      await addDecal(tx, await threads.run('importDecal', { bytes }), facts);
    }
    const ids: string[] = [];
    for (const name of bundles)
      ids.push(await loadBundle(tx, threads, new Uint8Array(await readFile(path.join(folder, name)))));
    return ids;
  });
  for (const id of made) await pictureOf(db, threads, id, 0);
  return true;
}
