import express from 'express';
import { InputError } from '@wet-lacquer/core/errors.ts';
import type { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { blobsIn, Parcel } from '@wet-lacquer/core/livery/parcel.ts';
import { judgeLayer } from '@wet-lacquer/sync/judge.ts';
import { fontHashes } from '@wet-lacquer/node/fonts.ts';
import { guarded, type Guarded } from '../people/guard.ts';
import type { Services } from '../host/services.ts';
import { getBlobs } from '../store/blobs.ts';
import { checkBrought, creditsOf, keepBrought } from '../store/brought.ts';
import { bodyOf, bytesOf, leaving } from './http.ts';
import { transact } from '../store/db.ts';

/** Teams' kits, as files that any server takes. */
export function kits({ db, threads }: Services): Guarded {
  const router = guarded();

  /** A kit with everything that its layers lean on. */
  router.post('/', 'painters', async (req, res) => {
    const parcel = bodyOf(Parcel, req.body);
    const wanted = blobsIn(parcel);
    const blobs = (await getBlobs(
      db,
      wanted.map(({ blob }) => blob),
    )) as Map<Sha256, Uint8Array>;
    const missing = wanted.find(({ blob }) => !blobs.has(blob));
    if (missing) throw new InputError(`The picture of "${missing.name}" is not here.`);
    const bytes = await threads.run(
      'packKit',
      { parcel, blobs, borrowed: await creditsOf(db, blobs.keys()) },
      leaving(res),
    );
    res.type('application/zip').send(Buffer.from(bytes));
  });

  /** Takes in what a kit brings, and says what it is made of. */
  router.post('/open', 'painters', express.raw({ type: () => true, limit: '512mb' }), async (req, res) => {
    const { parcel, blobs, borrowed } = await threads.run('openKit', { bytes: bytesOf(req.body) }, leaving(res));
    const { layers } = parcel;
    const brought = await checkBrought(threads, blobs, layers);
    const fonts = await fontHashes();
    const known = { blob: (hash: string) => brought.facts.get(hash), font: (key: string) => fonts.get(key) };
    for (const layer of layers) judgeLayer(layer, undefined, known);
    await transact(db, (tx) => keepBrought(tx, brought, borrowed, 'came with a kit', ''));
    res.json(parcel);
  });

  return router;
}
