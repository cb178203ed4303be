import { Router } from 'express';
import { SHIPPED_FONTS } from '@wet-lacquer/core/livery/fonts.ts';
import { shippedFont } from '../host/fonts.ts';
import type { Services } from '../host/services.ts';
import { getBlob, hashOf } from '../store/blobs.ts';
import { getTemplate, listTemplates } from '../store/templates.ts';
import { sendForEver } from './http.ts';

/** What liveries draw with: templates, fonts and blobs. All of it is named by its hash and never changes. */
export function sources({ db, threads }: Services): Router {
  const router = Router();

  router.get('/templates', async (_req, res) => {
    const all = await listTemplates(db);
    res.json(
      all.map(({ hash, document: { key, name, game, gameName, sheets } }) => ({
        hash,
        key,
        name,
        game,
        gameName,
        sheets,
      })),
    );
  });

  /** Islands of the layout with their locator colours, and what a painter should know of them. */
  router.get('/templates/:hash/layout', async (req, res) => {
    const template = await getTemplate(db, req.params.hash);
    sendForEver(res, 'json', new TextEncoder().encode(JSON.stringify(await threads.run('layout', { template }))));
  });

  router.get('/templates/:hash', async (req, res) => {
    sendForEver(res, 'json', new TextEncoder().encode(JSON.stringify(await getTemplate(db, req.params.hash))));
  });

  router.get('/fonts', async (_req, res) => {
    res.json(
      await Promise.all(
        SHIPPED_FONTS.map(async ({ key, name, kind }) => ({ key, name, kind, hash: hashOf(await shippedFont(key)) })),
      ),
    );
  });

  router.get('/fonts/:key', async (req, res) => {
    sendForEver(res, 'font/woff', await shippedFont(req.params.key));
  });

  router.get('/blobs/:hash', async (req, res) => {
    sendForEver(res, 'application/octet-stream', await getBlob(db, req.params.hash));
  });

  /** A decal as a small picture: drawings and stored pixels alike come as PNG. */
  router.get('/blobs/:hash/thumb', async (req, res) => {
    sendForEver(res, 'png', await threads.run('decalThumb', { bytes: await getBlob(db, req.params.hash), side: 256 }));
  });

  return router;
}
