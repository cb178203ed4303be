/** Liveries with their logs, what they are made of, and what is made of them. */
import {
  bigserial,
  boolean,
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
import type { Understood } from '@wet-lacquer/core/intake/understood.ts';
import type { MadeFile } from '@wet-lacquer/node/makeFiles.ts';
import type { Edit } from '@wet-lacquer/core/livery/edit.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { Given } from '@wet-lacquer/core/team/give.ts';
import type { Team } from '@wet-lacquer/core/team/team.ts';
import type { BlobFacts } from '@wet-lacquer/sync/judge.ts';
import { bytea, created } from './columns.ts';

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
  /** Blob of its small picture, once somebody asked. */
  picture: text(),
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
