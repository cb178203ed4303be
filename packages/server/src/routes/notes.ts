import type { Request, Response } from 'express';
import { z } from 'zod';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { words } from '@wet-lacquer/core/livery/words.ts';
import type { Notes } from '@wet-lacquer/sync/people.ts';
import { rankOf } from '../people/access.ts';
import { namesOf } from '../people/accounts.ts';
import { guarded, roleHere, the, whoAsks, type Guarded } from '../people/guard.ts';
import type { Services } from '../host/services.ts';
import { getLivery, headOf } from '../store/liveries.ts';
import { addNote, answerNote, deleteNote, notesFor, tickNote } from '../store/notes.ts';
import { answer, bodyOf, idOf } from './http.ts';

/** Written by hand: lines are kept. */
const Text = z.string().trim().min(1, 'write something').pipe(words(2000));
/** Who writes, while nobody signs in. */
const Person = z.string().min(1).max(64).optional();
const metres = z.number().min(-1e5).max(1e5);
const Written = z.strictObject({
  person: Person,
  text: Text,
  place: z.strictObject({
    sheet: z.string().max(64),
    x: z.number().min(0).max(65_536),
    y: z.number().min(0).max(65_536),
    point: z.tuple([metres, metres, metres]).nullable(),
  }),
});
const Answered = z.strictObject({ person: Person, text: Text });
const Ticked = z.strictObject({ person: Person, done: z.boolean() });

/** Notes on a livery: for whoever may see its layers. */
export function notesOf(services: Services): Guarded {
  const { db } = services;
  const router = guarded();
  const rule = the('livery', 'copy');
  const liveryOf = (req: Request) => idOf(req.params.id);
  const noteOf = (req: Request) => idOf(req.params.note);
  /** Who writes: whoever is signed in, else as the browser calls itself. */
  const personOf = (res: Response, said: string | undefined): string => {
    const who = whoAsks(res);
    return who?.is === 'painter' ? who.id : (said ?? 'somebody');
  };

  router.get('/notes', rule, async (req, res) => {
    const id = liveryOf(req);
    await headOf(db, id);
    const notes = await notesFor(db, id);
    const persons = notes.flatMap(({ person, answers, done }) => [
      person,
      ...answers.map((one) => one.person),
      ...(done ? [done.person] : []),
    ]);
    answer<Notes>(res, { notes, people: await namesOf(db, persons) });
  });

  router.post('/notes', rule, async (req, res) => {
    const { person, text, place } = bodyOf(Written, req.body);
    const id = liveryOf(req);
    const { livery } = await getLivery(db, id);
    const sheet = livery.sheets.find(({ key }) => key === place.sheet);
    if (!sheet) throw new InputError(`place: this livery has no sheet "${place.sheet.slice(0, 40)}".`);
    res.status(201).json({ id: await addNote(db, id, personOf(res, person), place, text) });
  });

  router.post('/notes/:note/answers', rule, async (req, res) => {
    const { person, text } = bodyOf(Answered, req.body);
    await answerNote(db, liveryOf(req), noteOf(req), personOf(res, person), text);
    res.status(201).json({});
  });

  router.post('/notes/:note', rule, async (req, res) => {
    const { person, done } = bodyOf(Ticked, req.body);
    await tickNote(db, liveryOf(req), noteOf(req), personOf(res, person), done);
    res.status(204).end();
  });

  router.delete('/notes/:note', rule, async (req, res) => {
    const who = whoAsks(res);
    const owns = (await roleHere(services, res, liveryOf(req))) >= rankOf('own');
    await deleteNote(db, liveryOf(req), noteOf(req), (person) => owns || (who?.is === 'painter' && who.id === person));
    res.status(204).end();
  });

  return router;
}
