import { z } from 'zod';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { fillIn } from '@wet-lacquer/core/livery/livery.ts';
import { words } from '@wet-lacquer/core/livery/words.ts';
import { MOST_OF_TEAM, Team } from '@wet-lacquer/core/team/team.ts';
import type { DeliveryCard, OpenTeam, TeamCard, TeamChanged } from '@wet-lacquer/sync/answers.ts';
import { onlySeen } from '../people/access.ts';
import { each, guarded, the, type Guarded, type Rule } from '../people/guard.ts';
import type { Services } from '../host/services.ts';
import { askTogether } from '../jobs/askDelivery.ts';
import { listRead } from '../store/liveries.ts';
import { changeTeam, createTeam, getTeam, listTeams, setGone, turnTeam } from '../store/teams.ts';
import { publicDelivery } from './deliveries.ts';
import { answer, bodyOf, idOf, leaving, Revision } from './http.ts';

const Person = words(64, 1);
const Begun = z.strictObject({ team: Team, person: Person });
const Changed = z.strictObject({
  base: Revision,
  team: Team,
  bring: z
    .array(z.strictObject({ livery: z.uuid(), item: z.string().max(64) }))
    .max(MOST_OF_TEAM.members * MOST_OF_TEAM.items)
    .default([]),
  label: words(100, 1),
  person: Person,
});
const Turned = z.strictObject({ base: Revision, person: Person });
const ToDeliver = z.strictObject({
  liveries: z
    .array(
      z.strictObject({
        id: z.uuid(),
        /** The step that was looked at; left out: the newest. */
        revision: Revision.optional(),
        /** Names of findings that somebody who knows better lets go on. */
        overrule: z.array(z.string().max(500)).max(200).optional(),
      }),
    )
    .min(1)
    .max(MOST_OF_TEAM.members),
});

/** Whoever may paint all that a body puts into a team. */
const ofMembers: Rule = ({ body }) => each('livery', 'paint', membersIn(body));

/** Whoever may paint a team, and all its liveries: those that it has, and those that it gets. */
const ofTeam: Rule = async ({ params, body }, db) => {
  const id = idOf(params.id);
  const { team } = await getTeam(db, id);
  return [
    { kind: 'team', id, role: 'paint' },
    ...each('livery', 'paint', [...team.members.map(({ livery }) => livery), ...membersIn(body)]),
  ];
};

function membersIn(body: unknown): unknown[] {
  const { members } = ((body as { team?: unknown } | undefined)?.team ?? {}) as { members?: unknown };
  return Array.isArray(members) ? members.map((one: { livery?: unknown } | null) => one?.livery) : [];
}

/** Liveries that share what they wear. */
export function teams(services: Services): Guarded {
  const { db } = services;
  const router = guarded();

  router.get('/', 'painters', async (_req, res) => {
    const all = await onlySeen(db, 'team', await listTeams(db), ({ id }) => id);
    const read = all.length > 0 ? await listRead(db, 'at hand', 'look') : [];
    const names = new Map(
      read.map(({ head, read: { livery } }) => [
        head.id,
        livery && fillIn(livery.particulars.name ?? '', livery.particulars),
      ]),
    );
    answer<TeamCard[]>(
      res,
      all.map(({ id, updatedAt, team }) => ({
        id,
        updatedAt,
        name: team.name,
        members: team.members.flatMap(({ livery }) =>
          names.has(livery) ? [{ id: livery, name: names.get(livery) ?? null }] : [],
        ),
      })),
    );
  });

  router.post('/', ofMembers, async (req, res) => {
    const { team, person } = bodyOf(Begun, req.body);
    res.status(201).json({ id: await createTeam(services, team, person) });
  });

  router.get('/:id', the('team', 'copy'), async (req, res) => {
    answer<OpenTeam>(res, await getTeam(db, idOf(req.params.id)));
  });

  /** Changes what is shared, in the team and in every livery that follows: all of it or nothing. */
  router.put('/:id', ofTeam, async (req, res) => {
    const { person, ...wish } = bodyOf(Changed, req.body);
    answer<TeamChanged>(res, await changeTeam(services, idOf(req.params.id), wish, person));
  });

  router.post('/:id/take-back', ofTeam, async (req, res) => {
    const { base, person } = bodyOf(Turned, req.body);
    answer<TeamChanged>(res, await turnTeam(services, idOf(req.params.id), base, person, 'undo'));
  });

  router.post('/:id/do-again', ofTeam, async (req, res) => {
    const { base, person } = bodyOf(Turned, req.body);
    answer<TeamChanged>(res, await turnTeam(services, idOf(req.params.id), base, person, 'redo'));
  });

  /** Its liveries stay. */
  router.delete('/:id', the('team', 'own'), async (req, res) => {
    await setGone(db, idOf(req.params.id), true);
    res.status(204).end();
  });

  router.post('/:id/restore', the('team', 'own'), async (req, res) => {
    await setGone(db, idOf(req.params.id), false);
    res.status(204).end();
  });

  /** Delivers liveries of it by all their specs in one go: all of them or none. */
  router.post('/:id/deliveries', ofTeam, async (req, res) => {
    const { team } = await getTeam(db, idOf(req.params.id));
    const { liveries } = bodyOf(ToDeliver, req.body);
    const mine = new Set(team.members.map(({ livery }) => livery));
    if (liveries.some(({ id }) => !mine.has(id)))
      throw new InputError('Only liveries of this team are delivered from it.');
    const asks = liveries.map(({ id, revision, overrule }) => ({ id, wish: { revision, overrule } }));
    const made = await askTogether(services, asks, leaving(res));
    res.status(201);
    answer<DeliveryCard[]>(res, made.map(publicDelivery));
  });

  return router;
}
