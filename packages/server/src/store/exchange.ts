/** Skins that were handed on: what is listed, every version of it, who has it. */
import { and, asc, desc, eq, inArray, isNull, sql } from 'drizzle-orm';
import { everyBlob, type Skin } from '@wet-lacquer/core/exchange/skin.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import type { SkinFinding } from '@wet-lacquer/sync/exchange.ts';
import { NotFound } from '../host/errors.ts';
import { transact, type Tx } from './db.ts';
import { listing, listingVersion, putIn } from './schema.ts';

export type Listing = typeof listing.$inferSelect;
export type PutInRow = typeof putIn.$inferSelect;

export interface ListedVersion {
  version: number;
  document: Skin;
  hash: string;
  findings: SkinFinding[];
  createdAt: Date;
}

export async function getListing(tx: Tx, id: string): Promise<Listing> {
  const [row] = await tx.select().from(listing).where(eq(listing.id, id));
  if (!row) throw new NotFound('There is no such skin in the exchange.');
  return row;
}

/** @param version left out: the newest */
export async function getVersion(tx: Tx, id: string, version?: number): Promise<ListedVersion> {
  const of = eq(listingVersion.listingId, id);
  const [row] = await tx
    .select()
    .from(listingVersion)
    .where(version === undefined ? of : and(of, eq(listingVersion.version, version)))
    .orderBy(desc(listingVersion.version))
    .limit(1);
  if (!row) throw new NotFound('There is no such version of this skin.');
  return row;
}

/** All versions, the newest first, without their files. */
export const versionsOf = (tx: Tx, id: string): Promise<{ version: number; news: string; createdAt: Date }[]> =>
  tx
    .select({
      version: listingVersion.version,
      news: sql<string>`${listingVersion.document}->>'news'`,
      createdAt: listingVersion.createdAt,
    })
    .from(listingVersion)
    .where(eq(listingVersion.listingId, id))
    .orderBy(desc(listingVersion.version));

/** Where it comes from, beside what its document says. */
export type ListedBy = Pick<Listing, 'subscriptionId' | 'theirs' | 'liveryId' | 'painterId'>;

/** The next version of a listing, or its first. @param id of the listing; null: a new one */
export async function addVersion(
  tx: Tx,
  id: string | null,
  by: ListedBy,
  skin: Skin,
  findings: SkinFinding[],
  version?: number,
): Promise<{ id: string; version: number }> {
  return transact(tx, async (inner) => {
    const { name, crew, subject, spec, about, colours, licence, pictures } = skin;
    const { gameName } = spec;
    const facts = {
      words: [name, skin.by, crew, subject.name, gameName, about].join(' ').toLowerCase(),
      ...{ specKey: spec.key, game: spec.game, subject: subject.name, crew },
      facts: { name, by: skin.by, gameName, colours, adapt: licence.adapt, pictures: pictures.length },
    };
    const [before] = id ? await inner.select().from(listing).where(eq(listing.id, id)).for('update') : [];
    const next = version ?? (before ? before.version + 1 : 1);
    const [row] = before
      ? await inner
          .update(listing)
          .set({
            ...{ ...facts, version: next, updatedAt: sql`now()` },
            // What was taken down here stays so, whatever comes from elsewhere.
            ...(!before.subscriptionId || !before.takenDownHere ? { takenDown: null, takenDownHere: false } : {}),
          })
          .where(eq(listing.id, before.id))
          .returning()
      : await inner
          .insert(listing)
          .values({ ...by, ...facts, version: next })
          .returning();
    const hash = hashOf(JSON.stringify(skin));
    const bytes = everyBlob(skin).reduce((sum, one) => sum + one.bytes, 0);
    await inner
      .insert(listingVersion)
      .values({ listingId: row.id, version: next, document: skin, hash, bytes, findings });
    return { id: row.id, version: next };
  });
}

/** What a painter published from a livery by a spec; null: nothing yet. */
export async function publishedFrom(tx: Tx, liveryId: string, specKey: string): Promise<Listing | null> {
  const [row] = await tx
    .select()
    .from(listing)
    .where(and(eq(listing.liveryId, liveryId), eq(listing.specKey, specKey), isNull(listing.subscriptionId)))
    .orderBy(desc(listing.createdAt))
    .limit(1);
  return row ?? null;
}

/** What is looked for: every word somewhere, the rest as it is. */
export interface Wanted {
  words: readonly string[];
  game?: string | undefined;
  subject?: string | undefined;
  crew?: string | undefined;
}

/** Listings that are there, the latest first; without their documents. */
export const listed = (tx: Tx, { words, game, subject, crew }: Wanted): Promise<Listing[]> =>
  tx
    .select()
    .from(listing)
    .where(
      and(
        isNull(listing.takenDown),
        game ? eq(listing.game, game) : undefined,
        subject ? eq(listing.subject, subject) : undefined,
        crew ? eq(listing.crew, crew) : undefined,
        ...words.map((word) => sql`position(${word} in ${listing.words}) > 0`),
      ),
    )
    .orderBy(desc(listing.updatedAt), asc(listing.id));

/** What can be looked for: games, subjects and crews of all that is there. */
export async function lookedForIn(tx: Tx) {
  const is = isNull(listing.takenDown);
  const gameName = sql<string>`${listing.facts} ->> 'gameName'`;
  const games = await tx
    .selectDistinctOn([listing.game], { key: listing.game, name: gameName })
    .from(listing)
    .where(is);
  const subjects = await tx.selectDistinct({ one: listing.subject }).from(listing).where(is).orderBy(listing.subject);
  const crews = await tx.selectDistinct({ one: listing.crew }).from(listing).where(is).orderBy(listing.crew);
  return {
    games,
    subjects: subjects.map(({ one }) => one),
    crews: crews.flatMap(({ one }) => (one ? [one] : [])),
  };
}

/** Everything that is handed on from here: the newest version of each, and its document's hash. */
export const handedOn = (tx: Tx) =>
  tx
    .select({ id: listing.id, version: listing.version, document: listingVersion.hash, takenDown: listing.takenDown })
    .from(listing)
    .innerJoin(
      listingVersion,
      and(eq(listingVersion.listingId, listing.id), eq(listingVersion.version, listing.version)),
    )
    .where(isNull(listing.subscriptionId))
    .orderBy(asc(listing.createdAt));

/** Bytes that a subscription has brought, in all versions. */
export async function bytesOf(tx: Tx, subscription: string): Promise<number> {
  const [{ bytes }] = await tx
    .select({ bytes: sql<string | null>`sum(${listingVersion.bytes})` })
    .from(listingVersion)
    .innerJoin(listing, eq(listing.id, listingVersion.listingId))
    .where(eq(listing.subscriptionId, subscription));
  return Number(bytes ?? 0);
}

/** What is in a game of a host by now, of some listings: the last word on each. */
export async function putInNow(tx: Tx, host: string, ids: readonly string[]): Promise<Map<string, PutInRow>> {
  if (ids.length === 0) return new Map();
  const rows = await tx
    .select()
    .from(putIn)
    .where(and(eq(putIn.host, host), eq(putIn.state, 'in'), inArray(putIn.listingId, [...ids])))
    .orderBy(asc(putIn.order));
  return new Map(rows.map((row) => [row.listingId, row]));
}

/** All that is in a game of a host. */
export const putInGame = (tx: Tx, host: string, game: string): Promise<PutInRow[]> =>
  tx
    .select()
    .from(putIn)
    .where(and(eq(putIn.host, host), eq(putIn.game, game), eq(putIn.state, 'in')));
