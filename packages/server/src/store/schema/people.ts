/** Who paints here, what is given to whom, who is at it, and what they say of it. */
import {
  bigserial,
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import type { NotePlace } from '@wet-lacquer/sync/people.ts';
import { bytea, created } from './columns.ts';
import { livery } from './work.ts';

/** Whoever may sign in. Nobody is in it while sign-in is off. */
export const painter = pgTable('painter', {
  id: uuid().primaryKey().defaultRandom(),
  name: text().notNull(),
  /** The name as it is compared: folded, without difference between large and small letters. */
  nameKey: text().notNull().unique(),
  /** Invites, looks after storage, and has what belongs to nobody. */
  keeper: boolean().notNull(),
  /** Argon2id, in PHC string format; null: passkeys alone. */
  password: text(),
  createdAt: created(),
  /** When the account was closed; null: it is open. */
  closedAt: timestamp({ withTimezone: true }),
});

const painterId = () =>
  uuid()
    .notNull()
    .references(() => painter.id, { onDelete: 'cascade' });
const ends = () => timestamp({ withTimezone: true }).notNull();

/** A browser that is signed in. Tokens are kept as their SHA-256 alone. */
export const session = pgTable(
  'session',
  {
    id: uuid().primaryKey().defaultRandom(),
    token: text().notNull().unique(),
    /** The token before this one, which is good for a moment longer: requests under way carry it. */
    before: text(),
    turnedAt: created(),
    painterId: painterId(),
    /** What it is said to be, so that one knows it again in a list. */
    browser: text().notNull(),
    createdAt: created(),
    usedAt: created(),
    endsAt: ends(),
  },
  (t) => [index('session_of').on(t.painterId), index('session_before').on(t.before)],
);

/** A key of somebody's device (WebAuthn). */
export const passkey = pgTable('passkey', {
  /** The credential's id, base64url. */
  id: text().primaryKey(),
  painterId: painterId(),
  name: text().notNull(),
  publicKey: bytea().notNull(),
  counter: integer().notNull(),
  transports: text().array().notNull(),
  createdAt: created(),
  usedAt: timestamp({ withTimezone: true }),
});

/** What a passkey is to sign; once each. */
export const challenge = pgTable('challenge', {
  id: uuid().primaryKey().defaultRandom(),
  challenge: text().notNull(),
  /** Whose key is to be made; null: somebody signs in. */
  painterId: uuid().references(() => painter.id, { onDelete: 'cascade' }),
  endsAt: ends(),
});

/** Codes that let somebody in once, as SHA-256. */
export const recoveryCode = pgTable('recovery_code', { painterId: painterId(), code: text().notNull() }, (t) => [
  primaryKey({ columns: [t.painterId, t.code] }),
]);

/** A link that makes an account, or lets somebody back into one; once. */
export const invitation = pgTable('invitation', {
  id: uuid().primaryKey().defaultRandom(),
  token: text().notNull().unique(),
  /** Whom it is meant for, as its maker wrote it. */
  note: text().notNull(),
  keeper: boolean().notNull(),
  /** Who is let back in; null: somebody new. */
  painterId: uuid().references(() => painter.id, { onDelete: 'cascade' }),
  madeBy: uuid().references(() => painter.id, { onDelete: 'cascade' }),
  createdAt: created(),
  endsAt: ends(),
});

/** How often something was tried within a window of time, by SHA-256 of who or what it was. */
export const attempt = pgTable(
  'attempt',
  { key: text().notNull(), begins: ends(), count: integer().notNull() },
  (t) => [primaryKey({ columns: [t.key, t.begins] })],
);

/** What can belong to somebody, and be shared. */
export type Kind = 'livery' | 'template' | 'decal' | 'spec' | 'team' | 'intake';
/** Each may what those before it may. */
export type Role = 'look' | 'copy' | 'paint' | 'own';

/** A link that lets whoever has it see a thing, or take part in it. */
export const link = pgTable('link', {
  id: uuid().primaryKey().defaultRandom(),
  token: text().notNull().unique(),
  kind: text().$type<Kind>().notNull(),
  object: text().notNull(),
  role: text().$type<Role>().notNull(),
  madeBy: uuid().references(() => painter.id, { onDelete: 'cascade' }),
  createdAt: created(),
  endsAt: timestamp({ withTimezone: true }),
});

/** Who may do what with a thing. Without an owner it is the house's. */
export const access = pgTable(
  'access',
  {
    id: bigserial({ mode: 'number' }).primaryKey(),
    kind: text().$type<Kind>().notNull(),
    /** Its id, hash or key. */
    object: text().notNull(),
    painterId: painterId(),
    role: text().$type<Role>().notNull(),
    /** The link that it came by, and goes with. */
    linkId: uuid().references(() => link.id, { onDelete: 'cascade' }),
    createdAt: created(),
  },
  (t) => [
    uniqueIndex('access_once').on(t.kind, t.object, t.painterId, t.role, t.linkId),
    index('access_of').on(t.painterId, t.kind),
  ],
);

/**
 * Which things name a blob, or a template, by its hash: kept by the database itself (see the migration), so that no way of naming one is
 * forgotten. Kind "painter": somebody stored it.
 */
export const blobUse = pgTable(
  'blob_use',
  { hash: text().notNull(), kind: text().$type<Kind | 'painter'>().notNull(), object: text().notNull() },
  (t) => [primaryKey({ columns: [t.hash, t.kind, t.object] }), index('blob_use_of').on(t.kind, t.object)],
);

/** Who has a livery open. */
export const here = pgTable(
  'here',
  {
    liveryId: uuid()
      .notNull()
      .references(() => livery.id, { onDelete: 'cascade' }),
    /** A window of theirs. */
    window: uuid().notNull(),
    painterId: painterId(),
    sheet: text(),
    layer: text(),
    at: created(),
  },
  (t) => [primaryKey({ columns: [t.liveryId, t.window] })],
);

/** Something said of a place of a livery. It is no step of its log: what is painted does not hang on it. */
export const note = pgTable(
  'note',
  {
    id: uuid().primaryKey().defaultRandom(),
    liveryId: uuid()
      .notNull()
      .references(() => livery.id, { onDelete: 'cascade' }),
    /** One more than that of the last on its livery. */
    number: integer().notNull(),
    place: jsonb().$type<NotePlace>().notNull(),
    /** Who said it: as of steps. */
    person: text().notNull(),
    text: text().notNull(),
    createdAt: created(),
    /** Who ticked it off, and when; null: it is open. */
    doneBy: text(),
    doneAt: timestamp({ withTimezone: true }),
  },
  (t) => [uniqueIndex('note_of').on(t.liveryId, t.number)],
);
export const noteAnswer = pgTable(
  'note_answer',
  {
    id: uuid().primaryKey().defaultRandom(),
    noteId: uuid()
      .notNull()
      .references(() => note.id, { onDelete: 'cascade' }),
    person: text().notNull(),
    text: text().notNull(),
    createdAt: created(),
  },
  (t) => [index('note_answer_of').on(t.noteId)],
);
