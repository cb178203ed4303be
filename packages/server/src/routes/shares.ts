import type { Request } from 'express';
import { z } from 'zod';
import { fillIn } from '@wet-lacquer/core/livery/livery.ts';
import { GIVEN, SHARED_KINDS, type Looked, type OpenedLink, type Shares } from '@wet-lacquer/sync/people.ts';
import { NotFound } from '../host/errors.ts';
import type { Services } from '../host/services.ts';
import { transact, type Tx } from '../store/db.ts';
import type { Kind } from '../store/schema.ts';
import { getTeam } from '../store/teams.ts';
import {
  endLink,
  linkAt,
  linkOf,
  makeLink,
  onlySeen,
  sharesOf,
  shareWith,
  takeLink,
  unshare,
} from '../people/access.ts';
import { keyOf } from '../people/accounts.ts';
import { giveLook, guarded, the, whoAsks, type Guarded, type Rule } from '../people/guard.ts';
import { countTry } from '../people/limits.ts';
import { getLivery } from '../store/liveries.ts';
import { getTemplate } from '../store/templates.ts';
import { answer, bodyOf, idOf } from './http.ts';

const KindName = z.enum(SHARED_KINDS);
const Named = z.strictObject({ name: z.string().max(200), role: z.enum(GIVEN) });
const NewLink = z.strictObject({
  role: z.enum(GIVEN),
  days: z.number().int().min(1).max(365).nullable().default(null),
});
const DAY = 86_400_000;

const thingOf = (req: Request) => ({ kind: bodyOf(KindName, req.params.kind), object: String(req.params.object) });
/** Whoever a thing belongs to. */
const ofOwner: Rule = (req) => {
  const { kind, object } = thingOf(req);
  return [{ kind, id: object, role: 'own' }];
};
const ofLinksOwner: Rule = async ({ params }, db) => {
  const { kind, object } = await linkAt(db, idOf(params.id));
  return [{ kind, id: object, role: 'own' }];
};

/** A team goes with its liveries, as far as whoever shares it owns them. */
async function withMembers(tx: Tx, kind: Kind, object: string): Promise<{ kind: Kind; object: string }[]> {
  const members = kind === 'team' ? (await getTeam(tx, object)).team.members.map(({ livery }) => livery) : [];
  const own = await onlySeen(tx, 'livery', members, (id) => id, 'own');
  return [{ kind, object }, ...own.map((id) => ({ kind: 'livery' as const, object: id }))];
}

/** With whom things are shared. */
export function shares({ db }: Services): Guarded {
  const router = guarded();

  router.get('/shares/:kind/:object', ofOwner, async (req, res) => {
    const { kind, object } = thingOf(req);
    const { people, links } = await sharesOf(db, kind, object);
    answer<Shares>(res, {
      people: people.map(({ byLink, ...one }) => ({ ...one, byLink: byLink !== null })),
      links: links as never,
    });
  });

  router.post('/shares/:kind/:object', ofOwner, async (req, res) => {
    const { kind, object } = thingOf(req);
    const { name, role } = bodyOf(Named, req.body);
    await transact(db, async (tx) => {
      for (const one of await withMembers(tx, kind, object))
        await shareWith(tx, one.kind, one.object, keyOf(name), role);
    });
    res.status(204).end();
  });

  router.delete('/shares/:kind/:object/:painter', ofOwner, async (req, res) => {
    const { kind, object } = thingOf(req);
    await transact(db, async (tx) => {
      for (const one of await withMembers(tx, kind, object))
        await unshare(tx, one.kind, one.object, idOf(req.params.painter));
    });
    res.status(204).end();
  });

  /** The token is said this once. */
  router.post('/shares/:kind/:object/links', ofOwner, async (req, res) => {
    const { kind, object } = thingOf(req);
    const { role, days } = bodyOf(NewLink, req.body);
    const ends = days === null ? null : new Date(Date.now() + days * DAY);
    res.status(201).json({ token: await makeLink(db, kind, object, role, ends) });
  });

  router.delete('/links/:id', ofLinksOwner, async (req, res) => {
    await endLink(db, idOf(req.params.id));
    res.status(204).end();
  });

  /** Somebody follows a link: whoever is signed in has the thing from now on, anybody else may look at a livery with this browser. */
  router.post('/links/open', 'anyone', async (req, res) => {
    await countTry(db, 'address', req.ip ?? '');
    const { token } = bodyOf(z.strictObject({ token: z.string().max(100) }), req.body);
    const found = await linkOf(db, token);
    if (!found) throw new NotFound('This link leads nowhere any more: it was taken back, or is too old.');
    const who = whoAsks(res);
    if (who?.is === 'painter') await takeLink(db, found, who);
    else if (found.kind === 'livery') giveLook(res, token);
    const { kind, object, role } = found;
    answer<OpenedLink>(res, { kind, object, role } as OpenedLink);
  });

  /** A livery as it is shown to whoever may look at it and no more. */
  router.get('/looks/:id', the('livery', 'look'), async (req, res) => {
    const id = idOf(req.params.id);
    const { revision, livery } = await getLivery(db, id);
    const { name, gameName, sheets } = await getTemplate(db, livery.pins.template);
    answer<Looked>(res, {
      ...{ id, revision, template: name, game: gameName },
      name: fillIn(livery.particulars.name ?? '', livery.particulars),
      sheets: sheets.map(({ key, name: called, width, height }) => ({ key, name: called, width, height })),
    });
  });

  return router;
}
