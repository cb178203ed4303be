import express from 'express';
import { z } from 'zod';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { joinStrokes } from '@wet-lacquer/core/paint/strokes.ts';
import { SHIPPED_FONTS } from '@wet-lacquer/core/livery/fonts.ts';
import { shippedFont } from '@wet-lacquer/node/fonts.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import type { FontCard } from '@wet-lacquer/sync/answers.ts';
import { guarded, type Guarded } from '../people/guard.ts';
import type { Services } from '../host/services.ts';
import { decalPicture } from '../jobs/picture.ts';
import { getBlob, getBlobs, putBlob } from '../store/blobs.ts';
import { answer, bodyOf, bytesOf, leaving, sendBlob, sendForEver } from './http.ts';

const FontAsked = z.object({ hash: Sha256.optional() });
const Hashes = z.object({ hashes: z.array(Sha256).min(1).max(2000) });
const MANY_BYTES = 32 * 1024 * 1024;

/** What liveries draw with: fonts and blobs. All of it is named by its hash and never changes. */
export function sources({ db, threads }: Services): Guarded {
  const router = guarded();
  router.get('/fonts', 'painters', async (_req, res) => {
    answer<FontCard[]>(
      res,
      await Promise.all(
        SHIPPED_FONTS.map(async ({ key, name, kind }) => ({ key, name, kind, hash: hashOf(await shippedFont(key)) })),
      ),
    );
  });

  router.get('/fonts/:key', 'painters', async (req, res) => {
    const { hash } = bodyOf(FontAsked, req.query);
    const present = await shippedFont(req.params.key);
    // The file that a livery came with, where it is another.
    sendForEver(res, 'font/woff', !hash || hashOf(present) === hash ? present : await getBlob(db, hash));
  });

  router.get('/blobs/:hash', 'painters', async (req, res) => {
    await sendBlob(req, res, db, req.params.hash);
  });

  /** A decal as a small picture: drawings and stored pixels alike come as PNG. */
  router.get('/blobs/:hash/thumb', 'painters', async (req, res) => {
    sendForEver(res, 'png', await decalPicture(db, threads, req.params.hash, leaving(res)));
  });

  /** Stored pixels as PNG, 2048 on the longer side at most. */
  router.get('/blobs/:hash/picture', 'painters', async (req, res) => {
    sendForEver(
      res,
      'png',
      await threads.run('decalThumb', { bytes: await getBlob(db, req.params.hash), side: 2048 }, leaving(res)),
    );
  });

  /** Takes in a stroke as the brush made it; what a livery then names is known to be one. */
  router.post('/strokes', 'painters', express.raw({ type: () => true, limit: '128mb' }), async (req, res) => {
    const bytes = bytesOf(req.body);
    const { facts } = await threads.run('lookAtBlob', { bytes }, leaving(res));
    if (facts.is !== 'stroke') throw new InputError('This is not a stroke, or it is damaged.');
    res.status(201).json({ blob: await putBlob(db, bytes, facts) });
  });

  /**
   * Many strokes at once, in the order in which they are asked for. What would make the answer too large is left out at the end: it is
   * asked for again.
   */
  router.post('/strokes/many', 'painters', async (req, res) => {
    const { hashes } = bodyOf(Hashes, req.body);
    const found = await getBlobs(db, hashes);
    const strokes: Uint8Array[] = [];
    let total = 0;
    for (const hash of hashes) {
      const bytes = found.get(hash);
      if (!bytes) throw new InputError(`There is no stroke stored under ${hash.slice(0, 12)}.`);
      total += bytes.length;
      if (strokes.length > 0 && total > MANY_BYTES) break;
      strokes.push(bytes);
    }
    res.type('application/octet-stream').send(Buffer.from(joinStrokes(strokes).buffer));
  });

  /** Takes in a picture to look at: PNG, JPEG or WebP in the body. */
  router.post('/pictures', 'painters', express.raw({ type: () => true, limit: '64mb' }), async (req, res) => {
    const picture = await threads.run('importPicture', { bytes: bytesOf(req.body) }, leaving(res));
    const { bytes, ...size } = picture;
    res.status(201).json({ blob: await putBlob(db, bytes, { is: 'pixels', ...size }), ...size });
  });

  return router;
}
