/** What is handed on, where else it comes from, and whose game it is in. */
import {
  bigint,
  bigserial,
  boolean,
  index,
  integer,
  json,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import type { Skin } from '@wet-lacquer/core/exchange/skin.ts';
import type { SkinFacts, SkinFinding } from '@wet-lacquer/sync/exchange.ts';
import { created } from './columns.ts';
import { painter } from './people.ts';
import { livery } from './work.ts';

/** Another server whose skins are listed here as well. */
export const subscription = pgTable('subscription', {
  id: uuid().primaryKey().defaultRandom(),
  /** Its origin, as in "http://127.0.0.1:4173". */
  url: text().notNull().unique(),
  createdAt: created(),
  lookedAt: timestamp({ withTimezone: true }),
  /** Why the last look failed, or what of it could not be taken; null: all is well. */
  problem: text(),
});

/** A skin that was handed on. Takes it down: it stays as a row, so that whoever has it is told. */
export const listing = pgTable(
  'listing',
  {
    id: uuid().primaryKey().defaultRandom(),
    /** Where it came from, and its id there; null: it was published here. */
    subscriptionId: uuid().references(() => subscription.id, { onDelete: 'cascade' }),
    theirs: text(),
    /** What it was published from. */
    liveryId: uuid().references(() => livery.id, { onDelete: 'set null' }),
    specKey: text().notNull(),
    painterId: uuid().references(() => painter.id, { onDelete: 'set null' }),
    /** Its newest version, and what is looked for in it: all in small letters. */
    version: integer().notNull(),
    words: text().notNull(),
    game: text().notNull(),
    subject: text().notNull(),
    crew: text().notNull(),
    /** What else its card says: lists are read without documents. */
    facts: jsonb().$type<SkinFacts>().notNull(),
    /** Why it was taken down; null: it is there. */
    takenDown: text(),
    /** Here, whatever the server says that it came from. */
    takenDownHere: boolean().notNull().default(false),
    createdAt: created(),
    updatedAt: created(),
  },
  (t) => [uniqueIndex('listing_theirs').on(t.subscriptionId, t.theirs), index('listing_of').on(t.liveryId, t.specKey)],
);

/** A version of it never changes. */
export const listingVersion = pgTable(
  'listing_version',
  {
    listingId: uuid()
      .notNull()
      .references(() => listing.id, { onDelete: 'cascade' }),
    version: integer().notNull(),
    /** json, not jsonb: its hash is that of the text. */
    document: json().$type<Skin>().notNull(),
    hash: text().notNull(),
    /** Of its files, pictures and livery. */
    bytes: bigint({ mode: 'number' }).notNull(),
    findings: jsonb().$type<SkinFinding[]>().notNull(),
    createdAt: created(),
  },
  (t) => [primaryKey({ columns: [t.listingId, t.version] })],
);

/** What somebody said against a skin. */
export const report = pgTable('report', {
  id: uuid().primaryKey().defaultRandom(),
  listingId: uuid()
    .notNull()
    .references(() => listing.id, { onDelete: 'cascade' }),
  painterId: uuid().references(() => painter.id, { onDelete: 'set null' }),
  why: text().notNull(),
  createdAt: created(),
});

/** "putting": what the folder is to become is written here first, so that a host that died half-way does it again. */
export type PutInState = 'putting' | 'in' | 'replaced' | 'out' | 'failed';

/** A skin in a game's folder of a host. */
export const putIn = pgTable(
  'put_in',
  {
    id: uuid().primaryKey().defaultRandom(),
    order: bigserial({ mode: 'number' }).notNull(),
    listingId: uuid()
      .notNull()
      .references(() => listing.id, { onDelete: 'cascade' }),
    version: integer().notNull(),
    host: text().notNull(),
    game: text().notNull(),
    state: text().$type<PutInState>().notNull(),
    /** The key and the number that it has there. */
    key: text().notNull(),
    number: integer(),
    /** By path in the game's folder; `shared`: others' skins are named or lie in it as well. */
    files: jsonb().$type<{ name: string; blob: string; shared: boolean }[]>().notNull(),
    replaced: jsonb().$type<{ name: string; blob: string }[]>().notNull(),
    notes: jsonb().$type<string[]>().notNull(),
    painterId: uuid().references(() => painter.id, { onDelete: 'set null' }),
    createdAt: created(),
  },
  (t) => [index('put_in_of').on(t.listingId, t.host, t.order)],
);

/** Who else has a skin in their game, on another server: SHA-256 by path. */
export const friend = pgTable(
  'friend',
  {
    listingId: uuid()
      .notNull()
      .references(() => listing.id, { onDelete: 'cascade' }),
    who: text().notNull(),
    version: integer().notNull(),
    files: jsonb().$type<Record<string, string>>().notNull(),
    at: created(),
  },
  (t) => [primaryKey({ columns: [t.listingId, t.who] })],
);
