import { InputError } from '@wet-lacquer/core/errors.ts';
import type { Bundle } from '@wet-lacquer/core/files/bundle.ts';
import { isSpec } from '@wet-lacquer/core/delivery/specs.ts';
import { layersIn, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import { filesOf } from '@wet-lacquer/core/livery/template.ts';
import { judge } from '@wet-lacquer/sync/judge.ts';
import { fontHashes } from '@wet-lacquer/node/fonts.ts';
import type { Pool } from '@wet-lacquer/node/threads/pool.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import { sceneOf } from '../jobs/scene.ts';
import { getBlobs, putBlob } from './blobs.ts';
import { checkBrought, creditsOf, keepBrought } from './brought.ts';
import { transact, type Db, type Tx } from './db.ts';
import { createLivery } from './liveries.ts';
import { madeFor, putSpec } from './specs.ts';
import { putTemplate } from './templates.ts';

/** A livery with everything in it, as one file. @param bare without the game's own files: it cannot be delivered over them from there */
export async function makeBundle(
  db: Db,
  threads: Pick<Pool, 'run'>,
  livery: Livery,
  bare = false,
): Promise<Uint8Array> {
  const { template, blobs: own, fonts = new Map<string, Uint8Array>() } = await sceneOf(db, livery);
  const guides = (template.guides ?? []).map((guide) => guide.blob);
  const blobs = new Map([...own, ...(await getBlobs(db, guides))]);
  const borrowed = await creditsOf(db, blobs.keys());
  const pins = { ...livery.pins, fonts: Object.fromEntries([...fonts].map(([key, bytes]) => [key, hashOf(bytes)])) };
  // Named versions are revisions of the log that stays here.
  const { versions: _versions, alsoBy = [], ...rest } = livery;
  // Of the other specs those go along that every copy of the product has.
  const also = alsoBy.filter((pin) => isSpec(pin, {}));
  const { key, version } = livery.pins.spec;
  const spec = (await madeFor(db, [livery])).find((one) => one.key === key && one.version === version);
  return threads.run('packBundle', {
    livery: { ...rest, pins, ...(also.length > 0 && { alsoBy: also }) },
    template,
    blobs: blobs as Bundle['blobs'],
    fonts,
    files: bare ? new Map() : ((await getBlobs(db, filesOf(template))) as Bundle['files']),
    borrowed,
    spec,
  });
}

/**
 * Opens a bundle as a new livery; its decals join the library. Every decal is looked at like an uploaded one, in a thread.
 * @param after the skin that it goes on from
 * @throws InputError; nothing is kept of a bundle that is not whole
 */
export async function loadBundle(
  db: Tx,
  threads: Pick<Pool, 'run'>,
  bytes: Uint8Array,
  after?: Livery['after'],
): Promise<string> {
  const { livery, template, blobs, files, fonts, borrowed, spec } = await threads.run('openBundle', { bytes });
  // A spec that is here already under its key and version stays as it is.
  const here = await madeFor(db, [livery]);
  const own = here.some(({ key, version }) => key === spec?.key && version === spec.version) ? undefined : spec;
  const specs = own ? [...here, own] : here;
  const brought = await checkBrought(threads, blobs, layersIn(livery));
  const pinned: Livery['pins']['fonts'] = {};
  for (const [key, content] of fonts) {
    const { facts } = await threads.run('lookAtBlob', { bytes: content });
    if (facts.is !== 'font') throw new InputError(`The font "${key}" in this bundle is damaged.`);
    pinned[key] = hashOf(content);
    brought.facts.set(pinned[key], facts);
  }
  // Versions are revisions of the log that stayed elsewhere; other specs come along where they are here as well.
  const { versions: _versions, alsoBy = [], ...rest } = livery;
  const also = alsoBy.filter((pin) => isSpec(pin, template, specs));
  const begun: Livery = {
    ...rest,
    pins: { ...rest.pins, fonts: pinned },
    ...(also.length > 0 && { alsoBy: also }),
    ...(after && { after }),
  };
  const shipped = await fontHashes();
  return transact(db, async (tx) => {
    const hash = await putTemplate(tx, template);
    if (own) await putSpec(tx, own);
    if (hash !== livery.pins.template)
      throw new InputError('The template in this bundle is not the one that its livery was painted on.');
    judge(null, begun, {
      blob: (one) => brought.facts.get(one),
      template: () => template,
      spec: (pin) => isSpec(pin, template, specs),
      font: (key) => shipped.get(key),
    });
    for (const content of files.values()) await putBlob(tx, content);
    for (const content of fonts.values()) await putBlob(tx, content, { is: 'font' });
    await keepBrought(tx, brought, borrowed, 'came with a bundle', livery.particulars.team);
    return createLivery(tx, begun);
  });
}
