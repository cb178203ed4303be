/** What is said of places of a livery: written, answered, ticked off. Whoever listens is told in the same transaction. */
import { and, asc, count, eq, inArray, sql } from 'drizzle-orm';
import { InputError } from '@wet-lacquer/core/errors.ts';
import type { NoteCard, NotePlace } from '@wet-lacquer/sync/people.ts';
import { NotFound } from '../host/errors.ts';
import { transact, type Db, type Tx } from './db.ts';
import { livery, note, noteAnswer } from './schema.ts';

/** Of one livery, and answers to one of them. */
const MOST_NOTES = 500;
const MOST_ANSWERS = 100;

export async function notesFor(db: Db, liveryId: string): Promise<NoteCard[]> {
  const rows = await db.select().from(note).where(eq(note.liveryId, liveryId)).orderBy(asc(note.number));
  if (rows.length === 0) return [];
  const ids = rows.map(({ id }) => id);
  const said = await db
    .select()
    .from(noteAnswer)
    .where(inArray(noteAnswer.noteId, ids))
    .orderBy(asc(noteAnswer.createdAt), asc(noteAnswer.id));
  return rows.map((row) => ({
    ...{ id: row.id, number: row.number, place: row.place, person: row.person, text: row.text },
    at: row.createdAt.toISOString(),
    answers: said
      .filter(({ noteId }) => noteId === row.id)
      .map(({ id, person, text, createdAt }) => ({ id, person, text, at: createdAt.toISOString() })),
    done: row.doneBy !== null && row.doneAt ? { person: row.doneBy, at: row.doneAt.toISOString() } : null,
  }));
}

const tell = (tx: Tx, liveryId: string) => tx.execute(sql`select pg_notify('notes', ${liveryId})`);

/** @returns its id @throws NotFound, or InputError when there are too many */
export const addNote = (db: Db, liveryId: string, person: string, place: NotePlace, text: string): Promise<string> =>
  transact(db, async (tx) => {
    // Numbers are given one after the other: whoever writes meanwhile waits for the livery's row.
    const [head] = await tx.select({ id: livery.id }).from(livery).where(eq(livery.id, liveryId)).for('no key update');
    if (!head) throw new NotFound('There is no such livery.');
    const [{ all, last }] = await tx
      .select({ all: count(), last: sql<number>`coalesce(max(${note.number}), 0)` })
      .from(note)
      .where(eq(note.liveryId, liveryId));
    if (all >= MOST_NOTES) throw new InputError(`There are ${MOST_NOTES} notes on this livery; delete some first.`);
    const [{ id }] = await tx
      .insert(note)
      .values({ liveryId, number: last + 1, person, place, text })
      .returning({ id: note.id });
    await tell(tx, liveryId);
    return id;
  });

/** A note of a livery, held until the transaction ends. @throws NotFound */
async function noteOf(tx: Tx, liveryId: string, id: string) {
  const [row] = await tx
    .select()
    .from(note)
    .where(and(eq(note.id, id), eq(note.liveryId, liveryId)))
    .for('update');
  if (!row) throw new NotFound('This note has been deleted.');
  return row;
}

export const answerNote = (db: Db, liveryId: string, id: string, person: string, text: string): Promise<void> =>
  transact(db, async (tx) => {
    await noteOf(tx, liveryId, id);
    const [{ all }] = await tx.select({ all: count() }).from(noteAnswer).where(eq(noteAnswer.noteId, id));
    if (all >= MOST_ANSWERS) throw new InputError(`There are ${MOST_ANSWERS} answers to this note; write a new one.`);
    await tx.insert(noteAnswer).values({ noteId: id, person, text });
    await tell(tx, liveryId);
  });

/** Ticks a note off, or opens it again. One that is ticked off already stays as it is. */
export const tickNote = (db: Db, liveryId: string, id: string, person: string, done: boolean): Promise<void> =>
  transact(db, async (tx) => {
    const row = await noteOf(tx, liveryId, id);
    if ((row.doneBy !== null) === done) return;
    await tx
      .update(note)
      .set(done ? { doneBy: person, doneAt: new Date() } : { doneBy: null, doneAt: null })
      .where(eq(note.id, id));
    await tell(tx, liveryId);
  });

/** @param mayGo whether whoever asks may delete what a person wrote */
export const deleteNote = (db: Db, liveryId: string, id: string, mayGo: (person: string) => boolean): Promise<void> =>
  transact(db, async (tx) => {
    const row = await noteOf(tx, liveryId, id);
    if (!mayGo(row.person)) throw new InputError('Whoever wrote a note deletes it, or whose livery it is.');
    await tx.delete(note).where(eq(note.id, id));
    await tell(tx, liveryId);
  });
