import { Router } from 'express';
import { z } from 'zod';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { SHIPPED_FONTS } from '@wet-lacquer/core/livery/fonts.ts';
import { shippedFont } from '../host/fonts.ts';
import { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { newLivery } from '@wet-lacquer/core/livery/newLivery.ts';
import { VIEW } from '../jobs/picture.ts';
import { sceneOf } from '../jobs/scene.ts';
import type { Services } from '../host/services.ts';
import { NotFound } from '../host/errors.ts';
import { getBlob, hashOf, putBlob } from '../store/blobs.ts';
import { getTemplate, listTemplates } from '../store/templates.ts';
import { bodyOf, sendForEver } from './http.ts';

const BAKE_SIDE = 512;
const BakeWish = z.strictObject({
  rays: z.number().int().min(8).max(512).default(64),
  /** Metres. */
  reach: z.number().min(0.01).max(1000).default(1.5),
});

/** What liveries draw with: templates, fonts and blobs. All of it is named by its hash and never changes. */
export function sources({ db, threads }: Services): Router {
  const router = Router();
  const beginning = async (hash: string) =>
    sceneOf(db, newLivery(await getTemplate(db, hash), Sha256.parse(hash), 'New'));

  router.get('/templates', async (_req, res) => {
    const all = await listTemplates(db);
    res.json(
      all.map(({ hash, document: { key, name, game, gameName, sheets, parts, ownSpec } }) => ({
        hash,
        key,
        name,
        game,
        gameName,
        sheets,
        parts: parts.length,
        own: ownSpec !== undefined,
      })),
    );
  });

  /** The model with what a new livery begins with, as PNG. */
  router.get('/templates/:hash/picture', async (req, res) => {
    const scene = await beginning(req.params.hash);
    sendForEver(res, 'png', await threads.run('picture', { scene, ...VIEW }));
  });

  /** A sheet with what a new livery begins with, about 1024 texels on its longer side at most, as PNG. */
  router.get('/templates/:hash/sheets/:sheet', async (req, res) => {
    const scene = await beginning(req.params.hash);
    const sheet = scene.template.sheets.find((s) => s.key === req.params.sheet);
    const step = sheet ? Math.max(1, Math.ceil(Math.max(sheet.width, sheet.height) / 1024)) : 1;
    sendForEver(res, 'png', await threads.run('sheetPicture', { scene, sheet: req.params.sheet, step }));
  });

  /** Islands of the layout with their locator colours, and what a painter should know of them. */
  router.get('/templates/:hash/layout', async (req, res) => {
    const template = await getTemplate(db, req.params.hash);
    sendForEver(res, 'json', new TextEncoder().encode(JSON.stringify(await threads.run('layout', { template }))));
  });

  router.get('/templates/:hash', async (req, res) => {
    sendForEver(res, 'json', new TextEncoder().encode(JSON.stringify(await getTemplate(db, req.params.hash))));
  });

  /** Bakes ambient occlusion for a sheet; the answer is a line of JSON for every step, the last one with the blob. Leaving ends it. */
  router.post('/templates/:hash/sheets/:sheet/occlusion', async (req, res) => {
    const { rays, reach } = bodyOf(BakeWish, req.body);
    const template = await getTemplate(db, req.params.hash);
    const sheet = template.sheets.find((s) => s.key === req.params.sheet);
    if (!sheet) throw new NotFound('There is no such sheet.');
    const scale = Math.min(1, BAKE_SIDE / Math.max(sheet.width, sheet.height));
    const size = { width: Math.ceil(sheet.width * scale), height: Math.ceil(sheet.height * scale) };
    const left = new AbortController();
    res.on('close', () => left.abort());
    res.set({ 'Content-Type': 'application/x-ndjson', 'Cache-Control': 'no-store' });
    const say = (line: object) => res.write(`${JSON.stringify(line)}\n`);
    try {
      const bake = { template, sheet: sheet.key, ...size, rays, reach };
      const { bytes, width, height } = await threads.occlusion(bake, (done) => say({ done }), left.signal);
      say({ blob: await putBlob(db, bytes), width, height });
    } catch (error) {
      if (!left.signal.aborted)
        say({ error: error instanceof InputError ? error.message : 'The bake did not succeed.' });
    }
    res.end();
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
