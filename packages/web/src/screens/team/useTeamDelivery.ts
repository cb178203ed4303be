/** The delivery of a team: what preflight says of each livery, what was asked for in one go, and how far that is. */
import { useState } from 'react';
import useSWR from 'swr';
import { deliveredBy } from '@wet-lacquer/core/livery/livery.ts';
import type { DeliveryCard, PreflightAnswer } from '@wet-lacquer/sync/answers.ts';
import { get, send, sentenceOf } from '../../lib/api.ts';
import { stopsOf } from '../deliver/answers.ts';
import { isUnderWay } from '../deliver/underWay.ts';
import type { Mate } from './useTeam.ts';

/** A livery with preflight by each of its specs. */
export interface Looked {
  mate: Mate;
  answers: PreflightAnswer[];
}

async function lookThrough(mates: readonly Mate[]): Promise<Looked[]> {
  const all: Looked[] = [];
  // One after the other: each takes the whole machine.
  for (const mate of mates) {
    const answers: PreflightAnswer[] = [];
    for (const { key } of deliveredBy(mate.livery)) {
      const asked = new URLSearchParams({ spec: key, revision: String(mate.revision) });
      answers.push(await get<PreflightAnswer>(`/liveries/${mate.id}/preflight?${asked}`));
    }
    all.push({ mate, answers });
  }
  return all;
}

export function useTeamDelivery(id: string, mates: readonly Mate[]) {
  const look = useSWR(
    mates.length > 0 ? ['team preflight', ...mates.map((mate) => `${mate.id} ${mate.revision}`)] : null,
    () => lookThrough(mates),
    { keepPreviousData: true, revalidateOnFocus: false, shouldRetryOnError: false },
  );
  const [overruled, setOverruled] = useState<ReadonlyMap<string, ReadonlySet<string>>>(new Map());
  /** Liveries that stay behind this time. */
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [batch, setBatch] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const run = useSWR<DeliveryCard[]>(batch && `/deliveries/batches/${batch}`, {
    refreshInterval: (all) => (!all || all.some(isUnderWay) ? 300 : 0),
  });
  const looked = look.data ?? null;
  const going = looked?.filter(({ mate }) => !left.has(mate.id)) ?? [];
  const overruledOf = (livery: string): ReadonlySet<string> => overruled.get(livery) ?? new Set();
  const within = async (work: () => Promise<void>) => {
    setBusy(true);
    setProblem(null);
    try {
      await work();
    } catch (error) {
      setProblem(sentenceOf(error));
    } finally {
      setBusy(false);
    }
  };
  return {
    looked,
    going,
    error: look.error as unknown,
    left,
    leave: (livery: string, on: boolean) =>
      setLeft(new Set(on ? [...left, livery] : [...left].filter((one) => one !== livery))),
    overruledOf,
    overrule(livery: string, name: string, on: boolean) {
      const names = new Set(overruledOf(livery));
      if (on) names.add(name);
      else names.delete(name);
      setOverruled(new Map(overruled).set(livery, names));
    },
    stops: going.reduce(
      (sum, { mate, answers }) => sum + answers.reduce((n, one) => n + stopsOf(one, overruledOf(mate.id)), 0),
      0,
    ),
    run: run.data ?? null,
    busy,
    problem,
    deliver: () =>
      within(async () => {
        const liveries = going.map(({ mate }) => ({
          id: mate.id,
          // What is shown is delivered, whatever came since.
          revision: mate.revision,
          overrule: [...overruledOf(mate.id)],
        }));
        const made = await send<DeliveryCard[]>('POST', `/teams/${id}/deliveries`, { liveries });
        setBatch(made[0].batch);
      }),
    cancel: () =>
      within(async () => {
        await send('POST', `/deliveries/${run.data![0].id}/cancel`);
        await run.mutate();
      }),
  };
}
export type TeamDelivery = ReturnType<typeof useTeamDelivery>;
