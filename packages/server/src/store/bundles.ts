import { inArray } from 'drizzle-orm';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { readBundle, writeBundle, type Bundle } from '@wet-lacquer/core/files/bundle.ts';
import type { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { SHIPPED_SPECS, specFor } from '@wet-lacquer/core/delivery/specs.ts';
import { strokesIn } from '@wet-lacquer/core/livery/strokes.ts';
import { layersIn, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import { fontsOf, sceneOf } from '../jobs/scene.ts';
import type { Pool } from '../threads/pool.ts';
import type { ImportedDecal } from '../threads/tasks.ts';
import { addDecal } from './decals.ts';
import { getBlobs, hashOf, putBlob } from './blobs.ts';
import type { Db, Tx } from './db.ts';
import { createLivery } from './liveries.ts';
import { decal } from './schema.ts';
import { madeFor, putSpec } from './specs.ts';
import { putTemplate } from './templates.ts';

/** A livery with everything in it, as one file. */
export async function makeBundle(db: Db, livery: Livery): Promise<Uint8Array> {
  const { template, blobs: own } = await sceneOf(db, livery);
  const guides = (template.guides ?? []).map((guide) => guide.blob);
  const blobs = new Map([...own, ...(await getBlobs(db, guides))]);
  const fonts = await fontsOf(livery);
  const known =
    blobs.size > 0
      ? await db
          .select()
          .from(decal)
          .where(inArray(decal.blob, [...blobs.keys()]))
      : [];
  const borrowed = known.map(({ blob, name, origin, licence }) => ({ blob: blob as Sha256, name, origin, licence }));
  const pins = { ...livery.pins, fonts: Object.fromEntries([...fonts].map(([key, bytes]) => [key, hashOf(bytes)])) };
  // Named versions are revisions of the log that stays here.
  const { versions: _versions, alsoBy = [], ...rest } = livery;
  // Of the other specs those go along that every copy of the product has.
  const also = alsoBy.filter((pin) => SHIPPED_SPECS[pin.key]?.version === pin.version);
  const { key, version } = livery.pins.spec;
  const spec = (await madeFor(db, [livery])).find((one) => one.key === key && one.version === version);
  return writeBundle({
    livery: { ...rest, pins, ...(also.length > 0 && { alsoBy: also }) },
    template,
    blobs: blobs as Bundle['blobs'],
    fonts,
    borrowed,
    spec,
  });
}

/**
 * Opens a bundle as a new livery; its decals join the library. Every decal is looked at like an uploaded one, in a thread.
 * @throws InputError; nothing is kept of a bundle that is not whole
 */
export async function loadBundle(db: Tx, threads: Pool, bytes: Uint8Array): Promise<string> {
  const { livery, template, blobs, borrowed, spec } = await readBundle(bytes);
  // A spec that is here already under its key and version stays as it is.
  const made = await madeFor(db, [livery]);
  const brought = made.some(({ key, version }) => key === spec?.key && version === spec.version) ? undefined : spec;
  specFor(livery, template, brought ? [...made, brought] : made);
  const credit = new Map(borrowed.map((b) => [b.blob, b]));
  const decals: { imported: ImportedDecal; blob: Sha256 }[] = [];
  const decalBlobs = new Set(layersIn(livery).flatMap((layer) => (layer.kind === 'decal' ? [layer.blob] : [])));
  const rest: Uint8Array[] = [];
  const strokes = new Map(strokesIn(livery).map(({ blob, tiles }) => [blob, tiles.length]));
  for (const [blob, content] of blobs) {
    const tiles = strokes.get(blob);
    if (tiles !== undefined) {
      await threads.run('checkStroke', { bytes: content, tiles });
      rest.push(content);
    } else if (!decalBlobs.has(blob)) {
      await threads.run('checkPixels', { bytes: content });
      rest.push(content);
    } else
      decals.push({ blob, imported: { ...(await threads.run('checkDecal', { bytes: content })), bytes: content } });
  }
  return db.transaction(async (tx) => {
    const hash = await putTemplate(tx, template);
    if (brought) await putSpec(tx, brought);
    if (hash !== livery.pins.template)
      throw new InputError('The template in this bundle is not the one that its livery was painted on.');
    for (const content of rest) await putBlob(tx, content);
    for (const { blob, imported } of decals) {
      const { name, origin, licence } = credit.get(blob) ?? {
        name: 'Decal',
        origin: 'came with a bundle',
        licence: 'not stated',
      };
      await addDecal(tx, imported, { name, origin, licence, tags: [livery.particulars.team].filter(Boolean) });
    }
    const { versions: _versions, ...begun } = livery;
    return createLivery(tx, begun);
  });
}
