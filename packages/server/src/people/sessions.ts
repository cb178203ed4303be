/** Browsers that are signed in. */
import { and, desc, eq, gt, lt, ne, or, sql } from 'drizzle-orm';
import type { Tx } from '../store/db.ts';
import { painter, session } from '../store/schema.ts';
import { digestOf, newToken } from './secrets.ts';
import type { Painter } from './who.ts';

const DAY = 86_400_000;
/** A session ends so long after it was last used, and so long after it began in any case. */
const IDLE_MS = 14 * DAY;
const LONGEST_MS = 90 * DAY;
/** A token is replaced by another so often; the one before is good for a moment longer. */
const TURN_MS = DAY;
const GRACE_MS = 60_000;
/** Browser names are cut to so many characters. */
const BROWSER = 120;

/** A fresh session: nothing that the browser sent before becomes one. @returns its token */
export async function beginSession(tx: Tx, painterId: string, browser: string): Promise<string> {
  const token = newToken();
  await tx.insert(session).values({
    ...{ painterId, token: digestOf(token), browser: browser.slice(0, BROWSER) },
    endsAt: new Date(Date.now() + LONGEST_MS),
  });
  await tx.delete(session).where(lt(session.endsAt, sql`now()`));
  return token;
}

/** Who has a token; null: nobody any more. `turned`: the token that takes its place. */
export async function whoHas(tx: Tx, token: string): Promise<{ who: Painter; turned: string | null } | null> {
  const digest = digestOf(token);
  const now = Date.now();
  const [row] = await tx
    .select({ session, painter })
    .from(session)
    .innerJoin(painter, eq(painter.id, session.painterId))
    .where(
      and(
        or(eq(session.token, digest), and(eq(session.before, digest), gt(session.turnedAt, new Date(now - GRACE_MS)))),
        gt(session.endsAt, new Date(now)),
        gt(session.usedAt, new Date(now - IDLE_MS)),
      ),
    );
  if (!row || row.painter.closedAt) return null;
  const { id, token: kept, turnedAt, usedAt, createdAt } = row.session;
  let turned: string | null = null;
  if (kept === digest && now - turnedAt.getTime() > TURN_MS) {
    const next = newToken();
    // Of two requests at once one turns it.
    const rows = await tx
      .update(session)
      .set({ before: kept, token: digestOf(next), turnedAt: new Date(now), usedAt: new Date(now) })
      .where(and(eq(session.id, id), eq(session.token, kept)))
      .returning({ id: session.id });
    if (rows.length > 0) turned = next;
  } else if (now - usedAt.getTime() > 60_000)
    await tx
      .update(session)
      .set({ usedAt: new Date(now) })
      .where(eq(session.id, id));
  const { id: painterId, name, keeper } = row.painter;
  return { who: { is: 'painter', id: painterId, name, keeper, session: id, since: createdAt }, turned };
}

export const sessionsOf = (tx: Tx, painterId: string) =>
  tx
    .select({ id: session.id, browser: session.browser, since: session.createdAt, usedAt: session.usedAt })
    .from(session)
    .where(and(eq(session.painterId, painterId), gt(session.endsAt, sql`now()`)))
    .orderBy(desc(session.usedAt));

/** Ends one session of a painter, or all; or all but one. Pages that are open hear of it. */
export async function endSessions(tx: Tx, painterId: string, which: { only: string } | { but: string | null }) {
  const mine = eq(session.painterId, painterId);
  await tx
    .delete(session)
    .where(
      'only' in which ? and(mine, eq(session.id, which.only)) : which.but ? and(mine, ne(session.id, which.but)) : mine,
    );
  await tx.execute(sql`select pg_notify('access', ${`painter ${painterId}`})`);
}
