/** Steps joining the logs of liveries. Those that come for one livery meanwhile join together, in one transaction. */
import { and, eq, inArray, sql } from 'drizzle-orm';
import { isSpec } from '@wet-lacquer/core/delivery/specs.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { singlesOf } from '@wet-lacquer/core/livery/edit.ts';
import type { Entry, LoggedEntry } from '@wet-lacquer/core/livery/history.ts';
import { layersIn, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { join, Refused, type PostAnswer } from '@wet-lacquer/sync/join.ts';
import type { BlobFacts, Known } from '@wet-lacquer/sync/judge.ts';
import { fontHashes } from '@wet-lacquer/node/fonts.ts';
import type { Pool } from '@wet-lacquer/node/threads/pool.ts';
import { Clash } from '../host/errors.ts';
import { factsAtHand, factsOf } from './facts.ts';
import { isAway, transact, type Db, type Tx } from './db.ts';
import { forgetHead, heldHead, holdHead } from './heads.ts';
import { entriesSince, getLivery, noSuchLivery, MOST_ENTRIES, stateAt } from './liveries.ts';
import { madeByKeys } from './specs.ts';
import { edit, livery, snapshot } from './schema.ts';
import { findTemplate } from './templates.ts';

/** A snapshot is kept every so many revisions, so that a state is never more than that many edits away. */
const SNAPSHOT_EVERY = 50;
/** Posts that join in one transaction, at most. */
const TOGETHER = 64;

interface Post {
  base: number;
  entries: readonly Entry[];
  /** What is known of the blobs that they name. */
  blobs: ReadonlyMap<string, BlobFacts>;
  done(answer: PostAnswer): void;
  failed(error: unknown): void;
}

export class Log {
  private readonly waiting = new Map<string, Post[]>();

  constructor(
    private readonly db: Db,
    private readonly threads: Pick<Pool, 'run'>,
  ) {}

  /**
   * Appends entries that were made on revision `base`. All of them or none; those that are there already are passed over, so sending
   * twice does nothing. What others did since the base comes with the answer. Other processes hear of it through NOTIFY.
   * @throws NotFound when there is no such livery
   */
  async post(id: string, base: number, entries: readonly Entry[]): Promise<PostAnswer> {
    const named = [...mentioned(entries, 'blob'), ...fontsIn(entries)];
    const blobs = await factsOf(this.db, this.threads, named);
    return new Promise((done, failed) => {
      const post = { base, entries, blobs, done, failed };
      const queue = this.waiting.get(id);
      if (queue) return void queue.push(post);
      const own = [post];
      this.waiting.set(id, own);
      void this.drain(id, own);
    });
  }

  private async drain(id: string, queue: Post[]): Promise<void> {
    while (queue.length > 0) {
      const posts = queue.splice(0, TOGETHER);
      try {
        await this.settle(id, posts);
      } catch (error) {
        // One of them may be at fault: each by itself, so that it spoils no other.
        if (posts.length > 1 && !isAway(error))
          for (const post of posts) await this.settle(id, [post]).catch(post.failed);
        else for (const post of posts) post.failed(error);
      }
    }
    this.waiting.delete(id);
  }

  private async settle(id: string, posts: readonly Post[]): Promise<void> {
    const { head, added, refused } = await transact(this.db, (tx) => joinAll(tx, id, posts));
    if (added.length > 0) holdHead(id, head, added);
    for (const post of posts) {
      const no = refused.get(post);
      if (no) post.done({ state: 'refused', entry: no.entry, why: no.message, revision: head.revision });
      else {
        const entries = await entriesSince(this.db, id, post.base);
        const some = entries.slice(0, MOST_ENTRIES);
        const more = (some.at(-1)?.revision ?? head.revision) < head.revision;
        post.done({ state: 'saved', revision: head.revision, entries: some, more });
      }
    }
  }
}

/** A livery as it would be with an entry, which joins nothing. @throws InputError when it cannot be */
export async function asIfJoined(db: Db, threads: Pick<Pool, 'run'>, id: string, entry: Entry): Promise<Livery> {
  const blobs = await factsOf(db, threads, [...mentioned([entry], 'blob'), ...fontsIn([entry])]);
  const { revision, livery: state } = await getLivery(db, id);
  const post: Post = { base: 0, entries: [entry], blobs, done: () => {}, failed: () => {} };
  const known = await knownFor(db, state, [post]);
  try {
    return join({ revision, livery: state }, [entry], known, new Date().toISOString()).head.livery;
  } catch (error) {
    throw error instanceof Refused ? new InputError(error.message) : error;
  }
}

/** Liveries that a step of something larger is about to change, in the transaction that changes it. */
export class JoinTogether {
  private readonly joined = new Map<string, Joined>();

  constructor(
    private readonly tx: Tx,
    private readonly blobs: ReadonlyMap<string, BlobFacts>,
  ) {}

  /**
   * The livery as it is, and as it stays until the end of the transaction. Several are to be asked for in the order of their ids, so that no
   * two wait for each other.
   * @throws NotFound; InputError when it is in the bin or cannot be read
   */
  async hold(id: string): Promise<Livery> {
    const { head } = await joinAll(this.tx, id, []);
    return head.livery;
  }

  /** Appends an entry to one that is held. @throws Refused, and then nothing is to stay */
  async add(id: string, entry: Entry): Promise<void> {
    const post: Post = { base: 0, entries: [entry], blobs: this.blobs, done: () => {}, failed: () => {} };
    const joined = await joinAll(this.tx, id, [post]);
    const no = joined.refused.get(post);
    if (no) throw no;
    this.joined.set(id, joined);
  }

  /** When the transaction has come to its end. */
  done(): void {
    for (const [id, { head, added }] of this.joined) if (added.length > 0) holdHead(id, head, added);
  }
}

interface Joined {
  head: { revision: number; livery: Livery };
  added: LoggedEntry[];
  refused: Map<Post, Refused>;
}

async function joinAll(tx: Tx, id: string, posts: readonly Post[]): Promise<Joined> {
  const [row] = await tx.select().from(livery).where(eq(livery.id, id)).for('update');
  if (!row) throw noSuchLivery();
  if (row.deletedAt) throw new InputError('This livery is in the bin; take it out to go on with it.');
  if (posts.some(({ base }) => base > row.revision))
    throw new Clash('This livery was taken back to an earlier state meanwhile; it is opened anew.');
  if (heldHead(id)?.revision !== row.revision) forgetHead(id);
  let head = { revision: row.revision, livery: await stateAt(tx, id, row.revision) };
  const ids = posts.flatMap(({ entries }) => entries.map((entry) => entry.id));
  const rows = await tx
    .select({ id: edit.id })
    .from(edit)
    .where(and(eq(edit.liveryId, id), inArray(edit.id, ids)));
  const there = new Set<string>(rows.map((known) => known.id));
  const known = await knownFor(tx, head.livery, posts);
  const at = new Date();
  const added: LoggedEntry[] = [];
  const refused: Joined['refused'] = new Map();
  for (const post of posts) {
    const fresh: Entry[] = [];
    const twice = new Set<string>();
    for (const entry of post.entries)
      if (!there.has(entry.id) && !twice.has(entry.id)) {
        twice.add(entry.id);
        fresh.push(entry);
      }
    try {
      const joined = join(head, fresh, known, at.toISOString());
      head = joined.head;
      added.push(...joined.added);
      for (const entry of fresh) there.add(entry.id);
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      refused.set(post, error);
    }
  }
  if (added.length === 0) return { head, added, refused };
  await tx.insert(edit).values(added.map((entry) => ({ ...entry, liveryId: id, at })));
  const { revision } = head;
  if (Math.floor(revision / SNAPSHOT_EVERY) > Math.floor(row.revision / SNAPSHOT_EVERY))
    await tx.insert(snapshot).values({ liveryId: id, revision, document: head.livery });
  await tx
    .update(livery)
    .set({ revision, updatedAt: sql`now()` })
    .where(eq(livery.id, id));
  await tx.execute(sql`select pg_notify('livery', ${`${id} ${revision}`})`);
  return { head, added, refused };
}

/** Everything that entries name under a key, wherever it stands in them. */
function mentioned(value: unknown, key: string, found = new Set<string>()): Set<string> {
  if (typeof value !== 'object' || value === null) return found;
  for (const [name, inner] of Object.entries(value)) {
    if (name === key && typeof inner === 'string') found.add(inner);
    else mentioned(inner, key, found);
  }
  return found;
}

/** Files of fonts that entries pin. */
const fontsIn = (entries: readonly Entry[]): string[] =>
  entries
    .flatMap((entry) => singlesOf(entry.edit))
    .flatMap((one) =>
      one.do === 'become' ? Object.values(one.livery.pins.fonts) : one.do === 'pin-font' && one.hash ? [one.hash] : [],
    );

/** Kinds of edits that can change what a livery is pinned to. */
const PINS: readonly string[] = ['become', 'take-template', 'also-by', 'pin-font'];

/** What the judge needs to know for these posts on this livery. */
async function knownFor(tx: Tx, now: Livery, posts: readonly Post[]): Promise<Known> {
  const entries = posts.flatMap((post) => post.entries);
  const blobs = new Map<string, BlobFacts>(posts.flatMap((post) => [...post.blobs]));
  // All pictures count towards what a livery may weigh.
  if ([...blobs.values()].some(({ is }) => is === 'pixels'))
    for (const [hash, facts] of await factsAtHand(
      tx,
      [...layersIn(now), ...(now.references ?? [])].flatMap((one) => ('blob' in one ? [one.blob] : [])),
    ))
      if (!blobs.has(hash)) blobs.set(hash, facts);
  const templates = new Map<string, Template>();
  for (const hash of new Set([now.pins.template, ...mentioned(entries, 'template')])) {
    const found = await findTemplate(tx, hash);
    if (found) templates.set(hash, found);
  }
  const pins = entries.some(({ edit: one }) => singlesOf(one).some((single) => PINS.includes(single.do)));
  const made = pins ? await madeByKeys(tx, mentioned([now, entries], 'key')) : [];
  const shipped = await fontHashes();
  return {
    blob: (hash) => blobs.get(hash),
    template: (hash) => templates.get(hash),
    spec: (pin, template) => isSpec(pin, template, made),
    font: (key) => shipped.get(key),
  };
}
