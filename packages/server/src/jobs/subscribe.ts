/**
 * Skins of another server, by its feed: plain JSON and files; see docs/exchange.md. Nothing of what comes is believed: every document is read
 * against its schema, every file against its SHA-256 and its size, and each skin is looked at as one that is published here.
 */
import { and, eq } from 'drizzle-orm';
import { z } from 'zod';
import { everyBlob, MOST, readSkin, type Skin } from '@wet-lacquer/core/exchange/skin.ts';
import { expand, nameFacts } from '@wet-lacquer/core/delivery/names.ts';
import { slotText } from '@wet-lacquer/core/delivery/target.ts';
import { readJson } from '@wet-lacquer/core/files/json.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { heldIn } from '@wet-lacquer/core/held.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import { zipOf } from '@wet-lacquer/node/makeFiles.ts';
import type { Config } from '../host/config.ts';
import type { Services } from '../host/services.ts';
import { putBlob } from '../store/blobs.ts';
import { transact } from '../store/db.ts';
import { addVersion, bytesOf } from '../store/exchange.ts';
import { listing, subscription } from '../store/schema.ts';
import { withLease } from './lease.ts';
import { filesOfSkin, lookAtSkin } from './publishSkin.ts';

/** One feed, and what one server may bring in all. */
const LIMITS = { feedBytes: 2 * 2 ** 20, listings: 2000, bytes: 4 * 2 ** 30, seconds: 60 } as const;

export const Feed = z.strictObject({
  schema: z.literal(1),
  skins: z
    .array(
      z.strictObject({
        id: z.string().regex(/^[0-9a-f-]{36}$/),
        version: z.number().int().min(1).max(1_000_000),
        /** SHA-256 of the document, as it is handed out. */
        document: z.string().regex(/^[0-9a-f]{64}$/),
        /** Why it was taken down; null: it is there. */
        takenDown: z.string().max(400).nullable(),
      }),
    )
    .max(LIMITS.listings),
});
export type Feed = z.infer<typeof Feed>;

const LOOPBACK = new Set(['127.0.0.1', 'localhost', '[::1]']);

/**
 * The origin of a server that may be asked: this machine's own, or one that whoever runs this server named.
 * @throws InputError when it is none of them
 */
export function originOf(url: string, { exchanges }: Pick<Config, 'exchanges'>): string {
  const found = URL.canParse(url) ? new URL(url) : null;
  if (!found || !/^https?:$/.test(found.protocol) || found.username || found.password)
    throw new InputError('This is not the address of a server: it looks like http://127.0.0.1:4173.');
  const { origin, hostname } = found;
  if (LOOPBACK.has(hostname) || exchanges.includes(origin)) return origin;
  throw new InputError(
    `${origin} is not one of the servers that this one may ask. Whoever runs it names them in WET_LACQUER_EXCHANGES.`,
  );
}

/** Whoever asked for it has left. */
class Left extends InputError {
  constructor() {
    super('Looking through it was ended before it was through.');
  }
}

/** Bytes from another server. @throws InputError when it does not answer so, or with more than was expected; Left */
async function ask(origin: string, path: string, most: number, left: AbortSignal): Promise<Uint8Array> {
  const signal = AbortSignal.any([AbortSignal.timeout(LIMITS.seconds * 1000), left]);
  try {
    // To elsewhere it may not send us.
    const response = await fetch(`${origin}/api/exchange/feed${path}`, {
      redirect: 'error',
      signal,
      credentials: 'omit',
    });
    if (!response.ok) throw new InputError(`${origin} answers ${response.status}.`);
    const parts: Uint8Array[] = [];
    let length = 0;
    for await (const part of response.body ?? []) {
      length += part.length;
      if (length > most) throw new InputError(`${origin} sends more than ${most} bytes.`);
      parts.push(part);
    }
    return new Uint8Array(Buffer.concat(parts));
  } catch (error) {
    if (left.aborted) throw new Left();
    if (error instanceof InputError) throw error;
    throw new InputError(`${origin} does not answer.`);
  }
}

const textOf = (bytes: Uint8Array) => new TextDecoder('utf-8', { fatal: true }).decode(bytes);

type Looking = Pick<Services, 'db' | 'threads' | 'connections' | 'config'>;

/**
 * Looks through another server's feed: what is new is fetched, looked at and listed; what it took down is taken down here. Each skin is taken
 * whole or not at all; the next look goes on where this one was left.
 */
export async function lookThrough(services: Looking, id: string, left: AbortSignal): Promise<void> {
  const got = await withLease(services.connections, `subscription ${id}`, () => look(services, id, left));
  if (!got) throw new InputError('This server is being looked through just now.');
}

async function look(services: Looking, id: string, left: AbortSignal): Promise<void> {
  const { db, config } = services;
  const [row] = await db.select().from(subscription).where(eq(subscription.id, id));
  if (!row) return;
  const problems: string[] = [];
  try {
    // It may have been struck from the list since.
    originOf(row.url, config);
    const parsed = Feed.safeParse(readJson(textOf(await ask(row.url, '', LIMITS.feedBytes, left)), 'The feed'));
    if (!parsed.success) throw new InputError(`${row.url} has no feed that can be read here.`);
    const here = new Map(
      (await db.select().from(listing).where(eq(listing.subscriptionId, id))).map((one) => [one.theirs, one]),
    );
    let room = LIMITS.bytes - (await bytesOf(db, id));
    for (const one of parsed.data.skins) {
      const own = here.get(one.id);
      try {
        const down = own && !own.takenDownHere && own.takenDown !== one.takenDown;
        if (down) await db.update(listing).set({ takenDown: one.takenDown }).where(eq(listing.id, own.id));
        if (one.takenDown !== null || (own && own.version >= one.version)) continue;
        if (left.aborted) throw new Left();
        room -= await take(services, row, own?.id ?? null, one, room, left);
      } catch (error) {
        if (error instanceof Left || !(error instanceof InputError)) throw error;
        problems.push(error.message);
      }
    }
  } catch (error) {
    if (!(error instanceof InputError) && !(error instanceof TypeError)) throw error;
    problems.push(error instanceof InputError ? error.message : `${row.url} has no feed that can be read here.`);
  }
  const problem = problems.length === 0 ? null : [...new Set(problems)].slice(0, 5).join(' ').slice(0, 1000);
  await db.update(subscription).set({ lookedAt: new Date(), problem }).where(eq(subscription.id, id));
}

/** Nobody waits for it. */
const NEVER = new AbortController().signal;

/** One after the other. */
export async function lookThroughAll(services: Looking): Promise<void> {
  for (const { id } of await services.db.select({ id: subscription.id }).from(subscription))
    await lookThrough(services, id, NEVER).catch((error: unknown) => {
      if (!(error instanceof InputError)) throw error;
    });
}

/** Takes one version of a skin, whole or not at all. @returns its bytes @throws InputError */
async function take(
  { db, threads }: Pick<Looking, 'db' | 'threads'>,
  { id, url }: typeof subscription.$inferSelect,
  own: string | null,
  { id: theirs, version, document }: Feed['skins'][number],
  room: number,
  left: AbortSignal,
): Promise<number> {
  const bytes = await ask(url, `/${theirs}/${version}`, MOST.documentBytes, left);
  if (hashOf(bytes) !== document) throw new InputError(`A skin of ${url} is not what its feed says that it is.`);
  const skin = readSkin(readJson(textOf(bytes), 'The skin'));
  const wanted = new Map(everyBlob(skin).map((one) => [one.sha256, one.bytes]));
  const total = [...wanted.values()].reduce((sum, one) => sum + one, 0);
  if (total > room) throw new InputError(`“${skin.name}” is left out: there is no room for more from ${url}.`);
  const fetched = new Map<string, Uint8Array>();
  for (const [hash, size] of wanted) {
    const content = await ask(url, `/${theirs}/${version}/files/${hash}`, size, left);
    if (content.length !== size || hashOf(content) !== hash)
      throw new InputError(`A file of “${skin.name}” from ${url} is not what it is said to be.`);
    fetched.set(hash, content);
  }
  for (const { sha256 } of skin.pictures)
    if (!isPng(fetched.get(sha256)!)) throw new InputError(`A picture of “${skin.name}” from ${url} is no PNG.`);
  const held = await asInstalled(threads, skin, fetched);
  const { findings } = await lookAtSkin({ db, threads }, skin, held, false);
  await transact(db, async (tx) => {
    for (const content of fetched.values()) await putBlob(tx, content);
    await addVersion(tx, own, { subscriptionId: id, theirs, liveryId: null, painterId: null }, skin, findings, version);
  });
  return total;
}

/** PNG, 5.2: the signature. */
const PNG = [137, 80, 78, 71, 13, 10, 26, 10];
const isPng = (bytes: Uint8Array) => PNG.every((byte, i) => bytes[i] === byte);

/** Where a skin lay in the folder of whoever published it. */
export function placeOfSkin({ particulars, subject, spec, number }: Skin): { folder: string; package: string | null } {
  const facts = nameFacts({ particulars }, subject, slotText(spec, number));
  return { folder: expand(spec.folder, facts), package: spec.package ? expand(spec.package.name, facts) : null };
}

/** A skin's files as they lay there. @param blobs bytes by SHA-256 */
export async function asInstalled(threads: Services['threads'], skin: Skin, blobs: ReadonlyMap<string, Uint8Array>) {
  const { folder, package: name } = placeOfSkin(skin);
  const inside = skin.files.map((file) => ({ name: file.name, content: heldIn(blobs, file.sha256) }));
  return filesOfSkin(skin, blobs, folder, name === null ? null : { name, bytes: await zipOf(threads, folder, inside) });
}

/** Tells the server that a skin came from who has it by now, so that its other players know; what it answers changes nothing here. */
export async function tellWhoHas(
  { db }: Pick<Services, 'db'>,
  id: string,
  who: string,
  files: Readonly<Record<string, string>> | null,
): Promise<void> {
  const [row] = await db
    .select({ url: subscription.url, theirs: listing.theirs, version: listing.version })
    .from(listing)
    .innerJoin(subscription, eq(subscription.id, listing.subscriptionId))
    .where(and(eq(listing.id, id)));
  if (!row) return;
  const body = JSON.stringify({ who, version: row.version, files });
  await fetch(`${row.url}/api/exchange/feed/${row.theirs}/has`, {
    method: 'POST',
    redirect: 'error',
    signal: AbortSignal.timeout(10_000),
    headers: { 'Content-Type': 'application/json', Origin: row.url },
    body,
  }).catch(() => null);
}
