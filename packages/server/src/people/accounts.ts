/** Accounts: how they come to be, what lets somebody in, and how they are closed. */
import { and, asc, count, desc, eq, gt, isNull, sql } from 'drizzle-orm';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { Clash, NotFound } from '../host/errors.ts';
import { transact, type Db, type Tx } from '../store/db.ts';
import { invitation, painter, recoveryCode } from '../store/schema.ts';
import { badPassword, codeOf, digestOf, hashPassword, isCheap, isPassword, newCode, newToken } from './secrets.ts';
import { endSessions } from './sessions.ts';
import { painterNow } from './who.ts';

const DAY = 86_400_000;
/** How long an invitation is good. */
const INVITED_MS = 7 * DAY;
const CODES = 10;

/** A name as it is compared: "Ada" and "ADA " are one painter. */
export const keyOf = (name: string): string => name.normalize('NFKC').trim().replace(/\s+/g, ' ').toLowerCase();

type Account = typeof painter.$inferSelect;

/** Whoever a name and a password let in; null: they do not. It takes the same time for a name that nobody has. */
export async function byPassword(db: Db, name: string, password: string): Promise<Account | null> {
  const [found] = await db
    .select()
    .from(painter)
    .where(and(eq(painter.nameKey, keyOf(name)), isNull(painter.closedAt)));
  if (!(await isPassword(found?.password ?? null, password))) return null;
  if (isCheap(found.password!))
    await db
      .update(painter)
      .set({ password: await hashPassword(password) })
      .where(eq(painter.id, found.id));
  return found;
}

/** The same by one of the codes that were written down; it is used up. */
export async function byCode(db: Db, name: string, code: string): Promise<Account | null> {
  const used = await db
    .delete(recoveryCode)
    .where(
      and(
        eq(recoveryCode.code, digestOf(codeOf(code))),
        sql`painter_id in (select id from painter where name_key = ${keyOf(name)} and closed_at is null)`,
      ),
    )
    .returning();
  return used.length > 0 ? accountOf(db, used[0].painterId) : null;
}

/** @throws NotFound */
export async function accountOf(tx: Tx, id: string): Promise<Account> {
  const [found] = await tx.select().from(painter).where(eq(painter.id, id));
  if (!found) throw new NotFound('There is no such painter.');
  return found;
}

export const hasPainters = async (tx: Tx): Promise<boolean> =>
  (await tx.select({ id: painter.id }).from(painter).limit(1)).length > 0;

export const listPainters = (tx: Tx) =>
  tx
    .select({
      id: painter.id,
      name: painter.name,
      keeper: painter.keeper,
      since: painter.createdAt,
      closed: sql<boolean>`${painter.closedAt} is not null`,
    })
    .from(painter)
    .orderBy(asc(painter.createdAt));

/** Names of some painters, by id. */
export async function namesOf(tx: Tx, ids: readonly string[]): Promise<Record<string, string>> {
  const uuids = [...new Set(ids)].filter((id) => /^[0-9a-f-]{36}$/.test(id));
  if (uuids.length === 0) return {};
  const rows = await tx
    .select({ id: painter.id, name: painter.name })
    .from(painter)
    .where(sql`id::text in ${uuids}`);
  return Object.fromEntries(rows.map(({ id, name }) => [id, name]));
}

interface Invited {
  note: string;
  keeper: boolean;
  /** Who is let back in; null: somebody new. */
  painterId: string | null;
}

/** @returns the token, which is shown once */
export async function invite(tx: Tx, { note, keeper, painterId }: Invited): Promise<string> {
  const token = newToken();
  await tx.insert(invitation).values({
    ...{ note, keeper, painterId, token: digestOf(token), madeBy: painterNow()?.id ?? null },
    endsAt: new Date(Date.now() + INVITED_MS),
  });
  return token;
}

export const listInvitations = (tx: Tx) =>
  tx
    .select({ id: invitation.id, note: invitation.note, keeper: invitation.keeper, endsAt: invitation.endsAt })
    .from(invitation)
    .where(gt(invitation.endsAt, sql`now()`))
    .orderBy(desc(invitation.createdAt));

export async function takeBackInvitation(tx: Tx, id: string): Promise<void> {
  await tx.delete(invitation).where(eq(invitation.id, id));
}

const STALE = 'This invitation has been used, was taken back, or is too old; ask for another.';

/** What a link invites to. @throws NotFound */
export async function invitationOf(tx: Tx, token: string): Promise<Invited & { name: string | null }> {
  const [found] = await tx
    .select()
    .from(invitation)
    .where(and(eq(invitation.token, digestOf(token)), gt(invitation.endsAt, sql`now()`)));
  if (!found) throw new NotFound(STALE);
  return { ...found, name: found.painterId ? (await accountOf(tx, found.painterId)).name : null };
}

/**
 * An account, or a way back into one, by an invitation; it is used up. The first painter is a keeper, and has all that was made before.
 * @throws InputError when the password is none, or the name is somebody's
 */
export async function takeInvitation(db: Db, token: string, name: string, password: string): Promise<string> {
  const { name: known } = await invitationOf(db, token);
  const bad = badPassword(password, known ?? name);
  if (bad) throw new InputError(bad);
  const hash = await hashPassword(password);
  return transact(db, async (tx) => {
    const [used] = await tx
      .delete(invitation)
      .where(and(eq(invitation.token, digestOf(token)), gt(invitation.endsAt, sql`now()`)))
      .returning();
    if (!used) throw new NotFound(STALE);
    if (used.painterId) {
      await tx.update(painter).set({ password: hash, closedAt: null }).where(eq(painter.id, used.painterId));
      await endSessions(tx, used.painterId, { but: null });
      return used.painterId;
    }
    const first = !(await hasPainters(tx));
    const [made] = await tx
      .insert(painter)
      .values({ name: name.trim(), nameKey: keyOf(name), keeper: used.keeper, password: hash })
      .onConflictDoNothing()
      .returning();
    if (!made) throw new Clash('Somebody here is called that already; take another name.');
    if (first)
      for (const kind of ['livery', 'team', 'intake'])
        await tx.execute(
          sql`insert into access (kind, object, painter_id, role) select ${kind}, id::text, ${made.id}, 'own' from ${sql.identifier(kind)}`,
        );
    return made.id;
  });
}

/** A new password; all other browsers are signed out. @throws InputError when it is none */
export async function setPassword(db: Db, id: string, password: string, session: string): Promise<void> {
  const { name } = await accountOf(db, id);
  const bad = badPassword(password, name);
  if (bad) throw new InputError(bad);
  const hash = await hashPassword(password);
  await transact(db, async (tx) => {
    await tx.update(painter).set({ password: hash }).where(eq(painter.id, id));
    await endSessions(tx, id, { but: session });
  });
}

/** Codes to write down, instead of those from before. */
export async function newCodes(db: Db, painterId: string): Promise<string[]> {
  const codes = Array.from({ length: CODES }, newCode);
  await transact(db, async (tx) => {
    await tx.delete(recoveryCode).where(eq(recoveryCode.painterId, painterId));
    await tx.insert(recoveryCode).values(codes.map((code) => ({ painterId, code: digestOf(codeOf(code)) })));
  });
  return codes;
}

export const codesLeft = async (tx: Tx, painterId: string): Promise<number> =>
  (await tx.select({ n: count() }).from(recoveryCode).where(eq(recoveryCode.painterId, painterId)))[0].n;

/** Closes an account, or opens it again; makes a keeper, or none. @throws InputError when no keeper would be left */
export async function setAccount(db: Db, id: string, set: { closed?: boolean; keeper?: boolean }): Promise<void> {
  await transact(db, async (tx) => {
    // One after the other: two keepers that close each other leave one.
    await tx.execute(sql`select pg_advisory_xact_lock(731404)`);
    await accountOf(tx, id);
    if (set.closed !== undefined)
      await tx
        .update(painter)
        .set({ closedAt: set.closed ? sql`now()` : null })
        .where(eq(painter.id, id));
    if (set.keeper !== undefined) await tx.update(painter).set({ keeper: set.keeper }).where(eq(painter.id, id));
    const keepers = await tx
      .select({ id: painter.id })
      .from(painter)
      .where(and(eq(painter.keeper, true), isNull(painter.closedAt)))
      .limit(1);
    if (keepers.length === 0)
      throw new InputError('Somebody has to look after this server; make another keeper first.');
    if (set.closed) await endSessions(tx, id, { but: null });
  });
}
