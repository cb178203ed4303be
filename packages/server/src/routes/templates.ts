import express from 'express';
import { z } from 'zod';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { blobsOf } from '@wet-lacquer/core/files/templatePackage.ts';
import { filesOf } from '@wet-lacquer/core/livery/template.ts';
import { locatorLivery } from '@wet-lacquer/core/delivery/locatorLivery.ts';
import { writeGlb } from '@wet-lacquer/core/models/writeMesh.ts';
import { choicesIn } from '@wet-lacquer/core/livery/choices.ts';
import { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { newLivery } from '@wet-lacquer/core/livery/newLivery.ts';
import { FieldKey } from '@wet-lacquer/core/livery/fields.ts';
import { TemplateChange } from '@wet-lacquer/core/surface/reviseTemplate.ts';
import type { TemplateLayout } from '@wet-lacquer/core/surface/templateLayout.ts';
import { baseOf } from '@wet-lacquer/core/paths.ts';
import { templateDiff } from '@wet-lacquer/core/surface/templateDiff.ts';
import type { OutlinePicture } from '@wet-lacquer/node/threads/templates.ts';
import { shippedFont } from '@wet-lacquer/node/fonts.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import { planDelivery } from '@wet-lacquer/core/delivery/plan.ts';
import { specOf } from '../store/specs.ts';
import type { BakingAnswer, KeptTexts, NewerTemplate, PlanAnswer, TemplateCard } from '@wet-lacquer/sync/answers.ts';
import { templatePicture } from '../jobs/picture.ts';
import { plannedBy } from '../jobs/askDelivery.ts';
import { besideMasterOf } from '../jobs/besideMaster.ts';
import { bakingOf, fieldOf, readyScene } from '../jobs/fields.ts';
import { onlySeen } from '../people/access.ts';
import { guarded, type Guarded, the } from '../people/guard.ts';
import type { Services } from '../host/services.ts';
import { NotFound } from '../host/errors.ts';
import { getBlob, getBlobs, putBlob } from '../store/blobs.ts';
import { createLivery } from '../store/liveries.ts';
import { deleteTemplate, getTemplate, listTemplates, newestOf, putTemplate } from '../store/templates.ts';
import { answer, bodyOf, bytesOf, leaving, sendForEver } from './http.ts';
import { transact } from '../store/db.ts';

const BAKE_SIDE = 512;
const BakeWish = z.strictObject({
  rays: z.number().int().min(8).max(512).default(64),
  /** Metres. */
  reach: z.number().min(0.01).max(1000).default(1.5),
});

const Changes = z.strictObject({ changes: z.array(TemplateChange).min(1).max(200) });
const FromPictures = z.strictObject({
  role: z.enum(['frame', 'collider']),
  /** Keys of guides. */
  guides: z.array(z.string().max(60)).max(50).default([]),
  /** Ids of layers that new liveries begin with. */
  layers: z.array(z.string().max(60)).max(50).default([]),
});
const Taking = z.strictObject({
  file: z.string().max(400),
  sheet: z.string().max(60).nullable(),
  map: z.string().regex(/^[a-z][a-z0-9-]{0,39}$/),
});
/** Bytes of a kept file that is looked through for words. */
const LOOKED_THROUGH = 16 * 1024 * 1024;
const Naming = z.object({ name: z.string().max(80).default(''), team: z.string().max(200).default('') });
const AskedWords = z.object({
  word: z
    .string()
    .max(200)
    .or(z.array(z.string().max(200)).max(50))
    .default([]),
});
const MOST_LAYOUTS = 24;
/** Subjects: their documents, what follows from them, and their changes. A document is named by its hash and never changes. */
export function templates({ db, threads }: Services): Guarded {
  const router = guarded();
  const layouts = new Map<string, TemplateLayout>();
  const beginning = async (hash: string) =>
    readyScene(db, threads, newLivery(await getTemplate(db, hash), Sha256.parse(hash), 'New'));

  router.get('/', 'painters', async (_req, res) => {
    const all = await onlySeen(db, 'template', await listTemplates(db), ({ hash }) => hash);
    const replaced = new Set(all.map(({ document }) => document.replaces));
    const newest = all.filter(({ hash }) => !replaced.has(hash as Sha256));
    answer<TemplateCard[]>(
      res,
      newest.map(({ hash, document: { key, name, game, gameName, sheets, parts, ownSpec, begin } }) => ({
        hash,
        key,
        name,
        game,
        gameName,
        sheets,
        parts: parts.length,
        choices: Object.values(begin ?? {}).flatMap(choicesIn),
        own: ownSpec?.key.startsWith('as-original-') ?? false,
      })),
    );
  });

  /** The model with what a new livery begins with, as PNG. */
  router.get('/:hash/picture', the('template', 'copy', 'hash'), async (req, res) => {
    const { hash } = req.params;
    sendForEver(res, 'png', await templatePicture(db, threads, hash, () => beginning(hash), leaving(res)));
  });

  /** A sheet with what a new livery begins with, about 1024 texels on its longer side at most, as PNG. */
  router.get('/:hash/sheets/:sheet', the('template', 'copy', 'hash'), async (req, res) => {
    const scene = await beginning(req.params.hash);
    const sheet = scene.template.sheets.find((s) => s.key === req.params.sheet);
    const step = sheet ? Math.max(1, Math.ceil(Math.max(sheet.width, sheet.height) / 1024)) : 1;
    const task = { scene, sheet: req.params.sheet, step };
    sendForEver(res, 'png', await threads.run('sheetPicture', task, leaving(res)));
  });

  /** A sheet's follower beside its master, with what its light makes of the master. */
  router.get('/:hash/sheets/:sheet/followers/:follower', the('template', 'copy', 'hash'), async (req, res) => {
    const { hash, sheet, follower } = req.params;
    const scene = await beginning(hash);
    const answer = await besideMasterOf(db, threads, scene, { sheet, follower, painted: false }, leaving(res));
    sendForEver(res, 'json', new TextEncoder().encode(JSON.stringify(answer)));
  });

  /** Islands of the layout with their locator colours, and, unless `notes=no` says so, what a painter should know of them. */
  router.get('/:hash/layout', the('template', 'copy', 'hash'), async (req, res) => {
    const template = await getTemplate(db, req.params.hash);
    // Changes that leave the mesh alone leave the layout alone.
    const { parts, mesh, sheets, boards, plane } = template;
    const grids = sheets.map(({ key, width, height, name, cells }) => [
      ...[key, width, height, name],
      boards && [cells?.columns, cells?.rows],
    ]);
    const subject = hashOf(JSON.stringify([grids, plane, parts, mesh]));
    const notes = req.query.notes !== 'no';
    const known = layouts.get(subject) ?? (await threads.run('layout', { template, notes }, leaving(res)));
    if (layouts.size >= MOST_LAYOUTS) layouts.clear();
    if (known.notes) layouts.set(subject, known);
    sendForEver(res, 'json', new TextEncoder().encode(JSON.stringify(known)));
  });

  /** What is worked out once of its model, by name; all windows that ask at once get the one answer. */
  router.get('/:hash/fields/:name', the('template', 'copy', 'hash'), async (req, res) => {
    const name = bodyOf(FieldKey, req.params.name);
    const template = await getTemplate(db, req.params.hash);
    if (template.boards) throw new NotFound('This template has no model.');
    sendForEver(res, 'application/octet-stream', await fieldOf(db, threads, template, name, leaving(res)));
  });

  /** Which of those are being worked out now, and how far that is. */
  router.get('/:hash/fields', the('template', 'copy', 'hash'), async (req, res) => {
    const template = await getTemplate(db, req.params.hash);
    res.set('Cache-Control', 'no-store');
    answer<BakingAnswer>(res, bakingOf(template));
  });

  router.get('/:hash', the('template', 'copy', 'hash'), async (req, res) => {
    sendForEver(res, 'json', new TextEncoder().encode(JSON.stringify(await getTemplate(db, req.params.hash))));
  });

  /** Bakes ambient occlusion for a sheet; the answer is a line of JSON for every step, the last one with the blob. Leaving ends it. */
  router.post('/:hash/sheets/:sheet/occlusion', the('template', 'copy', 'hash'), async (req, res) => {
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

  /** The template with changes, in the old one's place. */
  router.post('/:hash/changes', the('template', 'copy', 'hash'), async (req, res) => {
    const { changes } = bodyOf(Changes, req.body);
    const template = await getTemplate(db, req.params.hash);
    const document = await threads.run('revise', { template, hash: req.params.hash, changes });
    res.status(201).json({ hash: await putTemplate(db, document) });
  });

  /** Takes a template away, unless a livery is painted on it. */
  router.delete('/:hash', the('template', 'own', 'hash'), async (req, res) => {
    await deleteTemplate(db, req.params.hash);
    res.status(204).end();
  });

  /** The outlines in pictures of the template as safe frames or colliders, each shape by itself. */
  router.post('/:hash/outlines', the('template', 'copy', 'hash'), async (req, res) => {
    const { guides, layers, role } = bodyOf(FromPictures, req.body);
    const template = await getTemplate(db, req.params.hash);
    const begin = Object.entries(template.begin ?? {}).flatMap(([where, all]) =>
      all.flatMap((layer) =>
        layer.kind === 'picture' ? [{ ...layer, key: layer.id, sheet: where.split('/')[0] }] : [],
      ),
    );
    const asked = [
      ...guides.map((key) => (template.guides ?? []).find((guide) => guide.key === key)),
      ...layers.map((id) => begin.find((layer) => layer.key === id)),
    ];
    if (asked.length === 0) throw new InputError('Say which layers the outlines are in.');
    const pictures: OutlinePicture[] = [];
    for (const one of asked) {
      if (!one) throw new NotFound('There is no such guide or layer.');
      const { name, sheet, left, top, blob } = one;
      pictures.push({ name, sheet, left, top, bytes: await getBlob(db, blob) });
    }
    const task = { template, hash: req.params.hash, pictures, role };
    const document = await threads.run('outlinesOfPictures', task, leaving(res));
    res.status(201).json({ hash: await putTemplate(db, document) });
  });

  /** A file of the game's own that it keeps, as it came. */
  router.get('/:hash/kept', the('template', 'copy', 'hash'), async (req, res) => {
    const { name } = bodyOf(z.object({ name: z.string().max(400) }), req.query);
    const { originals = {}, beside = [] } = await getTemplate(db, req.params.hash);
    const file = [...Object.values(originals), ...beside].find((one) => one.name === name);
    if (!file) throw new NotFound('This template keeps no such file.');
    res
      .attachment(baseOf(name))
      .type('application/octet-stream')
      .send(Buffer.from(await getBlob(db, file.blob)));
  });

  /** A texture that it keeps beside its sheets becomes a map of one, or a sheet of its own. */
  router.post('/:hash/takings', the('template', 'copy', 'hash'), async (req, res) => {
    const taking = bodyOf(Taking, req.body);
    const template = await getTemplate(db, req.params.hash);
    const kept = template.beside?.find(({ name }) => name === taking.file);
    if (!kept) throw new NotFound('This template keeps no such file.');
    const task = { template, hash: req.params.hash, bytes: await getBlob(db, kept.blob), taking };
    const made = await threads.run('takeIn', task, leaving(res));
    const hash = await transact(db, async (tx) => {
      for (const content of made.blobs.values()) await putBlob(tx, content);
      return putTemplate(tx, made.document);
    });
    res.status(201).json({ hash, remarks: made.remarks });
  });

  /** Texts among the files that it keeps, and what else of them names some words. */
  router.get('/:hash/texts', the('template', 'copy', 'hash'), async (req, res) => {
    const { word } = bodyOf(AskedWords, req.query);
    const { beside = [] } = await getTemplate(db, req.params.hash);
    // Large files are data: they are told by their names alone.
    let held = 0;
    const read = beside.filter(({ bytes }) => bytes <= LOOKED_THROUGH && (held += bytes) <= 16 * LOOKED_THROUGH);
    const blobs = await getBlobs(db, [...new Set(read.map(({ blob }) => blob))]);
    const files = beside.map((file) => ({
      name: file.name,
      bytes: (read.includes(file) && blobs.get(file.blob)) || Uint8Array.of(0),
    }));
    answer<KeptTexts>(
      res,
      await threads.run('textsAmong', { files, words: [word].flat().filter(Boolean) }, leaving(res)),
    );
  });

  /** The files that a new livery would be delivered as: names alone, before there is one. */
  router.get('/:hash/plan', the('template', 'copy', 'hash'), async (req, res) => {
    const { name, team } = bodyOf(Naming, req.query);
    const { hash } = req.params;
    const template = await getTemplate(db, hash);
    const livery = newLivery(template, Sha256.parse(hash), name, team);
    const spec = await specOf(db, livery, template);
    // Nothing is painted yet: nothing is left out for that.
    const { files, ...plan } = plannedBy(spec, planDelivery(livery, template, spec));
    answer<PlanAnswer>(res, { ...plan, files: files.map((file) => ({ ...file, leftOut: null })) });
  });

  /** The newest version of a template and what it changes; null: this is it. */
  router.get('/:hash/newer', the('template', 'copy', 'hash'), async (req, res) => {
    const before = await getTemplate(db, req.params.hash);
    const newest = await newestOf(db, req.params.hash);
    if (!newest) return void res.json(null);
    const { hash, document } = newest;
    answer<NewerTemplate>(res, {
      hash: Sha256.parse(hash),
      spec: document.spec,
      differences: templateDiff(before, document),
    });
  });

  /** A livery that shows the locator: delivered like any other, it tells in the game which island lands where. */
  router.post('/:hash/locator', the('template', 'copy', 'hash'), async (req, res) => {
    const template = await getTemplate(db, req.params.hash);
    const font = 'saira-stencil-one';
    const made = await threads.run('locatorPictures', { template });
    const id = await transact(db, async (tx) => {
      const blobs = new Map<string, { blob: Sha256; width: number; height: number }>();
      for (const { sheet, bytes, width, height } of made.pictures)
        blobs.set(sheet, { blob: await putBlob(tx, bytes), width, height });
      const hash = Sha256.parse(req.params.hash);
      const pin = { key: font, hash: hashOf(await shippedFont(font)) };
      return createLivery(tx, locatorLivery(template, hash, made.layout, blobs, pin));
    });
    res.status(201).json({ id });
  });

  /** The model with its materials named after the sheets that they wear: glTF 2.0, binary. */
  router.get('/:hash/model.glb', the('template', 'copy', 'hash'), async (req, res) => {
    const template = await getTemplate(db, req.params.hash);
    res
      .attachment(`${template.key}.glb`)
      .type('model/gltf-binary')
      .send(Buffer.from(await writeGlb(template)));
  });

  /** Everything of a template in open formats, as one zip. */
  router.get('/:hash/package', the('template', 'copy', 'hash'), async (req, res) => {
    const template = await getTemplate(db, req.params.hash);
    const blobs = await getBlobs(db, [...blobsOf(template), ...filesOf(template)]);
    const bytes = await threads.run('packTemplate', { template, blobs }, leaving(res));
    res.attachment(`${template.key}.template.zip`).type('application/zip').send(Buffer.from(bytes));
  });

  router.post('/packages', 'painters', express.raw({ type: () => true, limit: '512mb' }), async (req, res) => {
    const bytes = bytesOf(req.body);
    const { document, blobs, files } = await threads.run('openTemplate', { bytes }, leaving(res));
    const hash = await transact(db, async (tx) => {
      for (const content of [...blobs, ...files.values()]) await putBlob(tx, content);
      return putTemplate(tx, document);
    });
    res.status(201).json({ hash });
  });

  return router;
}
