import { readFile, readdir } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import { Template } from '@wet-lacquer/core/livery/template.ts';
import { loadBundle } from '../store/bundles.ts';
import type { Db } from '../store/db.ts';
import { addDecal } from '../store/decals.ts';
import { listTemplates, putTemplate } from '../store/templates.ts';
import type { Pool } from '../threads/pool.ts';

const Marks = z.array(
  z.object({ file: z.string(), name: z.string(), tags: z.array(z.string()), origin: z.string(), licence: z.string() }),
);

/** Loads the demo world into an empty database. @returns whether there was anything to do */
export async function loadDemo(db: Db, threads: Pool, folder: string): Promise<boolean> {
  if ((await listTemplates(db)).length > 0) return false;
  const marks = Marks.parse(JSON.parse(await readFile(path.join(folder, 'marks.json'), 'utf8')));
  for (const { file, ...facts } of marks) {
    const bytes = new Uint8Array(await readFile(path.join(folder, '../marks', file)));
    await addDecal(db, await threads.run('importDecal', { bytes }), facts);
  }
  const bundles = (await readdir(folder))
    .filter((name) => name.endsWith('.livery'))
    .sort()
    .reverse();
  for (const name of bundles) await loadBundle(db, threads, new Uint8Array(await readFile(path.join(folder, name))));
  // The template last: its being there says that all of the demo is.
  await putTemplate(
    db,
    Template.parse(JSON.parse(await readFile(path.join(folder, 'turnstone.template.json'), 'utf8'))),
  );
  return true;
}
