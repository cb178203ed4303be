/** A team as it is stored, and what the painter makes of it before it is given to the liveries. */
import { useState } from 'react';
import useSWR from 'swr';
import { fillIn } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { withPlates } from '@wet-lacquer/core/plates/panel.ts';
import { onTop, wordsOfChange } from '@wet-lacquer/core/team/change.ts';
import { give } from '@wet-lacquer/core/team/give.ts';
import { alike } from '@wet-lacquer/core/team/items/kind.ts';
import type { TeamLivery } from '@wet-lacquer/core/team/propose.ts';
import { standingOf } from '@wet-lacquer/core/team/standing.ts';
import type { Team } from '@wet-lacquer/core/team/team.ts';
import type { OpenLivery, OpenTeam, TeamChanged } from '@wet-lacquer/sync/answers.ts';
import { ApiError, get, send, sentenceOf } from '../../lib/api.ts';
import { person } from '../../easel/person.ts';
import type { Lined } from '../lineUp/LinedUp.tsx';

/** A livery of a team that can be read, with its model. */
export interface Mate extends TeamLivery {
  name: string;
  revision: number;
  template: Template;
}

/** An item that a livery is to be given whatever it has. */
interface Brought {
  livery: string;
  item: string;
}

interface Draft {
  team: Team;
  brought: readonly Brought[];
}

async function mateOf(id: string): Promise<Mate | null> {
  try {
    const { livery, revision } = await get<OpenLivery>(`/liveries/${id}`);
    const template = await get<Template>(`/templates/${livery.pins.template}`);
    return { id, livery, revision, template, name: fillIn(livery.particulars.name ?? '', livery.particulars) };
  } catch (error) {
    // One that is gone, or cannot be read, hides no other.
    if (error instanceof ApiError && error.status >= 400 && error.status < 500) return null;
    throw error;
  }
}

/** What a draft would do to a livery. */
function tried(saved: Team, { team, brought }: Draft, mate: Mate) {
  const member = team.members.find(({ livery }) => livery === mate.id);
  if (!member) return [];
  const own = new Set(brought.filter(({ livery }) => livery === mate.id).map(({ item }) => item));
  try {
    return give(saved, team, member, mate.livery, { brought: own, fonts: new Map() }).edits;
  } catch {
    // The server says why when it is asked to do it.
    return [];
  }
}

/** Who follows when something changes that is shared only since a moment ago: the store knows nothing of it yet. */
function followers(saved: Team, before: Team, after: Team, mates: readonly Mate[]): Brought[] {
  const fresh = before.items.filter(({ id, value }) => {
    const next = after.items.find((item) => item.id === id);
    return next && !alike(next.value, value) && !saved.items.some((item) => item.id === id);
  });
  return fresh.flatMap((item) =>
    before.members.flatMap((member) => {
      const mate = mates.find((one) => one.id === member.livery);
      const follows = mate && standingOf(item, member, mate.livery).is === 'shared';
      return follows ? [{ livery: member.livery, item: item.id }] : [];
    }),
  );
}

export function useTeam(id: string) {
  const stored = useSWR<OpenTeam>(`/teams/${id}`);
  const { data: saved, mutate } = stored;
  /** The states of the draft, the present one last; none: it is as it is stored. */
  const [drafts, setDrafts] = useState<readonly Draft[]>([]);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const [done, setDone] = useState<TeamChanged | null>(null);
  const draft = drafts.at(-1) ?? (saved ? { team: saved.team, brought: [] } : null);
  const ids = draft?.team.members.map(({ livery }) => livery) ?? [];
  const mates = useSWR(ids.length > 0 ? ['team', ...ids] : null, () => Promise.all(ids.map(mateOf)), {
    keepPreviousData: true,
    shouldRetryOnError: false,
  });
  const here = (mates.data ?? []).filter((mate): mate is Mate => mate !== null);

  const change = (team: Team, brought: readonly Brought[] = []) => {
    if (!draft) return;
    setDone(null);
    const along = saved ? followers(saved.team, draft.team, team, here) : [];
    setDrafts([...drafts, { team, brought: [...draft.brought, ...brought, ...along] }].slice(-100));
  };

  /** Sends something that makes the next step of the team. */
  const step = async (send_: () => Promise<TeamChanged>) => {
    setBusy(true);
    setProblem(null);
    setDone(null);
    try {
      const made = await send_();
      await mutate(made, { revalidate: false });
      await mates.mutate();
      setDrafts([]);
      setDone(made);
    } catch (error) {
      setProblem(sentenceOf(error));
      if (error instanceof ApiError && error.status === 409 && saved) await meet(saved.team);
    } finally {
      setBusy(false);
    }
  };
  /** What somebody else made of the team meanwhile, under what is made here. */
  const meet = async (before: Team) => {
    const now = await mutate();
    const mine = drafts.at(-1);
    const both = now && mine ? onTop(before, mine.team, now.team) : null;
    setDrafts(both ? [{ team: both, brought: mine!.brought }] : []);
  };

  const edits = saved && draft ? here.map((mate) => ({ mate, edits: tried(saved.team, draft, mate) })) : [];
  return {
    saved,
    team: draft?.team ?? null,
    mates: here,
    /** Members that are not at hand. */
    missing: mates.data ? ids.filter((_, n) => mates.data![n] === null) : [],
    error: stored.error ?? mates.error,
    busy,
    problem,
    done,
    /** Whether there is something to give. */
    changed:
      drafts.length > 0 &&
      saved !== undefined &&
      (wordsOfChange(saved.team, draft!.team) !== '' || draft!.brought.length > 0),
    /** How many liveries it would change. */
    touched: edits.filter((one) => one.edits.length > 0).length,
    lined: edits.map(({ mate, edits: made }): Lined => ({
      ...{ id: mate.id, name: mate.name, revision: mate.revision },
      template: withPlates(mate.template, mate.livery),
      tried: made.length === 0 ? null : made.length === 1 ? made[0] : { do: 'together', edits: made.slice(0, 600) },
    })),
    isBrought: (livery: string, item: string) =>
      draft?.brought.some((one) => one.livery === livery && one.item === item) ?? false,
    change,
    back: drafts.length > 0 ? () => setDrafts(drafts.slice(0, -1)) : null,
    drop: () => setDrafts([]),
    give: () =>
      step(() => {
        const { team, brought } = draft!;
        const label = wordsOfChange(saved!.team, team) || 'Bring to the team’s';
        return send('PUT', `/teams/${id}`, { base: saved!.revision, team, bring: brought, label, person: person() });
      }),
    turn: (which: 'take-back' | 'do-again') =>
      step(() => send('POST', `/teams/${id}/${which}`, { base: saved!.revision, person: person() })),
  };
}
export type TeamState = ReturnType<typeof useTeam>;
