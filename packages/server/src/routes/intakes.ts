import express, { Router } from 'express';
import { z } from 'zod';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { guessRoles, type FileGuess } from '@wet-lacquer/core/intake/fileRoles.ts';
import { wayUp } from '@wet-lacquer/core/intake/wayUp.ts';
import { Decisions, lookOfFacts } from '@wet-lacquer/core/intake/understood.ts';
import type { Services } from '../host/services.ts';
import { getBlobs, putBlob } from '../store/blobs.ts';
import { addIntakeFile, createIntake, deleteIntake, getIntake, type IntakeFile } from '../store/intakes.ts';
import { putTemplate } from '../store/templates.ts';
import { bodyOf, bytesOf, idOf } from './http.ts';

const NewIntake = z.strictObject({ name: z.string().trim().min(1).max(200) });
const FileName = z.object({ name: z.string().min(1).max(400) });
const MAKE_MS = 300_000;
const MOST_GUESSED = 50;

/** Which way up a texture is stored, by the material whose islands say so. */
type Ways = Record<string, 'upright' | 'upside-down'>;

/** What painters bring to make templates of: files are looked at one by one, and nothing becomes a template before it is settled. */
export function intakes({ db, threads, queue }: Services): Router {
  const router = Router();
  const guessed = new Map<string, { read: number; roles: Map<string, FileGuess>; ways: Map<string, Ways> }>();

  router.post('/', async (req, res) => {
    res.status(201).json({ id: await createIntake(db, bodyOf(NewIntake, req.body).name) });
  });

  router.get('/:id', async (req, res) => {
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
    res.json({
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
  router.post('/:id/files', express.raw({ type: () => true, limit: '512mb' }), async (req, res) => {
    const id = idOf(req.params.id);
    await addIntakeFile(db, id, bodyOf(FileName, req.query).name, bytesOf(req.body));
    await queue.send('understand', id);
    res.status(202).json({});
  });

  router.delete('/:id', async (req, res) => {
    await deleteIntake(db, idOf(req.params.id));
    res.status(204).end();
  });

  router.post('/:id/template', async (req, res) => {
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
    ]);
    const rows = files.filter((file) => wanted.has(file.name));
    for (const name of wanted)
      if (!rows.some((file) => file.name === name)) throw new InputError(`"${name}" is no longer among the files.`);
    const blobs = await getBlobs(
      db,
      rows.map((file) => file.blob),
    );
    const bytes = new Map(rows.map((file) => [file.name, blobs.get(file.blob)!]));
    const made = await threads.run('makeTemplate', { decisions, files: bytes }, AbortSignal.timeout(MAKE_MS));
    const hash = await db.transaction(async (tx) => {
      for (const content of made.blobs.values()) await putBlob(tx, content);
      return putTemplate(tx, made.document);
    });
    await deleteIntake(db, id);
    res.status(201).json({ hash, remarks: made.remarks });
  });

  return router;
}

/** For each texture the materials of the models whose layout tells which way up it is. */
function waysOf(files: readonly IntakeFile[]): Map<string, Ways> {
  const covers = files.flatMap(({ understood }) =>
    understood?.kind === 'model' ? Object.entries(understood.covers ?? {}) : [],
  );
  const layouts = covers.map(([material, cells]) => [material, [...cells].map((cell) => cell === '1')] as const);
  return new Map(
    files.flatMap(({ name, understood }) => {
      if (understood?.kind !== 'texture' || !understood.detail) return [];
      const { detail } = understood;
      const told = layouts.flatMap(([material, cover]) => {
        const way = wayUp(detail, cover);
        return way ? [[material, way] as const] : [];
      });
      return [[name, Object.fromEntries(told)] as const];
    }),
  );
}

function asTexture({ name, blob, understood }: IntakeFile) {
  if (understood?.kind !== 'texture') return [];
  const { width, height } = understood;
  return [{ name, width, height, hash: blob, look: lookOfFacts(understood) }];
}
