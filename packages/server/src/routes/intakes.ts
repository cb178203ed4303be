import express from 'express';
import { z } from 'zod';
import { heldIn } from '@wet-lacquer/core/held.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { FILE_ROLES, guessRoles, type FileGuess } from '@wet-lacquer/core/intake/fileRoles.ts';
import { broughtFolder } from '@wet-lacquer/core/intake/ruleLike.ts';
import { BesideFile } from '@wet-lacquer/core/livery/template.ts';
import { matchSkin, type SkinPicture } from '@wet-lacquer/core/intake/matchSkin.ts';
import { newLivery } from '@wet-lacquer/core/livery/newLivery.ts';
import { baseOf } from '@wet-lacquer/core/paths.ts';
import { derivedKey, deriveSpec, type SkinFile } from '@wet-lacquer/core/intake/deriveSpec.ts';
import { readText } from '@wet-lacquer/core/files/textFile.ts';
import { SHIPPED_SPECS } from '@wet-lacquer/core/games/index.ts';
import { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { freeKey } from '@wet-lacquer/core/surface/reviseTemplate.ts';
import { asTexture, waysOf, type Ways } from '@wet-lacquer/core/intake/ways.ts';
import { Decisions, whatIs } from '@wet-lacquer/core/intake/understood.ts';
import { modelKindOf } from '@wet-lacquer/core/kinds/index.ts';
import type { Intake } from '@wet-lacquer/sync/answers.ts';
import { createLivery } from '../store/liveries.ts';
import { guarded, type Guarded, the } from '../people/guard.ts';
import type { Services } from '../host/services.ts';
import { besideModel } from '../jobs/understandFiles.ts';
import { getBlob, getBlobs, putBlob } from '../store/blobs.ts';
import { addIntakeFile, createIntake, deleteIntake, getIntake, type IntakeFile } from '../store/intakes.ts';
import { listSpecs, putSpec } from '../store/specs.ts';
import { getTemplate, putTemplate } from '../store/templates.ts';
import { answer, bodyOf, bytesOf, idOf, leaving } from './http.ts';
import { transact } from '../store/db.ts';

const NewIntake = z.strictObject({ name: z.string().trim().min(1).max(200) });
const FileName = z.object({ name: z.string().min(1).max(400) });
const Standing = z.object({
  name: z.string().min(1).max(400),
  up: z.enum(['x', 'y', 'z']),
  mirrored: z.enum(['yes', 'no']).default('no'),
});
const Over = z.strictObject({
  template: Sha256,
  name: z.string().trim().min(1).max(200),
  sheets: z
    .array(z.strictObject({ sheet: z.string().max(80), file: z.string().max(400), upsideDown: z.boolean() }))
    .min(1, 'at least one of the files must go on a sheet')
    .max(64),
});
const ForSubject = z.strictObject({
  template: Sha256,
  /** What the painter says that files are. */
  roles: z.record(z.string(), z.enum(FILE_ROLES)).optional(),
});
/** The longest text that becomes a sidecar, in bytes. */
const MOST_TEXT = 100_000;
const MOST_GUESSED = 50;

/** What painters bring to make templates of: files are looked at one by one, and nothing becomes a template before it is settled. */
export function intakes({ db, threads, queue }: Services): Guarded {
  const router = guarded();
  const guessed = new Map<string, { read: number; roles: Map<string, FileGuess>; ways: Map<string, Ways> }>();

  router.post('/', 'painters', async (req, res) => {
    res.status(201).json({ id: await createIntake(db, bodyOf(NewIntake, req.body).name) });
  });

  router.get('/:id', the('intake', 'own'), async (req, res) => {
    const id = idOf(req.params.id);
    const { name, files } = await getIntake(db, id);
    const read = files.filter((file) => file.understood).length;
    let seen = guessed.get(id);
    // The page asks again and again; files are compared anew only when one more has been read.
    if (seen?.read !== read) {
      if (guessed.size >= MOST_GUESSED) guessed.clear();
      seen = { read, roles: guessRoles(files.flatMap(asTexture)), ways: waysOf(files) };
      guessed.set(id, seen);
    }
    const { roles, ways } = seen;
    answer<Intake>(res, {
      name,
      files: files.map(({ understood, intakeId: _intake, order: _order, blob: _blob, ...file }) => ({
        ...file,
        understood: understood?.kind === 'texture' ? { ...understood, look: undefined, detail: undefined } : understood,
        guess: roles.get(file.name) ?? null,
        ways: ways.get(file.name) ?? {},
      })),
    });
  });

  /** The file itself is the body; its path comes as a query value. */
  router.post(
    '/:id/files',
    the('intake', 'own'),
    express.raw({ type: () => true, limit: '512mb' }),
    async (req, res) => {
      const id = idOf(req.params.id);
      await addIntakeFile(db, id, bodyOf(FileName, req.query).name, bytesOf(req.body));
      await queue.send('understand', id);
      res.status(202).json({});
    },
  );

  /** A model as it stands, in grey. */
  router.get('/:id/model', the('intake', 'own'), async (req, res) => {
    const id = idOf(req.params.id);
    const { name, up, mirrored } = bodyOf(Standing, req.query);
    const file = (await getIntake(db, id)).files.find((one) => one.name === name);
    if (!file) throw new InputError(`"${name}" is no longer among the files.`);
    const bytes = await getBlob(db, file.blob);
    const kind = modelKindOf(bytes, name);
    if (!kind) throw new InputError(`"${name}" is not a model.`);
    const signal = leaving(res);
    const beside = (await besideModel(db, threads, file, bytes, kind, signal)).bytes;
    const task = { bytes, kind, beside, up, mirrored: mirrored === 'yes' };
    res.type('png').send(Buffer.from(await threads.run('pictureOfModel', task, signal)));
  });

  router.delete('/:id', the('intake', 'own'), async (req, res) => {
    await deleteIntake(db, idOf(req.params.id));
    res.status(204).end();
  });

  router.post('/:id/template', the('intake', 'own'), async (req, res) => {
    const id = idOf(req.params.id);
    const decisions = bodyOf(Decisions, req.body);
    const { files } = await getIntake(db, id);
    const wanted = new Set([
      ...(decisions.model ? [decisions.model] : []),
      ...decisions.sheets.flatMap((sheet) =>
        [sheet.colour, sheet.layered, ...sheet.maps.map((map) => map.file), ...sheet.followers].filter(
          (name) => name !== null,
        ),
      ),
      ...decisions.companions,
      ...files.flatMap(({ name, understood }) =>
        name === decisions.model && understood?.kind === 'model' ? (understood.beside ?? []) : [],
      ),
    ]);
    const rows = files.filter((file) => wanted.has(file.name));
    for (const name of wanted)
      if (!rows.some((file) => file.name === name)) throw new InputError(`"${name}" is no longer among the files.`);
    const blobs = await getBlobs(
      db,
      rows.map((file) => file.blob),
    );
    const bytes = new Map(rows.map((file) => [file.name, heldIn(blobs, file.blob)]));
    const brought = files.map(({ name, blob, bytes, understood, error }) => ({
      name,
      blob,
      bytes,
      what: whatIs(understood, error),
    }));
    const made = await threads.template({ decisions, files: bytes, brought }, leaving(res));
    const hash = await transact(db, async (tx) => {
      for (const content of made.blobs.values()) await putBlob(tx, content);
      return putTemplate(tx, made.document);
    });
    await deleteIntake(db, id);
    res.status(201).json({ hash, remarks: made.remarks });
  });

  /** Which of the files would go on which sheet of a template that is here. */
  router.get('/:id/over', the('intake', 'own'), async (req, res) => {
    const { template: hash } = bodyOf(z.object({ template: Sha256 }), req.query);
    const { files } = await getIntake(db, idOf(req.params.id));
    const template = await getTemplate(db, hash);
    const covers = await threads.run('sheetCovers', { template }, leaving(res));
    const roles = guessRoles(files.flatMap(asTexture));
    const pictures = files.flatMap(({ name, understood }): SkinPicture[] => {
      if (understood?.kind !== 'texture' && understood?.kind !== 'layered') return [];
      const { width, height } = understood;
      const guess = roles.get(name);
      const detail = understood.kind === 'texture' ? understood.detail : undefined;
      const copy = (guess?.copy ?? null) !== null;
      return [{ name, width, height, role: guess?.role ?? null, copy, ...(detail && { detail }) }];
    });
    res.json({
      matches: matchSkin(template.sheets, covers, pictures),
      files: pictures.map(({ name, width, height }) => ({ name, width, height })),
    });
  });

  /** Starts a livery over a finished skin: on a template of its own, in which the skin's files are the originals. */
  router.post('/:id/over', the('intake', 'own'), async (req, res) => {
    const id = idOf(req.params.id);
    const { template: hash, name, sheets } = bodyOf(Over, req.body);
    const { files } = await getIntake(db, id);
    const template = await getTemplate(db, hash);
    const rows = sheets.map((one) => {
      const file = files.find(({ name: named }) => named === one.file);
      if (!file) throw new InputError(`"${one.file}" is no longer among the files.`);
      return { ...one, blob: file.blob };
    });
    const held = await getBlobs(
      db,
      rows.map(({ blob }) => blob),
    );
    const skin = rows.map(({ sheet, file, upsideDown, blob }) => ({
      ...{ name: baseOf(file), sheet, upsideDown },
      bytes: heldIn(held, blob),
    }));
    const made = await threads.run('overSkin', { template, skin }, leaving(res));
    // What of the folder is on no sheet is kept with it: texts that name the files, most of all.
    const loose = files.filter(
      (file) =>
        !rows.some((row) => row.file === file.name) && !files.some((other) => other.name.startsWith(`${file.name}/`)),
    );
    const root = broughtFolder(files.map((file) => file.name));
    const known = new Set((made.document.beside ?? []).map((file) => file.name));
    const beside = loose.flatMap((file) => {
      const below = file.name.slice(root.length);
      if (known.has(below)) return [];
      const why = whatIs(file.understood, file.error).slice(0, 300);
      return [BesideFile.parse({ name: below, blob: file.blob, bytes: file.bytes, why })];
    });
    const kept = [...(made.document.beside ?? []), ...beside].slice(0, 2000);
    const document = kept.length > 0 ? { ...made.document, beside: kept } : made.document;
    const livery = await transact(db, async (tx) => {
      for (const content of [...made.blobs.values(), ...made.files.values()]) await putBlob(tx, content);
      const own = await putTemplate(tx, document);
      return createLivery(tx, newLivery(document, own, name));
    });
    await deleteIntake(db, id);
    res.status(201).json({ id: livery, remarks: made.remarks });
  });

  /** Takes a delivery spec from the files of a skin, for a subject that is here; the files stay. */
  router.post('/:id/spec', the('intake', 'own'), async (req, res) => {
    const { template, roles: said = {} } = bodyOf(ForSubject, req.body);
    const { name, files } = await getIntake(db, idOf(req.params.id));
    if (files.some(({ state }) => state === 'waiting' || state === 'reading'))
      throw new InputError('The files are still being looked at.');
    const guessed = guessRoles(files.flatMap(asTexture));
    const guessOf = ({ name }: IntakeFile) =>
      said[name] ? { role: said[name], reason: '', sure: 1 } : (guessed.get(name) ?? null);
    const texts = files.filter(({ understood, bytes }) => understood?.kind === 'other' && bytes <= MOST_TEXT);
    const held = await getBlobs(
      db,
      texts.map(({ blob }) => blob),
    );
    const skin = files.map((file): SkinFile => {
      const facts = file.understood?.kind === 'texture' ? file.understood : null;
      const text = texts.includes(file) ? textOf(heldIn(held, file.blob)) : null;
      return { name: file.name, facts, guess: guessOf(file), text };
    });
    const subject = await getTemplate(db, template);
    const known = new Set([...(await listSpecs(db)), ...Object.values(SHIPPED_SPECS)].map(({ key }) => key));
    const key = freeKey(derivedKey(name), known);
    const { spec, remarks } = deriveSpec(subject, skin, key);
    await putSpec(db, spec);
    res.status(201).json({ key, remarks });
  });

  return router;
}

/** A text with how it is stored; null when it is none. */
function textOf(bytes: Uint8Array): SkinFile['text'] {
  try {
    const { text, facts } = readText(bytes);
    if (text.includes('\0')) return null;
    return { text, crlf: facts.lineEnd === '\r\n', mark: facts.mark && facts.encoding === 'utf-8' };
  } catch {
    return null;
  }
}
