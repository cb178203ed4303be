import { existsSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { writeBundle, type Bundle } from '@wet-lacquer/core/files/bundle.ts';
import { Template, type Template as Subject } from '@wet-lacquer/core/livery/template.ts';
import { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { layersIn } from '@wet-lacquer/core/livery/livery.ts';
import { newLivery } from '@wet-lacquer/core/livery/newLivery.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import { Pool } from '@wet-lacquer/node/threads/pool.ts';
import { readBytes, readJson, writeWhole } from '../files.ts';
import { allOf, UsageError, type Verb } from '../verb.ts';

/** The subjects that come along. */
const SUBJECTS = path.resolve(import.meta.dirname, '../../../demo/out');

/** lacquer start skin.template.zip mine.livery --name "Heron Line" --over skin/hull.dds */
export const start: Verb = {
  name: 'start',
  usage: 'TEMPLATE.template.zip|KEY OUT.livery [--name N] [--over SKIN]...',
  what: 'a new livery on a template, or over a finished skin whose files fit its sheets',
  args: 2,
  options: { name: { type: 'string' }, over: { type: 'string', multiple: true } },
  async run([from, to], values) {
    if (!to.endsWith('.livery')) throw new UsageError(`${to}: a livery’s name ends with .livery.`);
    const pool = new Pool(os.availableParallelism());
    try {
      const opened = await openSubject(pool, from);
      const skins = allOf(values, 'over');
      const skin = await Promise.all(
        skins.map(async (name) => ({ name: path.basename(name), bytes: await readBytes(name) })),
      );
      const over = skin.length > 0 ? await pool.run('overSkin', { template: opened.document, skin }) : null;
      const document = over?.document ?? opened.document;
      const blobs = new Map([...opened.blobs, ...(over?.blobs ?? [])]);
      const files = new Map([...opened.files, ...(over?.files ?? [])]);
      const hash = hashOf(JSON.stringify(document));
      const name = typeof values.name === 'string' ? values.name.trim() : 'Livery';
      if (name === '' || name.length > 200) throw new UsageError('--name: a name of 1 to 200 characters is wanted.');
      const livery = newLivery(document, hash, name);
      const used = new Set([
        ...layersIn(livery).flatMap((layer) => ('blob' in layer ? [layer.blob] : [])),
        ...(document.guides ?? []).map(({ blob }) => blob),
        ...Object.values(document.originals ?? {}).flatMap(({ pixels }) => pixels ?? []),
      ]);
      const bundle: Bundle = {
        livery,
        template: document,
        blobs: new Map([...blobs].filter(([blob]) => used.has(Sha256.parse(blob)))) as Bundle['blobs'],
        fonts: new Map(),
        files: files as Bundle['files'],
        borrowed: [],
      };
      await writeWhole(to, writeBundle(bundle));
      const remarks = over?.remarks ?? [];
      return {
        json: {
          name,
          template: document.key,
          sheets: document.sheets.map(({ key, width, height }) => ({ key, width, height })),
          over: Object.fromEntries(Object.entries(document.originals ?? {}).map(([key, file]) => [key, file.name])),
          remarks,
        },
        text: [`${to}: "${name}" on ${document.name}`, ...remarks.map((remark) => `  ${remark}`)].join('\n'),
      };
    } finally {
      await pool.close();
    }
  },
};

/** A template with its pictures and files: from a package, or one of those that come along. @throws InputError */
async function openSubject(
  pool: Pool,
  from: string,
): Promise<{ document: Subject; blobs: Map<string, Uint8Array>; files: ReadonlyMap<string, Uint8Array> }> {
  const shipped = path.join(SUBJECTS, `${path.basename(from)}.template.zip`);
  const file = existsSync(from) ? from : existsSync(shipped) ? shipped : null;
  if (!file) {
    const plain = path.join(SUBJECTS, `${path.basename(from)}.template.json`);
    if (!existsSync(plain))
      throw new InputError(`${from} is neither a template package nor the key of a subject here.`);
    return { document: Template.parse(await readJson(plain)), blobs: new Map(), files: new Map() };
  }
  const { document, blobs, files } = await pool.run('openTemplate', { bytes: await readBytes(file) });
  return { document, blobs: new Map(blobs.map((bytes) => [hashOf(bytes), bytes])), files };
}
