/** Teams: what they share, step by step, and what each step gave to their liveries. */
import { and, asc, desc, eq, isNull, lte, sql } from 'drizzle-orm';
import { InputError } from '@wet-lacquer/core/errors.ts';
import type { SingleEdit } from '@wet-lacquer/core/livery/edit.ts';
import { newEditId } from '@wet-lacquer/core/livery/ids.ts';
import { fillIn, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import { give, takeBack, type Giving } from '@wet-lacquer/core/team/give.ts';
import { picturesOf, Team } from '@wet-lacquer/core/team/team.ts';
import { Refused } from '@wet-lacquer/sync/join.ts';
import type { TeamChanged, OpenTeam } from '@wet-lacquer/sync/answers.ts';
import { fontHashes } from '@wet-lacquer/node/fonts.ts';
import { Clash, NotFound } from '../host/errors.ts';
import type { Services } from '../host/services.ts';
import { own } from '../people/access.ts';
import { transact, type Tx } from './db.ts';
import { factsOf } from './facts.ts';
import { JoinTogether } from './log.ts';
import { listHeads } from './liveries.ts';
import { team, teamStep, type GivenTo } from './schema.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';

/** Steps of a team that are kept. */
const STEPS = 200;

type Step = typeof teamStep.$inferSelect;
type Doing = Pick<Services, 'db' | 'threads'>;

/** Makes a team; its liveries stay as they are. */
export async function createTeam(services: Doing, document: Team, person: string): Promise<string> {
  const { db, threads } = services;
  await knownPictures(services, document);
  return transact(db, async (tx) => {
    await checkMembers(tx, document);
    await factsOf(tx, threads, picturesOf(document));
    const [row] = await tx.insert(team).values({ revision: 0 }).returning();
    await tx
      .insert(teamStep)
      .values({ teamId: row.id, revision: 0, document, given: [], person, label: 'Make the team' });
    await own(tx, 'team', row.id);
    return row.id;
  });
}

/** @throws InputError when a mark of a team is not a picture of its kind */
async function knownPictures({ db, threads }: Doing, document: Team) {
  const facts = await factsOf(db, threads, picturesOf(document));
  for (const item of document.items) {
    if (item.kind !== 'mark') continue;
    const is = facts.get(item.value.blob)?.is;
    if (!is) throw new InputError(`The picture of "${item.name}" is not here.`);
  }
  return facts;
}

/** @throws InputError when a livery of it is not there */
async function checkMembers(tx: Tx, { members }: Team, before: Team | null = null): Promise<void> {
  const here = new Set((await listHeads(tx)).map(({ id }) => id));
  const known = new Set(before?.members.map(({ livery }) => livery));
  if (members.some(({ livery }) => !here.has(livery) && !known.has(livery)))
    throw new InputError('A livery of this team is not here; it may have been deleted.');
}

const noSuchTeam = () => new NotFound('There is no such team; it may have been let go.');

async function stepsOf(tx: Tx, id: string): Promise<Step[]> {
  const steps = await tx.select().from(teamStep).where(eq(teamStep.teamId, id)).orderBy(asc(teamStep.revision));
  if (steps.length === 0) throw noSuchTeam();
  return steps;
}

/** Steps that can be taken back and done again, the next one last: of each its revision, and that of the step which is to be turned round for it. */
function stacksOf(steps: readonly Step[]): Record<'undo' | 'redo', { revision: number; turn: Step; label: string }[]> {
  const undo: { revision: number; turn: Step; label: string }[] = [];
  const redo: typeof undo = [];
  // The first says what the team began as.
  for (const step of steps.slice(1)) {
    const { revision, label } = step;
    if (step.undoes !== null) {
      undo.pop();
      redo.push({ revision: step.undoes, turn: step, label });
    } else if (step.redoes !== null) {
      redo.pop();
      undo.push({ revision: step.redoes, turn: step, label });
    } else {
      undo.push({ revision, turn: step, label });
      redo.length = 0;
    }
  }
  return { undo, redo };
}

function opened(id: string, steps: readonly Step[]): OpenTeam {
  const { undo, redo } = stacksOf(steps);
  const { revision, document } = steps.at(-1)!;
  return { id, revision, team: document, undo: undo.at(-1)?.label ?? null, redo: redo.at(-1)?.label ?? null };
}

/** @throws NotFound */
export async function getTeam(tx: Tx, id: string): Promise<OpenTeam> {
  const [row] = await tx
    .select()
    .from(team)
    .where(and(eq(team.id, id), isNull(team.deletedAt)));
  if (!row) throw noSuchTeam();
  return opened(id, await stepsOf(tx, id));
}

export async function listTeams(tx: Tx): Promise<{ id: string; updatedAt: Date; team: Team }[]> {
  const rows = await tx
    .selectDistinctOn([teamStep.teamId], { id: team.id, updatedAt: team.updatedAt, team: teamStep.document })
    .from(teamStep)
    .innerJoin(team, eq(team.id, teamStep.teamId))
    .where(isNull(team.deletedAt))
    .orderBy(teamStep.teamId, desc(teamStep.revision));
  return rows.toSorted((a, b) => a.team.name.localeCompare(b.team.name));
}

/** Lets a team go, or takes it in again; its liveries stay. @throws NotFound */
export async function setGone(tx: Tx, id: string, gone: boolean): Promise<void> {
  const rows = await tx
    .update(team)
    .set({ deletedAt: gone ? sql`now()` : null })
    .where(eq(team.id, id))
    .returning({ id: team.id });
  if (rows.length === 0) throw noSuchTeam();
}

interface Turn {
  document: Team;
  label: string;
  /** What it is called in the liveries' own histories, before the label. */
  said: string;
  undoes?: number;
  redoes?: number;
  /** What it does to a livery; null: nothing can be. */
  to(id: string, livery: Livery): Giving & { kept?: number };
}

/** One step of a team, with all that it does to liveries: all of it or nothing. */
async function take(
  { db, threads }: Doing,
  id: string,
  base: number,
  person: string,
  turnOf: (steps: Step[]) => Turn,
): Promise<TeamChanged> {
  const blobs = new Map(await knownPictures({ db, threads }, turnOf(await stepsOf(db, id)).document));
  for (const [hash, facts] of await factsOf(db, threads, (await fontHashes()).values())) blobs.set(hash, facts);
  const { together, ...changed } = await transact(db, async (tx) => {
    const [row] = await tx
      .select()
      .from(team)
      .where(and(eq(team.id, id), isNull(team.deletedAt)))
      .for('update');
    if (!row) throw noSuchTeam();
    if (row.revision !== base) throw new Clash('Somebody changed this team meanwhile; it is shown as it is now.');
    const steps = await stepsOf(tx, id);
    const turn = turnOf(steps);
    const before = steps.at(-1)!.document;
    await checkMembers(tx, turn.document, before);
    const joining = new JoinTogether(tx, blobs);
    const given: GivenTo = [];
    const done: TeamChanged['changed'] = [];
    const skipped: TeamChanged['skipped'] = [];
    const all = new Set([...before.members, ...turn.document.members].map(({ livery }) => livery));
    for (const livery of [...all].toSorted()) {
      const state = await joining.hold(livery).catch((error: unknown) => {
        if (!(error instanceof InputError)) throw error;
        skipped.push({ livery, why: error.message });
        return null;
      });
      if (!state) continue;
      const giving = giveTo(turn, livery, state);
      if (giving.kept) skipped.push({ livery, why: `${giving.kept} places were changed since; they stay.` });
      if (giving.edits.length === 0) continue;
      await addTo(joining, livery, state, giving.edits, person, cutTo(`${turn.said}: ${turn.label}`, 120));
      given.push({ livery, given: giving.given });
      done.push({ livery, places: giving.given.length });
    }
    const { document, label, undoes = null, redoes = null } = turn;
    const revision = base + 1;
    const values = { teamId: id, revision, document, given, person, label, undoes, redoes };
    const [made] = await tx.insert(teamStep).values(values).returning();
    await tx.delete(teamStep).where(and(eq(teamStep.teamId, id), lte(teamStep.revision, revision - STEPS)));
    await tx
      .update(team)
      .set({ revision, updatedAt: sql`now()` })
      .where(eq(team.id, id));
    return { together: joining, ...opened(id, [...steps, made].slice(-STEPS)), changed: done, skipped };
  });
  together.done();
  return changed;
}

const nameOf = ({ particulars }: Livery): string => fillIn(particulars.name ?? '', particulars);

function giveTo({ to }: Turn, id: string, livery: Livery): Giving & { kept?: number } {
  try {
    return to(id, livery);
  } catch (error) {
    if (error instanceof InputError) throw new InputError(`${nameOf(livery)}: ${error.message}`);
    throw error;
  }
}

/** Edits in one step of a livery. */
const MOST_EDITS = 600;

async function addTo(
  joining: JoinTogether,
  id: string,
  livery: Livery,
  edits: readonly SingleEdit[],
  person: string,
  label: string,
): Promise<void> {
  for (let n = 0; n < edits.length; n += MOST_EDITS) {
    const some = edits.slice(n, n + MOST_EDITS);
    const edit = some.length === 1 ? some[0] : { do: 'together' as const, edits: some };
    try {
      await joining.add(id, { id: newEditId(), person, edit, undoes: null, redoes: null, label });
    } catch (error) {
      if (error instanceof Refused) throw new InputError(`${nameOf(livery)}: ${error.message}`);
      throw error;
    }
  }
}

export interface TeamWish {
  /** Revision of the team that was looked at. */
  base: number;
  team: Team;
  /** What is given to a livery whatever it has: its id, and the item's. */
  bring: { livery: string; item: string }[];
  label: string;
}

/** Changes a team, and all its liveries that follow. @throws Clash when somebody else did meanwhile */
export async function changeTeam(services: Doing, id: string, wish: TeamWish, person: string): Promise<TeamChanged> {
  const fonts = await fontHashes();
  return take(services, id, wish.base, person, (steps) => ({
    document: wish.team,
    label: wish.label,
    said: 'Team',
    to(livery, state) {
      const member = wish.team.members.find((one) => one.livery === livery);
      if (!member) return { livery: state, edits: [], given: [] };
      const brought = new Set(wish.bring.filter((one) => one.livery === livery).map(({ item }) => item));
      return give(steps.at(-1)!.document, wish.team, member, state, { brought, fonts });
    },
  }));
}

/** Takes the last step of a team back, or does the one again that was taken back last. */
export const turnTeam = (services: Doing, id: string, base: number, person: string, which: 'undo' | 'redo') =>
  take(services, id, base, person, (steps) => {
    const step = stacksOf(steps)[which].at(-1);
    if (!step)
      throw new InputError(which === 'undo' ? 'There is nothing to take back.' : 'There is nothing to do again.');
    const { revision, turn, label } = step;
    const document = steps.find((one) => one.revision === (which === 'undo' ? turn.revision - 1 : revision))?.document;
    if (!document) throw new InputError('This step is older than what is kept of the team.');
    return {
      document,
      label,
      said: which === 'undo' ? 'Team, taken back' : 'Team, again',
      ...(which === 'undo' ? { undoes: revision } : { redoes: revision }),
      to: (livery, state) => takeBack(state, turn.given.find((one) => one.livery === livery)?.given ?? []),
    };
  });
