import express, { type Response } from 'express';
import { z } from 'zod';
import { sheetState, signaturesOf } from '@wet-lacquer/core/delivery/checklist.ts';
import { specFor } from '@wet-lacquer/core/delivery/specs.ts';
import { withChoice } from '@wet-lacquer/core/livery/choices.ts';
import { NO_TARGET } from '@wet-lacquer/core/delivery/target.ts';
import { planDelivery } from '@wet-lacquer/core/delivery/plan.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { Edit } from '@wet-lacquer/core/livery/edit.ts';
import { Entry } from '@wet-lacquer/core/livery/history.ts';
import { newEditId, Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { fillIn, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import { words } from '@wet-lacquer/core/livery/words.ts';
import { newLivery } from '@wet-lacquer/core/livery/newLivery.ts';
import type { BinnedLivery, BrokenCard, LiveryCard, OpenLivery } from '@wet-lacquer/sync/answers.ts';
import { tellOf, type Told } from '../host/telling.ts';
import { log as warnings } from '../host/log.ts';
import { rankOf, rolesOf } from '../people/access.ts';
import { namesOf } from '../people/accounts.ts';
import { guarded, roleHere, roleStill, the, whoAsks, type Guarded } from '../people/guard.ts';
import { beGone, beHere, whoIsHere } from '../people/here.ts';
import type { Services } from '../host/services.ts';
import { pictureOf } from '../jobs/picture.ts';
import { besideMasterOf } from '../jobs/besideMaster.ts';
import { readyScene } from '../jobs/fields.ts';
import { putBlob } from '../store/blobs.ts';
import { lastDeliveries, type Delivery } from '../store/deliveries.ts';
import {
  asideOf,
  personsOf,
  createLivery,
  deleteLivery,
  entriesAfter,
  entriesUpTo,
  getLivery,
  headOf,
  letGoAside,
  listRead,
  readUpTo,
  returnToGood,
  setBinned,
  type Head,
  type ReadUpTo,
} from '../store/liveries.ts';
import { getTemplate } from '../store/templates.ts';
import { asIfJoined } from '../store/log.ts';
import { madeFor, specOf } from '../store/specs.ts';
import { loadBundle, makeBundle } from '../store/bundles.ts';
import { answer, bodyOf, bytesOf, idOf, leaving, Revision, revisionOf, sendForEver } from './http.ts';
import { transact, type Db } from '../store/db.ts';

const NewLivery = z.strictObject({
  template: Sha256,
  name: z.string().trim().min(1, 'give the livery a name').pipe(words(80)),
  /** Whom it is for. */
  team: words(200).default(''),
  /** Which of the template's alternatives is shown, by the choice's name. */
  choices: z.record(z.string().max(80), z.string().max(80).nullable()).default({}),
});
/** Entries are looked at one by one, so that the answer says which of them cannot be. */
const PostEntries = z.strictObject({ base: Revision, entries: z.array(z.unknown()).min(1).max(500) });

const Tried = z.strictObject({ edit: Edit });
/** `window`: which of somebody's windows hears; it is gone when it hears no more. */
const News = z.object({ window: z.uuid().optional() });
const InHand = z.strictObject({
  window: z.uuid(),
  sheet: z.string().max(64).nullable().default(null),
  layer: z.string().max(64).nullable().default(null),
});
const COPIES = rankOf('copy');

/** Steps that are sent along when a livery is opened, and at most in one answer about earlier ones. */
const LOG_PAGE = 200;
/** Which steps are asked for: all after a revision, or the last ones up to one, of everybody or of one person. */
const EntriesAsked = z.union(
  [
    z.strictObject({ after: z.coerce.number().pipe(Revision) }),
    z.strictObject({ upTo: z.coerce.number().pipe(Revision), by: z.string().max(64).optional() }),
  ],
  'say after or up to which revision the steps are wanted: after=N or upTo=N',
);

export function liveries(services: Services): Guarded {
  const { db, config, threads, news, log, stopping } = services;
  const router = guarded();
  const telling = tellOf(db, news);
  /** A livery as threads draw it. */
  const sceneFor = async (id: unknown, res: Response) =>
    readyScene(db, threads, (await getLivery(db, idOf(id))).livery, leaving(res));

  /** One that cannot be read is a card as well: it hides no other. */
  router.get('/', 'painters', async (_req, res) => {
    const all = await listRead(db, 'at hand', 'look');
    const roleIn = await rolesOf(
      db,
      'livery',
      all.map(({ head }) => head.id),
    );
    const whole = all.flatMap(({ head, read }) => (read.livery ? [{ id: head.id, livery: read.livery }] : []));
    const last = await lastDeliveries(db, whole);
    const made = await madeFor(
      db,
      whole.map(({ livery }) => livery),
    );
    answer<(LiveryCard | BrokenCard)[]>(
      res,
      await Promise.all(
        all.map(async ({ head, read }) => ({
          ...(await cardOf(db, head, read, last.get(head.id), made)),
          role: roleIn(head.id),
        })),
      ),
    );
  });

  router.get('/bin', 'painters', async (_req, res) => {
    answer<BinnedLivery[]>(
      res,
      (await listRead(db, 'in the bin', 'own')).map(({ head, read }) => ({
        id: head.id,
        name: read.livery ? nameOf(read.livery) : UNREADABLE,
        at: head.deletedAt,
      })),
    );
  });

  router.post('/', 'painters', async (req, res) => {
    const { template: hash, name, team, choices } = bodyOf(NewLivery, req.body);
    const livery = newLivery(await getTemplate(db, hash), hash, name, team);
    for (const { layers } of livery.sheets.flatMap((sheet) => sheet.maps))
      for (const [choice, option] of Object.entries(choices))
        layers.splice(0, layers.length, ...withChoice(layers, choice, option));
    res.status(201).json({ id: await createLivery(db, livery) });
  });

  router.post('/open', 'painters', express.raw({ type: () => true, limit: '512mb' }), async (req, res) => {
    res.status(201).json({ id: await loadBundle(db, threads, bytesOf(req.body)) });
  });

  router.get('/:id', the('livery', 'copy'), async (req, res) => {
    const id = idOf(req.params.id);
    const { revision, livery } = await getLivery(db, id);
    const last = (await lastDeliveries(db, [{ id, livery }])).get(id);
    const entries = await entriesUpTo(db, id, revision, LOG_PAGE);
    // A livery whose spec is gone still opens.
    const spec = await specOf(db, livery, await getTemplate(db, livery.pins.template)).catch(() => null);
    const lastDelivery = last ? { revision: last.revision, at: last.finishedAt, slot: last.slot } : null;
    const delivered = [...deliveredFiles(last)];
    answer<OpenLivery>(res, {
      id,
      revision,
      livery,
      log: entries,
      delivered,
      lastDelivery,
      spec,
      aside: await asideOf(db, id),
      people: await namesOf(db, await personsOf(db, id)),
    });
  });

  /** What it was at an earlier revision. */
  router.get('/:id/at/:revision', the('livery', 'copy'), async (req, res) => {
    res.json({ livery: (await getLivery(db, idOf(req.params.id), revisionOf(req.params.revision))).livery });
  });

  /** Into the bin; with `now=yes`, out of the bin for ever. */
  router.delete('/:id', the('livery', 'own'), async (req, res) => {
    const id = idOf(req.params.id);
    if (req.query.now === 'yes') await deleteLivery(db, id);
    else await setBinned(db, id, true);
    res.status(204).end();
  });

  /** Out of the bin. */
  router.post('/:id/restore', the('livery', 'own'), async (req, res) => {
    await setBinned(db, idOf(req.params.id), false);
    res.status(204).end();
  });

  /** Back to the last step that can be read. */
  router.post('/:id/return', the('livery', 'paint'), async (req, res) => {
    const id = idOf(req.params.id);
    res.json({ revision: await returnToGood(db, id) });
  });

  /** A step that was set aside is let go. */
  router.delete('/:id/aside/:entry', the('livery', 'paint'), async (req, res) => {
    await letGoAside(db, idOf(req.params.id), req.params.entry);
    res.status(204).end();
  });

  router.get('/:id/entries', the('livery', 'copy'), async (req, res) => {
    const id = idOf(req.params.id);
    const asked = bodyOf(EntriesAsked, req.query);
    res.json(
      'after' in asked
        ? await entriesAfter(db, id, asked.after)
        : await entriesUpTo(db, id, asked.upTo, LOG_PAGE, asked.by),
    );
  });

  router.post('/:id/entries', the('livery', 'paint'), async (req, res) => {
    const { base, entries } = bodyOf(PostEntries, req.body);
    const parsed: Entry[] = [];
    for (const one of entries) {
      const entry = Entry.safeParse(one);
      if (!entry.success) {
        const [issue] = entry.error.issues;
        const why = `${issue.path.join('.') || 'The step'}: ${issue.message}.`;
        const id = (one as { id?: unknown } | null)?.id;
        res.status(422).json({ state: 'refused', entry: typeof id === 'string' ? id : '', why });
        return;
      }
      parsed.push(entry.data);
    }
    const answer = await log.post(idOf(req.params.id), base, parsed);
    res.status(answer.state === 'saved' ? 200 : 422).json(answer);
  });

  /**
   * Tells of what joins the log as it comes, to whoever may copy the livery, and that something did to whoever may look: server-sent events.
   * "here": who has it open; "notes": something was said of it; "gone": it is not shared with whoever asks any more.
   */
  router.get('/:id/news', the('livery', 'look'), async (req, res) => {
    const id = idOf(req.params.id);
    const { window } = bodyOf(News, req.query);
    const who = whoAsks(res);
    const { revision } = await headOf(db, id);
    let role = await roleHere(services, res, id);
    res.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no' });
    const say = (text: string) => void (res.writableEnded || res.write(text));
    const tell = (text: string) =>
      say(`data: ${role >= COPIES ? text : JSON.stringify({ ...(JSON.parse(text) as Told), entries: [] })}\n\n`);
    tell(JSON.stringify({ revision, entries: [] } satisfies Told));
    const tellHere = () =>
      void whoIsHere(db, id).then(
        (people) => role >= COPIES && say(`event: here\ndata: ${JSON.stringify(people)}\n\n`),
        () => {},
      );
    const lookAgain = () =>
      void roleStill(services, req, id).then(
        (now) => {
          role = now;
          if (now === 0) res.end('event: gone\ndata: {}\n\n');
        },
        // A database that is away says nothing of it; the next beat asks again.
        () => {},
      );
    const end = () => res.end();
    stopping.addEventListener('abort', end);
    const stops = [
      telling.hear(id, revision, tell),
      news.onNotes(id, () => void (role >= COPIES && say('event: notes\ndata: {}\n\n'))),
      () => stopping.removeEventListener('abort', end),
    ];
    if (config.signIn) {
      stops.push(
        news.onAccess(
          (what) => (what === null || what === `livery ${id}` || what.startsWith('painter ')) && lookAgain(),
        ),
        news.onHere(id, tellHere),
      );
      tellHere();
    }
    const beat = setInterval(() => {
      say(': here\n\n');
      if (!config.signIn) return;
      lookAgain();
      // Somebody may have gone without a word.
      tellHere();
    }, 15_000);
    req.on('close', () => {
      clearInterval(beat);
      if (window && who?.is === 'painter') beGone(db, id, who, window).catch(() => {});
      for (const stop of stops) stop();
    });
  });

  /** Says what somebody has in hand; asked again every so often by whoever is still there. */
  router.post('/:id/here', the('livery', 'copy'), async (req, res) => {
    const who = whoAsks(res);
    if (who?.is === 'painter') await beHere(db, idOf(req.params.id), who, bodyOf(InHand, req.body));
    res.status(204).end();
  });

  /** The model with this revision of the livery on it, as PNG. */
  router.get('/:id/picture/:revision', the('livery', 'look'), async (req, res) => {
    const id = idOf(req.params.id);
    const revision = revisionOf(req.params.revision);
    if ((await roleHere(services, res, id)) >= COPIES)
      return sendForEver(res, 'png', await pictureOf(db, threads, id, revision));
    // Who may only look sees what is there, and nothing of what was.
    const now = (await headOf(db, id)).revision;
    res
      .set('Cache-Control', 'no-store')
      .type('png')
      .send(Buffer.from(await pictureOf(db, threads, id, now)));
  });

  /** One sheet as it is painted, at a quarter of its size, as PNG. */
  router.get('/:id/sheets/:sheet', the('livery', 'look'), async (req, res) => {
    const scene = await sceneFor(req.params.id, res);
    res
      .set('Cache-Control', 'no-cache')
      .type('png')
      .send(Buffer.from(await threads.run('sheetPicture', { scene, sheet: req.params.sheet }, leaving(res))));
  });

  /** The sheet about a layer, small, as PNG. */
  router.get('/:id/layers/:layer/place', the('livery', 'copy'), async (req, res) => {
    const scene = await sceneFor(req.params.id, res);
    res
      .set('Cache-Control', 'no-cache')
      .type('png')
      .send(Buffer.from(await threads.run('layerPlace', { scene, layer: req.params.layer }, leaving(res))));
  });

  /** The same as it would be with a change that nobody has made yet. */
  router.post('/:id/sheets/:sheet/tried', the('livery', 'copy'), async (req, res) => {
    const { edit } = bodyOf(Tried, req.body);
    const entry = { id: newEditId(), person: 'nobody', edit, undoes: null, redoes: null, label: '' };
    const scene = await readyScene(
      db,
      threads,
      await asIfJoined(db, threads, idOf(req.params.id), entry),
      leaving(res),
    );
    const bytes = await threads.run('sheetPicture', { scene, sheet: req.params.sheet }, leaving(res));
    res.set('Cache-Control', 'no-store').type('png').send(Buffer.from(bytes));
  });

  /** A map of a sheet as it came and as it is, side by side and small, as PNG. */
  router.get('/:id/sheets/:sheet/beside/:map', the('livery', 'copy'), async (req, res) => {
    const scene = await sceneFor(req.params.id, res);
    const { sheet, map } = req.params;
    const bytes = await threads.run('besideOriginal', { scene, sheet, map, side: 256 }, leaving(res));
    res.set('Cache-Control', 'no-cache').type('png').send(Buffer.from(bytes));
  });

  /** A sheet's follower beside its master, as a delivery would put it out. */
  router.get('/:id/sheets/:sheet/followers/:follower', the('livery', 'copy'), async (req, res) => {
    const scene = await sceneFor(req.params.id, res);
    const { sheet, follower } = req.params;
    res
      .set('Cache-Control', 'no-cache')
      .json(await besideMasterOf(db, threads, scene, { sheet, follower, painted: true }, leaving(res)));
  });

  /** A sheet with its layers, for another editor. */
  router.get('/:id/sheets/:sheet/layered/:as', the('livery', 'copy'), async (req, res) => {
    const as = req.params.as === 'ora' ? 'ora' : 'psd';
    const scene = await sceneFor(req.params.id, res);
    const bytes = await threads.run('sheetAsLayered', { scene, sheet: req.params.sheet, as }, leaving(res));
    const name = `${scene.livery.particulars.key || 'livery'}-${req.params.sheet}.${as}`;
    res.attachment(name).type('application/octet-stream').send(Buffer.from(bytes));
  });

  /** The same file, come back: what was done to it there. Nothing of the livery is changed; its pictures are stored. */
  router.post(
    '/:id/sheets/:sheet/layered',
    the('livery', 'paint'),
    express.raw({ type: () => true, limit: '512mb' }),
    async (req, res) => {
      const scene = await sceneFor(req.params.id, res);
      const task = { scene, sheet: String(req.params.sheet), bytes: bytesOf(req.body) };
      const { plan, blobs } = await threads.run('sheetBack', task, leaving(res));
      await transact(db, async (tx) => {
        for (const bytes of blobs) await putBlob(tx, bytes);
      });
      res.json(plan);
    },
  );

  /** Of one that cannot be read whole, its last good state. */
  router.get('/:id/bundle', the('livery', 'copy'), async (req, res) => {
    const id = idOf(req.params.id);
    const { livery, trouble } = await readUpTo(db, id, (await headOf(db, id)).revision);
    if (!livery) throw new InputError(trouble!);
    const bare = req.query.files === 'leave';
    res
      .attachment(`${livery.particulars.key || 'livery'}.livery`)
      .type('application/zip')
      .send(Buffer.from(await makeBundle(db, threads, livery, bare)));
  });

  return router;
}

const UNREADABLE = 'A livery that cannot be read';
const nameOf = (livery: Livery): string => fillIn(livery.particulars.name ?? '', livery.particulars);

/** What the list shows of a livery; of one that cannot be read, why, and how far it can be. */
async function cardOf(db: Db, head: Head, read: ReadUpTo, last: Delivery | undefined, made: readonly DeliverySpec[]) {
  const { id, revision, updatedAt } = head;
  try {
    if (!read.livery || read.revision < revision) throw new InputError(read.trouble!);
    return await wholeCard(db, head, read.livery, last, made);
  } catch (error) {
    const why = (error as Error).message;
    if (!(error instanceof InputError)) warnings.warn({ id, error: String(error) }, 'a livery could not be listed');
    return {
      ...{ id, revision, updatedAt },
      name: read.livery ? nameOf(read.livery) : UNREADABLE,
      broken: { why, lastGood: read.revision < 0 ? null : read.revision },
    };
  }
}

async function wholeCard(
  db: Db,
  { id, revision, updatedAt }: Head,
  livery: Livery,
  delivery: Delivery | undefined,
  made: readonly DeliverySpec[],
) {
  const template = await getTemplate(db, livery.pins.template);
  const target = { ...NO_TARGET, slot: delivery?.slot ?? null };
  const plan = planDelivery(livery, template, specFor(livery, template, made), target);
  const now = await signaturesOf(plan);
  return {
    id,
    revision,
    updatedAt,
    name: nameOf(livery),
    particulars: livery.particulars,
    template: template.name,
    game: template.gameName,
    sheets: template.sheets.map(({ key, name }) => ({
      key,
      name,
      state: sheetState(livery, key, plan, now, deliveredFiles(delivery)),
    })),
    lastDelivery: delivery?.finishedAt ?? null,
  };
}

const deliveredFiles = (delivery?: { files: { name: string; signature: string }[] }): Map<string, string> =>
  new Map(delivery?.files.map((file) => [file.name, file.signature]));
