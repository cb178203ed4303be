import {
  bigint,
  bigserial,
  boolean,
  customType,
  index,
  integer,
  json,
  jsonb,
  pgTable,
  primaryKey,
  real,
  text,
  timestamp,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import type { Credit } from '@wet-lacquer/core/delivery/target.ts';
import type { Skin } from '@wet-lacquer/core/exchange/skin.ts';
import type { Understood } from '@wet-lacquer/core/intake/understood.ts';
import type { MadeFile } from '@wet-lacquer/node/makeFiles.ts';
import type { Edit } from '@wet-lacquer/core/livery/edit.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { Given } from '@wet-lacquer/core/team/give.ts';
import type { Team } from '@wet-lacquer/core/team/team.ts';
import type { SkinFacts, SkinFinding } from '@wet-lacquer/sync/exchange.ts';
import type { BlobFacts } from '@wet-lacquer/sync/judge.ts';
import type { NotePlace } from '@wet-lacquer/sync/people.ts';

const bytea = customType<{ data: Buffer; driverData: Buffer }>({ dataType: () => 'bytea' });
const created = () => timestamp({ withTimezone: true }).notNull().defaultNow();

/** A livery's head. Its state is its latest snapshot and the edits after it. */
export const livery = pgTable('livery', {
  id: uuid().primaryKey().defaultRandom(),
  revision: integer().notNull(),
  /** Its latest picture on the turntable: a blob, and the revision that it shows. */
  picture: text(),
  pictureRevision: integer(),
  createdAt: created(),
  updatedAt: created(),
  /** When it was put into the bin; null: it is not there. */
  deletedAt: timestamp({ withTimezone: true }),
});

/** Append-only log. */
export const edit = pgTable(
  'edit',
  {
    liveryId: uuid()
      .notNull()
      .references(() => livery.id, { onDelete: 'cascade' }),
    revision: integer().notNull(),
    id: text().notNull(),
    person: text().notNull(),
    edit: jsonb().$type<Edit>().notNull(),
    inverse: jsonb().$type<Edit>().notNull(),
    undoes: text(),
    redoes: text(),
    label: text().notNull(),
    at: created(),
  },
  (t) => [
    primaryKey({ columns: [t.liveryId, t.revision] }),
    uniqueIndex('edit_once').on(t.liveryId, t.id),
    index('edit_by').on(t.liveryId, t.person, t.revision),
  ],
);

export const snapshot = pgTable(
  'snapshot',
  {
    liveryId: uuid()
      .notNull()
      .references(() => livery.id, { onDelete: 'cascade' }),
    revision: integer().notNull(),
    document: jsonb().$type<Livery>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.liveryId, t.revision] })],
);

/** Steps that could not stay in a log: shown to whoever opens the livery, until they are made again or let go. */
export const setAside = pgTable(
  'set_aside',
  {
    liveryId: uuid()
      .notNull()
      .references(() => livery.id, { onDelete: 'cascade' }),
    id: text().notNull(),
    order: bigserial({ mode: 'number' }).notNull(),
    /** As it was made, which may be more than an Entry of today. */
    entry: jsonb().$type<unknown>().notNull(),
    why: text().notNull(),
    at: created(),
  },
  (t) => [primaryKey({ columns: [t.liveryId, t.id] })],
);

/** Content-addressed bytes, in chunks of at most 4 MiB. */
export const blob = pgTable('blob', {
  hash: text().primaryKey(),
  bytes: integer().notNull(),
  touchedAt: created(),
  /** What the bytes are, once somebody asked. */
  facts: jsonb().$type<BlobFacts>(),
});
export const blobChunk = pgTable(
  'blob_chunk',
  {
    hash: text()
      .notNull()
      .references(() => blob.hash, { onDelete: 'cascade' }),
    part: integer().notNull(),
    content: bytea().notNull(),
  },
  (t) => [primaryKey({ columns: [t.hash, t.part] })],
);

export const template = pgTable('template', {
  hash: text().primaryKey(),
  key: text().notNull(),
  /** json, not jsonb: the hash is that of the text, whose order of keys must stay. */
  document: json().$type<Template>().notNull(),
  /** Blob of its picture on the turntable, once somebody asked. */
  picture: text(),
  createdAt: created(),
});

/** What was worked out of a model, by the hash of its mesh and parts: blobs that can be made anew. */
export const bakedField = pgTable(
  'baked_field',
  {
    subject: text().notNull(),
    name: text().notNull(),
    blob: text().notNull(),
    /** When somebody last needed it, to the day. */
    usedAt: created(),
  },
  (t) => [primaryKey({ columns: [t.subject, t.name] })],
);

export type IntakeState = 'waiting' | 'reading' | 'read' | 'failed';

/** What a painter brought to make a template of. */
export const intake = pgTable('intake', {
  id: uuid().primaryKey().defaultRandom(),
  name: text().notNull(),
  createdAt: created(),
});

export const intakeFile = pgTable(
  'intake_file',
  {
    intakeId: uuid()
      .notNull()
      .references(() => intake.id, { onDelete: 'cascade' }),
    /** Path with slashes, as it was in its folder or archive. */
    name: text().notNull(),
    order: bigserial({ mode: 'number' }).notNull(),
    blob: text().notNull(),
    bytes: integer().notNull(),
    state: text().$type<IntakeState>().notNull(),
    /** 0..1, while it is read. */
    progress: real().notNull().default(0),
    understood: json().$type<Understood>(),
    /** Blobs of small PNGs: what it looks like, and where our picture differs from its own. */
    preview: text(),
    difference: text(),
    error: text(),
  },
  (t) => [primaryKey({ columns: [t.intakeId, t.name] })],
);

export const decal = pgTable('decal', {
  id: uuid().primaryKey().defaultRandom(),
  name: text().notNull(),
  tags: text().array().notNull(),
  blob: text().notNull().unique(),
  source: text().$type<'pixels' | 'svg'>().notNull(),
  ratio: real().notNull(),
  /** Flat colours of a drawing. */
  colours: text().array().notNull(),
  origin: text().notNull(),
  licence: text().notNull(),
  createdAt: created(),
});

export type DeliveredFile = Omit<MadeFile, 'content'> & { blob: string };

export interface DeliveryProgress {
  done: number;
  of: number;
  what: string;
}

/** "taken-back": it was done, and what it replaced was put back. */
export type DeliveryState = 'queued' | 'encoding' | 'publishing' | 'done' | 'failed' | 'cancelled' | 'taken-back';

export const delivery = pgTable(
  'delivery',
  {
    id: uuid().primaryKey().defaultRandom(),
    order: bigserial({ mode: 'number' }).notNull(),
    liveryId: uuid()
      .notNull()
      .references(() => livery.id, { onDelete: 'cascade' }),
    revision: integer().notNull(),
    specKey: text().notNull(),
    specVersion: integer().notNull(),
    state: text().$type<DeliveryState>().notNull(),
    progress: jsonb().$type<DeliveryProgress>().notNull(),
    cancelled: boolean().notNull().default(false),
    /** Rises with every worker that takes the job; only the holder of the latest may commit. */
    fence: integer().notNull().default(0),
    /** The host whose folders it is for; empty: any, as of an earlier version. */
    host: text().notNull().default(''),
    game: text().notNull(),
    folder: text().notNull(),
    /** The zip that everything goes into, inside the game's folder; null: the files lie there by themselves. */
    package: text(),
    /** The number that the livery has in its game. */
    slot: integer(),
    /** Blobs of the files that this delivery continues or changes, as they were when it was asked for, by path in the game's folder. */
    bases: jsonb().$type<Record<string, string>>().notNull().default({}),
    credits: jsonb().$type<Credit[]>().notNull().default([]),
    /** What was asked for in one go: several specs of one livery. */
    batch: uuid().notNull().defaultRandom(),
    /** The same bytes once more: what it was based on must not have changed. */
    repeat: boolean().notNull().default(false),
    files: jsonb().$type<DeliveredFile[]>().notNull(),
    /** Files of somebody else's that this delivery replaced, kept as blobs. */
    replaced: jsonb().$type<{ name: string; blob: string }[]>().notNull(),
    zip: text(),
    error: text(),
    seconds: real(),
    createdAt: created(),
    finishedAt: timestamp({ withTimezone: true }),
  },
  (t) => [index('delivery_of').on(t.liveryId, t.order)],
);

/** A team's head. What it is: the document of its latest step. */
export const team = pgTable('team', {
  id: uuid().primaryKey().defaultRandom(),
  revision: integer().notNull(),
  createdAt: created(),
  updatedAt: created(),
  /** When it was let go; null: it is there. */
  deletedAt: timestamp({ withTimezone: true }),
});

/** What a step of a team gave to each livery, so that it can be taken back. */
export type GivenTo = { livery: string; given: Given[] }[];

/** What a team was after each of its steps. */
export const teamStep = pgTable(
  'team_step',
  {
    teamId: uuid()
      .notNull()
      .references(() => team.id, { onDelete: 'cascade' }),
    revision: integer().notNull(),
    document: jsonb().$type<Team>().notNull(),
    given: jsonb().$type<GivenTo>().notNull(),
    person: text().notNull(),
    label: text().notNull(),
    /** Revision of the step that it takes back, or does again. */
    undoes: integer(),
    redoes: integer(),
    at: created(),
  },
  (t) => [primaryKey({ columns: [t.teamId, t.revision] })],
);

/** Delivery specs that painters made. A version never changes: changing a spec makes the next one. */
export const spec = pgTable(
  'spec',
  {
    key: text().notNull(),
    version: integer().notNull(),
    document: json().$type<DeliverySpec>().notNull(),
    createdAt: created(),
  },
  (t) => [primaryKey({ columns: [t.key, t.version] })],
);

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
