import { and, asc, count, eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import { everyBlob, MOST } from '@wet-lacquer/core/exchange/skin.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { ciede2000, labOf } from '@wet-lacquer/core/colour/ciede2000.ts';
import { HEX, rgbOfHex } from '@wet-lacquer/core/colour/hex.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import type { GameFile } from '@wet-lacquer/sync/answers.ts';
import type {
  ListingAnswer,
  ListingCard,
  ListingPage,
  Published,
  PutInCard,
  Seen,
  SubscriptionCard,
} from '@wet-lacquer/sync/exchange.ts';
import { Forbidden, NotFound } from '../host/errors.ts';
import type { Services } from '../host/services.ts';
import { publishSkin } from '../jobs/publishSkin.ts';
import { putPaths, putSkinIn, takeSkinOut } from '../jobs/putIn.ts';
import { asInstalled, lookThrough, placeOfSkin, originOf, tellWhoHas, type Feed } from '../jobs/subscribe.ts';
import { pathsIn } from '../jobs/target.ts';
import { each, guarded, type Guarded, type Rule } from '../people/guard.ts';
import { countTry } from '../people/limits.ts';
import { painterNow } from '../people/who.ts';
import { getBlob, getBlobs } from '../store/blobs.ts';
import { loadBundle } from '../store/bundles.ts';
import { transact } from '../store/db.ts';
import { getDelivery } from '../store/deliveries.ts';
import {
  getListing,
  getVersion,
  handedOn,
  listed,
  lookedForIn,
  putInNow,
  versionsOf,
  type Listing,
  type PutInRow,
} from '../store/exchange.ts';
import { delivery, friend, listing, painter, putIn, report, subscription } from '../store/schema.ts';
import { answer, bodyOf, idOf, leaving, sendBlob, sendForEver } from './http.ts';

const words = (most: number, least = 0) => z.string().trim().min(least).max(most);
const Publish = z.strictObject({
  delivery: z.string().max(36),
  by: words(60, 1),
  crew: words(60).default(''),
  about: words(4000).default(''),
  news: words(400).default(''),
  terms: words(400, 1),
  adapt: z.boolean(),
});
const Search = z.object({
  words: z.string().max(200).default(''),
  game: z.string().max(60).optional(),
  subject: z.string().max(80).optional(),
  crew: z.string().max(60).optional(),
  colour: z.string().regex(HEX).optional(),
  from: z.coerce.number().int().min(0).max(100_000).default(0),
});
const Why = z.strictObject({ why: words(400, 1) });
const Has = z.strictObject({
  who: words(60, 1),
  version: z.number().int().min(1).max(1_000_000),
  /** Null: not any more. */
  files: z
    .record(z.string().max(400), z.string().regex(/^[0-9a-f]{64}$/))
    .refine((files) => Object.keys(files).length <= MOST.files, 'more files than a skin can have')
    .nullable(),
});
const PAGE = 24;
/** Colours that a painter would call the same (CIEDE2000; about ten times what is just seen side by side). */
const ALIKE = 12;
/** Others who say that they have a skin, at most. */
const MOST_FRIENDS = 200;
const MOST_REPORTS = 50;

/** Whoever may copy the livery that a delivery is of may hand it on when it is theirs. */
const ofDeliverysOwner: Rule = async ({ body }, db) => {
  const { delivery: id } = bodyOf(Publish, body);
  return each('livery', 'own', [(await getDelivery(db, idOf(id))).liveryId]);
};

const versionIn = (value: unknown): number => {
  if (typeof value !== 'string' || !/^[1-9]\d{0,6}$/.test(value)) throw new NotFound('There is no such version.');
  return Number(value);
};

/** Skins that were handed on, here and by servers that this one listens to. */
export function exchange(services: Services): Guarded {
  const { db, threads, config } = services;
  const router = guarded();
  const mayTakeDown = ({ painterId }: Listing) => {
    const who = painterNow();
    return !who || who.keeper || who.id === painterId;
  };
  const there = async (id: string) => {
    const row = await getListing(db, id);
    if (row.takenDown !== null && !mayTakeDown(row)) throw new NotFound('This skin was taken down.');
    return row;
  };
  const ownListing = async (id: string) => {
    const row = await getListing(db, id);
    if (!mayTakeDown(row)) throw new Forbidden('Only whoever published it, or looks after this server, can do that.');
    return row;
  };
  const sources = async () => new Map((await db.select().from(subscription)).map(({ id, url }) => [id, url]));
  const cardOf = (row: Listing, from: ReadonlyMap<string, string>, here: PutInRow | undefined): ListingCard => ({
    ...{ id: row.id, version: row.version, crew: row.crew, game: row.game, subject: row.subject, ...row.facts },
    from: row.subscriptionId ? (from.get(row.subscriptionId) ?? null) : null,
    putIn: here?.version ?? null,
    updatedAt: row.updatedAt.toISOString(),
  });

  router.get('/', 'painters', async (req, res) => {
    const { words: text, game, subject, crew, colour, from } = bodyOf(Search, req.query);
    const looked = text.toLowerCase().split(/\s+/).filter(Boolean).slice(0, 12);
    const labOfHex = (hex: string) => labOf(rgbOfHex(hex));
    const like = colour ? labOfHex(colour) : null;
    const found = (await listed(db, { words: looked, game, subject, crew })).filter(
      ({ facts }) => !like || facts.colours.some((one) => ciede2000(labOfHex(one), like) < ALIKE),
    );
    const page = found.slice(from, from + PAGE);
    const ids = page.map(({ id }) => id);
    const [here, origins] = [await putInNow(db, config.hostId, ids), await sources()];
    answer<ListingPage>(res, {
      cards: page.map((row) => cardOf(row, origins, here.get(row.id))),
      more: Math.max(0, found.length - from - PAGE),
      ...(await lookedForIn(db)),
    });
  });

  /** Hands a finished delivery on: a new skin, or the next version of one. */
  router.post('/', ofDeliverysOwner, async (req, res) => {
    const { delivery: id, terms, adapt, ...said } = bodyOf(Publish, req.body);
    const who = painterNow();
    const by = who?.name ?? said.by;
    const made = await publishSkin(services, idOf(id), { ...said, by, licence: { terms, adapt } }, leaving(res));
    res.status(201);
    answer<Published>(res, made);
  });

  // Other servers, which listen to this one.
  router.get('/feed', 'anyone', async (_req, res) => {
    res.json({ schema: 1, skins: await handedOn(db) } satisfies Feed);
  });
  const ofFeed = async (params: { id: string; version: string }) => {
    const row = await getListing(db, idOf(params.id));
    if (row.subscriptionId !== null || row.takenDown !== null)
      throw new NotFound('This skin is not handed on from here.');
    return (await getVersion(db, row.id, versionIn(params.version))).document;
  };
  router.get('/feed/:id/:version', 'anyone', async (req, res) => {
    res.type('application/json').send(JSON.stringify(await ofFeed(req.params)));
  });
  router.get('/feed/:id/:version/files/:hash', 'anyone', async (req, res) => {
    const skin = await ofFeed(req.params);
    const named = everyBlob(skin).some(({ sha256 }) => sha256 === req.params.hash);
    if (!named) throw new NotFound('This skin has no such file.');
    await sendBlob(req, res, db, req.params.hash);
  });
  router.post('/feed/:id/has', 'anyone', async (req, res) => {
    const row = await getListing(db, idOf(req.params.id));
    await countTry(db, 'address', `has ${req.ip}`);
    const { who, version, files } = bodyOf(Has, req.body);
    const one = and(eq(friend.listingId, row.id), eq(friend.who, who));
    if (files === null) await db.delete(friend).where(one);
    else {
      const [{ n }] = await db.select({ n: count() }).from(friend).where(eq(friend.listingId, row.id));
      if (n >= MOST_FRIENDS) throw new InputError('More have this skin than are listed.');
      await db
        .insert(friend)
        .values({ listingId: row.id, who, version, files })
        .onConflictDoUpdate({ target: [friend.listingId, friend.who], set: { version, files, at: sql`now()` } });
    }
    res.status(204).end();
  });

  // Servers that this one listens to.
  router.get('/subscriptions', 'keepers', async (_req, res) => {
    const rows = await db.select().from(subscription).orderBy(asc(subscription.createdAt));
    const counts = await db
      .select({ id: listing.subscriptionId, n: count() })
      .from(listing)
      .groupBy(listing.subscriptionId);
    answer<SubscriptionCard[]>(
      res,
      rows.map(({ id, url, lookedAt, problem }) => ({
        ...{ id, url, problem, lookedAt: lookedAt?.toISOString() ?? null },
        skins: counts.find((one) => one.id === id)?.n ?? 0,
      })),
    );
  });
  router.post('/subscriptions', 'keepers', async (req, res) => {
    const url = originOf(bodyOf(z.strictObject({ url: z.string().max(300) }), req.body).url, config);
    if (url === `http://${req.get('host')}` || url === config.origin)
      throw new InputError('This is this server itself.');
    const [row] = await db.insert(subscription).values({ url }).onConflictDoNothing().returning();
    if (!row) throw new InputError(`${url} is on the list already.`);
    await lookThrough(services, row.id, leaving(res));
    res.status(201).json({ id: row.id });
  });
  router.post('/subscriptions/:id/look', 'keepers', async (req, res) => {
    await lookThrough(services, idOf(req.params.id), leaving(res));
    res.status(204).end();
  });
  router.delete('/subscriptions/:id', 'keepers', async (req, res) => {
    const id = idOf(req.params.id);
    const [{ n }] = await db
      .select({ n: count() })
      .from(putIn)
      .innerJoin(listing, eq(listing.id, putIn.listingId))
      .where(and(eq(listing.subscriptionId, id), eq(putIn.state, 'in')));
    if (n > 0)
      throw new InputError(
        `${n === 1 ? 'A skin' : `${n} skins`} from there ${n === 1 ? 'is' : 'are'} in a game here: take ${n === 1 ? 'it' : 'them'} out first.`,
      );
    await db.delete(subscription).where(eq(subscription.id, id));
    res.status(204).end();
  });

  /** What others see of this host's folder of a game. */
  router.get('/seen/:game', 'painters', async (req, res) => {
    const { game } = req.params;
    const put = await putPaths(db, config.hostId, game);
    const delivered = await db
      .selectDistinctOn([delivery.liveryId, delivery.specKey])
      .from(delivery)
      .where(and(eq(delivery.game, game), eq(delivery.state, 'done')))
      .orderBy(delivery.liveryId, delivery.specKey, sql`${delivery.order} desc`);
    const continued = new Set([...put].filter(([, { shared }]) => shared).map(([name]) => name));
    const ofSkins = new Set(put.keys());
    for (const row of delivered) {
      for (const name of pathsIn(row).keys()) ofSkins.add(name);
      for (const { name, base } of row.files) if (!row.package && base !== undefined) continued.add(row.folder + name);
    }
    const others = await db
      .select({ who: friend.who, files: friend.files })
      .from(friend)
      .innerJoin(listing, eq(listing.id, friend.listingId))
      .where(eq(listing.game, game));
    const folders = new Map<string, Record<string, string>>();
    for (const { who, files } of others) folders.set(who, { ...folders.get(who), ...files });
    answer<Seen>(res, {
      ofSkins: [...ofSkins],
      continued: [...continued],
      friends: [...folders].map(([who, files]) => ({ who, files })),
    });
  });

  router.get('/:id', 'painters', async (req, res) => {
    const row = await there(idOf(req.params.id));
    const { document: skin, findings } = await getVersion(db, row.id, row.version);
    const here = (await putInNow(db, config.hostId, [row.id])).get(row.id);
    const own = mayTakeDown(row);
    const friends = await db
      .select({ who: friend.who, version: friend.version })
      .from(friend)
      .where(eq(friend.listingId, row.id));
    const said = own
      ? await db
          .select({ why: report.why, by: painter.name, createdAt: report.createdAt })
          .from(report)
          .leftJoin(painter, eq(painter.id, report.painterId))
          .where(eq(report.listingId, row.id))
          .orderBy(asc(report.createdAt))
      : [];
    answer<ListingAnswer>(res, {
      ...cardOf(row, await sources(), here),
      ...{
        about: skin.about,
        terms: skin.licence.terms,
        credits: skin.credits,
        after: skin.after,
        number: skin.number,
      },
      ...{
        called: skin.spec.slot?.called ?? null,
        template: skin.subject.template,
        findings,
        takenDown: row.takenDown,
      },
      files: skin.files.map(({ name, what, bytes }) => ({ name, what, bytes })),
      versions: (await versionsOf(db, row.id)).map((one) => ({ ...one, createdAt: one.createdAt.toISOString() })),
      shows: skin.pictures.map(({ shows }) => shows),
      own,
      putInAs: here ? putInCard(here) : null,
      friends,
      reports: said.map((one) => ({ ...one, createdAt: one.createdAt.toISOString() })),
    });
  });

  router.get('/:id/:version/pictures/:n', 'painters', async (req, res) => {
    const row = await there(idOf(req.params.id));
    const { document } = await getVersion(db, row.id, versionIn(req.params.version));
    const shown = /^\d$/.test(req.params.n) ? document.pictures[Number(req.params.n)] : undefined;
    if (!shown) throw new NotFound('There is no such picture.');
    sendForEver(res, 'png', await getBlob(db, shown.sha256));
  });

  /** Its files alone, as they lay in the folder of whoever published it: for one's own turntable. A package is one file. */
  const folderOf = async (params: { id: string; version: string }) => {
    const row = await there(idOf(params.id));
    const { document } = await getVersion(db, row.id, versionIn(params.version));
    const { folder, package: name } = placeOfSkin(document);
    if (name === null)
      return document.files.map((file) => ({
        ...{ name: folder + file.name, bytes: file.bytes, hash: file.sha256 as string },
        content: () => getBlob(db, file.sha256),
      }));
    const blobs = await getBlobs(
      db,
      document.files.map(({ sha256 }) => sha256),
    );
    const zip = (await asInstalled(threads, document, blobs)).folder.get(name)!;
    return [{ name, bytes: zip.length, hash: hashOf(zip), content: async () => zip }];
  };
  router.get('/:id/:version/folder', 'painters', async (req, res) => {
    const files = await folderOf(req.params);
    answer<GameFile[]>(
      res,
      files.map(({ name, bytes, hash }) => ({ name, bytes, hash })),
    );
  });
  router.get('/:id/:version/files/*name', 'painters', async (req, res) => {
    const name = (req.params.name as unknown as string[]).join('/');
    const file = (await folderOf(req.params)).find((one) => one.name === name);
    if (!file) throw new NotFound('This skin has no such file.');
    sendForEver(res, 'application/octet-stream', await file.content());
  });

  const mine = () => painterNow()?.name ?? 'a painter';
  router.post('/:id/put-in', 'painters', async (req, res) => {
    const id = idOf(req.params.id);
    const { version } = bodyOf(
      z.strictObject({ version: z.number().int().min(1).max(1_000_000).optional() }),
      req.body ?? {},
    );
    const row = await putSkinIn(services, id, version);
    void tellWhoHas(services, id, mine(), Object.fromEntries(row.files.map(({ name, blob }) => [name, blob])));
    answer<PutInCard>(res, putInCard(row));
  });
  router.post('/:id/take-out', 'painters', async (req, res) => {
    const id = idOf(req.params.id);
    const left = await takeSkinOut(services, id);
    void tellWhoHas(services, id, mine(), null);
    res.json({ left });
  });

  /** A livery of one's own that goes on from it. */
  router.post('/:id/livery', 'painters', async (req, res) => {
    const row = await there(idOf(req.params.id));
    const { document: skin } = await getVersion(db, row.id, row.version);
    if (!skin.licence.adapt || !skin.livery)
      throw new InputError(`${skin.by} does not let others go on from this skin: ${skin.licence.terms}`);
    const bundle = await getBlob(db, skin.livery.sha256);
    const after = { name: skin.name, by: skin.by, licence: skin.licence.terms };
    const id = await transact(db, (tx) => loadBundle(tx, threads, bundle, after));
    res.status(201).json({ id });
  });

  router.post('/:id/reports', 'painters', async (req, res) => {
    const row = await there(idOf(req.params.id));
    const { why } = bodyOf(Why, req.body);
    const who = painterNow();
    await countTry(db, 'name', `report ${who?.id ?? req.ip}`);
    const [{ n }] = await db.select({ n: count() }).from(report).where(eq(report.listingId, row.id));
    if (n < MOST_REPORTS) await db.insert(report).values({ listingId: row.id, painterId: who?.id ?? null, why });
    res.status(204).end();
  });

  router.post('/:id/take-down', 'painters', async (req, res) => {
    const row = await ownListing(idOf(req.params.id));
    const { why } = bodyOf(Why, req.body);
    await db.update(listing).set({ takenDown: why, takenDownHere: true }).where(eq(listing.id, row.id));
    res.status(204).end();
  });
  router.post('/:id/put-back', 'painters', async (req, res) => {
    const row = await ownListing(idOf(req.params.id));
    await db.update(listing).set({ takenDown: null, takenDownHere: false }).where(eq(listing.id, row.id));
    res.status(204).end();
  });

  return router;
}

const putInCard = ({ version, key, number, files, notes, createdAt }: PutInRow): PutInCard => ({
  ...{ version, key, number, notes, createdAt: createdAt.toISOString() },
  files: files.map(({ name }) => name),
});
