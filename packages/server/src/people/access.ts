/** What somebody may do with a thing, and to whom it is given. */
import { and, asc, eq, isNull, sql } from 'drizzle-orm';
import type { Tx } from '../store/db.ts';
import { access, link, painter, type Kind, type Role } from '../store/schema.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { NotFound } from '../host/errors.ts';
import { digestOf, newToken } from './secrets.ts';
import { painterNow, type Painter } from './who.ts';

/** Roles, rising: each may what those before it may. */
const RISING: readonly Role[] = ['look', 'copy', 'paint', 'own'];
/** 1 to 4; see role_of in the database. */
export const rankOf = (role: Role): number => RISING.indexOf(role) + 1;

const textArray = (texts: readonly string[]) =>
  sql`array[${sql.join(
    texts.map((text) => sql`${text}`),
    sql`, `,
  )}]::text[]`;

/** What a painter may do with some things, by id; 0: nothing. */
async function ranksOf(
  tx: Tx,
  { id: who, keeper }: Painter,
  kind: Kind,
  ids: readonly string[],
): Promise<Map<string, number>> {
  if (ids.length === 0) return new Map();
  const { rows } = await tx.execute<{ id: string; rank: number }>(
    sql`select id, role_of(${who}::uuid, ${keeper}, ${kind}, id) as rank from unnest(${textArray(ids)}) as asked (id)`,
  );
  return new Map(rows.map(({ id, rank }) => [id, rank]));
}

/** 0: nothing. */
export const roleOf = async (tx: Tx, who: Painter, kind: Kind, object: string): Promise<number> =>
  (await ranksOf(tx, who, kind, [object])).get(object) ?? 0;

/** Of some hashes, those under which something is stored that a painter may not fetch. */
export async function outOfReach(tx: Tx, { id, keeper }: Painter, hashes: readonly string[]): Promise<string[]> {
  if (hashes.length === 0) return [];
  const { rows } = await tx.execute<{ hash: string }>(
    sql`select out_of_reach(${id}::uuid, ${keeper}, ${textArray(hashes)}) as hash`,
  );
  return rows.map(({ hash }) => hash);
}

/** Of some things, those that whoever asks may see. With sign-in off: all. */
export async function onlySeen<T>(
  tx: Tx,
  kind: Kind,
  things: readonly T[],
  idOf: (thing: T) => string,
  least: Role = 'look',
): Promise<T[]> {
  const who = painterNow();
  if (!who) return [...things];
  const ranks = await ranksOf(tx, who, kind, things.map(idOf));
  return things.filter((thing) => (ranks.get(idOf(thing)) ?? 0) >= rankOf(least));
}

/** What whoever asks may do with some things that they may see, by id; with sign-in off everything. */
export async function rolesOf(tx: Tx, kind: Kind, ids: readonly string[]): Promise<(id: string) => Role> {
  const who = painterNow();
  if (!who) return () => 'own';
  const ranks = await ranksOf(tx, who, kind, ids);
  return (id) => RISING[(ranks.get(id) ?? 1) - 1];
}

/** What is made belongs to whoever makes it. With sign-in off it is the house's. */
export async function own(tx: Tx, kind: Kind, object: string): Promise<void> {
  const who = painterNow();
  if (!who) return;
  await tx.execute(sql`
    insert into access (kind, object, painter_id, role) select ${kind}, ${object}, ${who.id}, 'own' where not exists (
      select 1 from access where kind = ${kind} and object = ${object} and painter_id = ${who.id} and role = 'own')`);
}

export const told = (tx: Tx, kind: Kind, object: string) =>
  tx.execute(sql`select pg_notify('access', ${`${kind} ${object}`})`);

/** With whom a thing is shared: people by name, and links. */
export async function sharesOf(tx: Tx, kind: Kind, object: string) {
  const people = await tx
    .select({ id: painter.id, name: painter.name, role: access.role, byLink: access.linkId })
    .from(access)
    .innerJoin(painter, eq(painter.id, access.painterId))
    .where(and(eq(access.kind, kind), eq(access.object, object)))
    .orderBy(asc(access.id));
  const links = await tx
    .select({ id: link.id, role: link.role, createdAt: link.createdAt, endsAt: link.endsAt })
    .from(link)
    .where(and(eq(link.kind, kind), eq(link.object, object)))
    .orderBy(asc(link.createdAt));
  return { people, links };
}

/** Shares a thing with somebody by name, instead of what they had. @throws NotFound when there is nobody of that name */
export async function shareWith(tx: Tx, kind: Kind, object: string, nameKey: string, role: Role): Promise<void> {
  const [found] = await tx
    .select({ id: painter.id })
    .from(painter)
    .where(and(eq(painter.nameKey, nameKey), isNull(painter.closedAt)));
  if (!found) throw new NotFound('Nobody here is called that.');
  if (found.id === painterNow()?.id) throw new InputError('It is yours already.');
  await unshare(tx, kind, object, found.id);
  await tx.insert(access).values({ kind, object, painterId: found.id, role });
  await told(tx, kind, object);
}

/** Takes back what somebody was given, by name or by link. @throws InputError when nobody would own it any more */
export async function unshare(tx: Tx, kind: Kind, object: string, painterId: string): Promise<void> {
  const of = and(eq(access.kind, kind), eq(access.object, object));
  const owners = await tx
    .select({ id: access.painterId })
    .from(access)
    .where(and(of, eq(access.role, 'own')));
  if (owners.length > 0 && owners.every(({ id }) => id === painterId))
    throw new InputError('It must belong to somebody; give it to another owner first.');
  await tx.delete(access).where(and(of, eq(access.painterId, painterId)));
  await told(tx, kind, object);
}

export interface OpenedLink {
  id: string;
  kind: Kind;
  object: string;
  role: Role;
}

/** @returns the token, which is shown once */
export async function makeLink(tx: Tx, kind: Kind, object: string, role: Role, endsAt: Date | null): Promise<string> {
  const token = newToken();
  await tx
    .insert(link)
    .values({ kind, object, role, endsAt, token: digestOf(token), madeBy: painterNow()?.id ?? null });
  return token;
}

/** The link of a token; null: there is none any more. */
export async function linkOf(tx: Tx, token: string): Promise<OpenedLink | null> {
  const [found] = await tx
    .select()
    .from(link)
    .where(and(eq(link.token, digestOf(token)), sql`(ends_at is null or ends_at > now())`));
  return found ?? null;
}

/** Somebody who is signed in takes what a link gives, for as long as there is the link. */
export async function takeLink(tx: Tx, { id, kind, object, role }: OpenedLink, who: Painter): Promise<void> {
  if ((await roleOf(tx, who, kind, object)) >= rankOf(role)) return;
  await tx.insert(access).values({ kind, object, painterId: who.id, role, linkId: id }).onConflictDoNothing();
}

/** Takes a link back: whoever came by it is out, also where the thing is open. @returns what it was of; null: there was none */
export async function endLink(tx: Tx, id: string): Promise<void> {
  const [gone] = await tx.delete(link).where(eq(link.id, id)).returning();
  if (gone) await told(tx, gone.kind, gone.object);
}

/** What a link is of. @throws NotFound */
export async function linkAt(tx: Tx, id: string): Promise<OpenedLink> {
  const [found] = await tx.select().from(link).where(eq(link.id, id));
  if (!found) throw new NotFound('This link has been taken back already.');
  return found;
}
