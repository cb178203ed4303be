import { and, asc, eq, inArray, ne, sql } from 'drizzle-orm';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { whyNoPath } from '@wet-lacquer/core/delivery/safePath.ts';
import { NotFound } from '../host/errors.ts';
import { own } from '../people/access.ts';
import { putBlob } from './blobs.ts';
import { transact, type Db, type Tx } from './db.ts';
import { intake, intakeFile } from './schema.ts';

export type IntakeFile = typeof intakeFile.$inferSelect;

const MAX_FILES = 2000;
/** All files of one intake together. */
const MAX_BYTES = 2 * 1024 * 1024 * 1024;

export async function createIntake(db: Db, name: string): Promise<string> {
  return transact(db, async (tx) => {
    const [row] = await tx.insert(intake).values({ name }).returning();
    await own(tx, 'intake', row.id);
    return row.id;
  });
}

export async function getIntake(tx: Tx, id: string): Promise<{ name: string; files: IntakeFile[] }> {
  const [row] = await tx.select().from(intake).where(eq(intake.id, id));
  if (!row) throw new NotFound('These files are no longer here.');
  const files = await tx.select().from(intakeFile).where(eq(intakeFile.intakeId, id)).orderBy(asc(intakeFile.name));
  return { name: row.name, files };
}

export async function deleteIntake(db: Db, id: string): Promise<void> {
  await db.delete(intake).where(eq(intake.id, id));
}

/** Keeps a file to be looked at; one of the same name takes the place of the earlier. @throws InputError when there are too many */
export async function addIntakeFile(db: Db, intakeId: string, name: string, bytes: Uint8Array): Promise<void> {
  const clean = cleanName(name);
  await transact(db, async (tx) => {
    const [head] = await tx.select().from(intake).where(eq(intake.id, intakeId)).for('update');
    if (!head) throw new NotFound('These files are no longer here.');
    const [{ count, total }] = await tx
      .select({ count: sql<number>`count(*)::int`, total: sql<number>`coalesce(sum(${intakeFile.bytes}), 0)::float8` })
      .from(intakeFile)
      .where(and(eq(intakeFile.intakeId, intakeId), ne(intakeFile.name, clean)));
    if (count >= MAX_FILES) throw new InputError(`At most ${MAX_FILES} files can be brought in at once.`);
    if (total + bytes.length > MAX_BYTES) throw new InputError('At most 2 GiB can be brought in at once.');
    const blob = await putBlob(tx, bytes);
    const fresh = { blob, bytes: bytes.length, state: 'waiting' as const, progress: 0, understood: null };
    const rest = { preview: null, difference: null, error: null };
    await tx
      .insert(intakeFile)
      .values({ intakeId, name: clean, ...fresh, ...rest })
      .onConflictDoUpdate({ target: [intakeFile.intakeId, intakeFile.name], set: { ...fresh, ...rest } });
  });
}

/** How many archives a file lies in: files of the intake whose name is a folder of its. */
export async function archivesAround(tx: Tx, { intakeId, name }: IntakeFile): Promise<number> {
  const [{ count }] = await tx
    .select({ count: sql<number>`count(*)::int` })
    .from(intakeFile)
    .where(and(eq(intakeFile.intakeId, intakeId), sql`starts_with(${name}, ${intakeFile.name} || '/')`));
  return count;
}

/** Names a file of an archive that was not taken in, with the reason. */
export async function noteRefused(tx: Tx, { intakeId, blob }: IntakeFile, name: string, error: string): Promise<void> {
  const shown = [...name]
    .map((c) => (/[\p{Cc}\p{Cf}]/u.test(c) ? '?' : c))
    .join('')
    .slice(0, 400);
  await tx
    .insert(intakeFile)
    .values({ intakeId, name: shown, blob, bytes: 0, state: 'failed', error })
    .onConflictDoNothing();
}

/** Takes away what came out of an archive. */
export async function removeBelow(tx: Tx, { intakeId, name }: IntakeFile): Promise<void> {
  await tx
    .delete(intakeFile)
    .where(and(eq(intakeFile.intakeId, intakeId), sql`starts_with(${intakeFile.name}, ${`${name}/`})`));
}

/** Blobs of all files of an intake, by their names. */
export async function blobsByName(tx: Tx, intakeId: string): Promise<Map<string, string>> {
  const { name, blob } = intakeFile;
  const rows = await tx.select({ name, blob }).from(intakeFile).where(eq(intakeFile.intakeId, intakeId)).orderBy(name);
  return new Map(rows.map((row) => [row.name, row.blob]));
}

/** Files of an intake that name others which were not there when they were read. */
export async function filesWanting(
  tx: Tx,
  intakeId: string,
): Promise<(Pick<IntakeFile, 'intakeId' | 'name' | 'blob'> & { needs: string[] })[]> {
  const needs = sql<string[]>`${intakeFile.understood}->'needs'`;
  return tx
    .select({ intakeId: intakeFile.intakeId, name: intakeFile.name, blob: intakeFile.blob, needs })
    .from(intakeFile)
    .where(and(eq(intakeFile.intakeId, intakeId), sql`json_array_length(${needs}) > 0`));
}

/** A path that stays in its folder. @throws InputError */
function cleanName(name: string): string {
  const parts = name
    .replaceAll('\\', '/')
    .split('/')
    .filter((part) => part !== '' && part !== '.');
  const why =
    parts.length === 0 ? 'is empty' : name.length > 400 ? 'is longer than 400 characters' : whyNoPath(parts.join('/'));
  if (why) throw new InputError(`"${name.slice(0, 80)}" cannot be the name of a file: it ${why}.`);
  return parts.join('/');
}

/** Takes the next file that waits; null when none does. */
export async function takeWaiting(db: Db, intakeId: string): Promise<IntakeFile | null> {
  const next = db
    .select({ name: intakeFile.name })
    .from(intakeFile)
    .where(and(eq(intakeFile.intakeId, intakeId), eq(intakeFile.state, 'waiting')))
    .orderBy(asc(intakeFile.order))
    .limit(1)
    .for('update', { skipLocked: true });
  const [row] = await db
    .update(intakeFile)
    .set({ state: 'reading' })
    .where(and(eq(intakeFile.intakeId, intakeId), inArray(intakeFile.name, next)))
    .returning();
  return row ?? null;
}

/** Files that were being read by somebody who is gone wait again. Only for the holder of the intake's lease. */
export async function readAgain(db: Db, intakeId: string): Promise<void> {
  await db
    .update(intakeFile)
    .set({ state: 'waiting' })
    .where(and(eq(intakeFile.intakeId, intakeId), eq(intakeFile.state, 'reading')));
}

/** @returns false when the file is gone or was replaced meanwhile */
export async function setIntakeFile(
  tx: Tx,
  file: Pick<IntakeFile, 'intakeId' | 'name' | 'blob'>,
  set: Partial<Omit<IntakeFile, 'intakeId' | 'name' | 'order' | 'blob' | 'bytes'>>,
): Promise<boolean> {
  const rows = await tx
    .update(intakeFile)
    .set(set)
    .where(and(eq(intakeFile.intakeId, file.intakeId), eq(intakeFile.name, file.name), eq(intakeFile.blob, file.blob)))
    .returning({ name: intakeFile.name });
  return rows.length > 0;
}

/** Intakes that have files which wait or were left. */
export const intakesWaiting = async (tx: Tx): Promise<string[]> =>
  (
    await tx
      .selectDistinct({ id: intakeFile.intakeId })
      .from(intakeFile)
      .where(inArray(intakeFile.state, ['waiting', 'reading']))
  ).map(({ id }) => id);
