import { own } from '../people/access.ts';
import { asc, eq, sql } from 'drizzle-orm';
import { InputError } from '@wet-lacquer/core/errors.ts';
import type { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import type { Tx } from './db.ts';
import { edit, snapshot, template } from './schema.ts';

/** Templates never change under their hash, so they are read from the database once. */
const known = new Map<string, Template>();

export async function findTemplate(tx: Tx, hash: string): Promise<Template | null> {
  const held = known.get(hash);
  if (held) return held;
  const [row] = await tx.select().from(template).where(eq(template.hash, hash));
  if (row) known.set(hash, row.document);
  return row?.document ?? null;
}

/** @throws InputError when it is not here */
export async function getTemplate(tx: Tx, hash: string): Promise<Template> {
  const found = await findTemplate(tx, hash);
  if (!found) throw new InputError('The template of this livery is not here.');
  return found;
}

/** Keeps a template under the hash of its JSON. @param picture blob of its picture, when there is one already */
export async function putTemplate(tx: Tx, document: Template, picture?: string): Promise<Sha256> {
  const hash = hashOf(JSON.stringify(document));
  await tx
    .insert(template)
    .values({ hash, key: document.key, document, picture: picture ?? null })
    .onConflictDoNothing();
  await own(tx, 'template', hash);
  return hash;
}

export const listTemplates = async (tx: Tx): Promise<{ hash: string; document: Template }[]> =>
  tx.select({ hash: template.hash, document: template.document }).from(template).orderBy(asc(template.createdAt));

/** The first template of a game, in its newest version; null: there is none. Documents are read once: this can be asked often. */
export async function templateOfGame(tx: Tx, game: string): Promise<{ hash: Sha256; document: Template } | null> {
  const rows = await tx.select({ hash: template.hash }).from(template).orderBy(asc(template.createdAt));
  const all = await Promise.all(
    rows.map(async ({ hash }) => ({ hash: hash as Sha256, document: await getTemplate(tx, hash) })),
  );
  const replaced = new Set(all.map(({ document }) => document.replaces));
  return all.find(({ hash, document }) => document.game === game && !replaced.has(hash)) ?? null;
}

/** The specs that templates bring, oldest first, each with its template's hash; their meshes stay where they are. */
export async function ownSpecs(tx: Tx): Promise<{ hash: string; spec: DeliverySpec }[]> {
  const spec = sql<DeliverySpec | null>`${template.document} -> 'ownSpec'`;
  const rows = await tx.select({ hash: template.hash, spec }).from(template).orderBy(asc(template.createdAt));
  return rows.flatMap(({ hash, spec }) => (spec ? [{ hash, spec }] : []));
}

/** The last of the versions that take a template's place; null when nothing does. */
export async function newestOf(tx: Tx, hash: string): Promise<{ hash: string; document: Template } | null> {
  const replaces = sql<string | null>`${template.document} ->> 'replaces'`;
  const all = await tx.select({ hash: template.hash, replaces }).from(template).orderBy(asc(template.createdAt));
  let newest = hash;
  // Of several made from one, the last.
  for (;;) {
    const next = all.findLast((one) => one.replaces === newest);
    if (!next) break;
    newest = next.hash;
  }
  return newest === hash ? null : { hash: newest, document: await getTemplate(tx, newest) };
}

/** @throws InputError when a livery is painted on it, or it is not here */
export async function deleteTemplate(tx: Tx, hash: string): Promise<void> {
  const state = sql`${snapshot.document} -> 'pins' ->> 'template' = ${hash}`;
  const step = sql`${hash} in (${edit.edit} ->> 'template', ${edit.inverse} ->> 'template')`;
  const painted = await tx.select({ id: snapshot.liveryId }).from(snapshot).where(state).limit(1);
  const taken = await tx.select({ id: edit.liveryId }).from(edit).where(step).limit(1);
  if (painted.length + taken.length > 0) throw new InputError('A livery is painted on this template, so it stays.');
  const gone = await tx.delete(template).where(eq(template.hash, hash)).returning({ hash: template.hash });
  if (gone.length === 0) throw new InputError('This template is not here.');
  known.delete(hash);
}
