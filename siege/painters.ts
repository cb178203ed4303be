/** Painters without a page: each hears the news of a livery, makes steps on what it knows of it, and measures how long they take to be kept. */
import { randomUUID } from 'node:crypto';
import type { LoggedEntry } from '@wet-lacquer/core/livery/history.ts';
import type { PostAnswer } from '@wet-lacquer/sync/join.ts';

export interface Kept {
  /** Ids of steps that the server acknowledged, in order. */
  acknowledged: string[];
  /** Milliseconds from sending to the acknowledgement. */
  took: number[];
  /** Steps that were refused, and times that there was no answer. */
  refused: number;
  lost: number;
}

export interface PainterOptions {
  url: () => string;
  livery: string;
  layer: string;
  random: () => number;
  /** Milliseconds between steps, at least and at most. */
  pause: [number, number];
  going: () => boolean;
  /** Hears each revision that is told of. */
  hear?: (revision: number) => void;
}

const sleep = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Paints until it is over; without an answer it sends the same step again, as a page does. */
export async function paint({ url, livery, layer, random, pause, going, hear }: PainterOptions): Promise<Kept> {
  const kept: Kept = { acknowledged: [], took: [], refused: 0, lost: 0 };
  const person = randomUUID();
  let base = 0;
  const stop = new AbortController();
  void listen(url, livery, stop.signal, (revision) => {
    base = Math.max(base, revision);
    hear?.(revision);
  });
  const [least, most] = pause;
  await sleep(random() * most);
  while (going()) {
    const edit = { do: 'set-layer', layer, set: { opacity: Math.floor(random() * 101) } };
    const entry = { id: randomUUID(), person, edit, undoes: null, redoes: null, label: 'Opacity' };
    const began = performance.now();
    for (let tries = 0; ; tries++) {
      const answer = await post(url(), livery, base, entry);
      if (answer?.state === 'saved') {
        kept.acknowledged.push(entry.id);
        if (tries === 0) kept.took.push(performance.now() - began);
        base = Math.max(base, answer.revision);
        break;
      }
      if (answer?.state === 'refused') {
        kept.refused++;
        break;
      }
      kept.lost++;
      if (!going()) break;
      await sleep(200 + random() * 300);
    }
    await sleep(least + random() * (most - least));
  }
  // What others make last is heard, too.
  await sleep(hear ? 5000 : 0);
  stop.abort();
  return kept;
}

async function post(url: string, livery: string, base: number, entry: object): Promise<PostAnswer | null> {
  try {
    const response = await fetch(`${url}/api/liveries/${livery}/entries`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ base, entries: [entry] }),
    });
    const body = (await response.json()) as PostAnswer;
    return response.status === 200 || response.status === 422 ? body : null;
  } catch {
    return null;
  }
}

async function listen(
  url: () => string,
  livery: string,
  signal: AbortSignal,
  hear: (revision: number, entries: LoggedEntry[]) => void,
): Promise<void> {
  while (!signal.aborted) {
    try {
      const response = await fetch(`${url()}/api/liveries/${livery}/news`, { signal });
      const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
      let text = '';
      for (;;) {
        const { value, done } = await reader.read();
        if (done) break;
        const messages = (text + value).split('\n\n');
        text = messages.pop()!;
        for (const message of messages) {
          if (!message.startsWith('data: ')) continue;
          const { revision, entries } = JSON.parse(message.slice(6)) as { revision: number; entries: LoggedEntry[] };
          hear(revision, entries);
        }
      }
    } catch {
      // The server is away, or it is over.
    }
    if (!signal.aborted) await sleep(300);
  }
}

/** A share of some figures, as a percentile. */
export function percentile(figures: readonly number[], share: number): number {
  const sorted = figures.toSorted((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? NaN;
}

export interface Open {
  id: string;
  revision: number;
  livery: { sheets: { maps: { layers: { id: string }[] }[] }[] };
}

/** A new livery with a plain layer on it. */
export async function begun(url: string, template: string, name: string): Promise<{ id: string; layer: string }> {
  const ask = async <T>(path: string, body: unknown): Promise<T> => {
    const response = await fetch(`${url}/api${path}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
    if (!response.ok) throw new Error(`${path}: ${response.status} ${await response.text()}`);
    return response.json() as Promise<T>;
  };
  const { id } = await ask<{ id: string }>('/liveries', { template, name });
  const layer = {
    ...{ kind: 'solid', id: randomUUID(), name: 'Base', phase: 'Base', hidden: false, locked: false, opacity: 100 },
    ...{ blend: 'normal', parts: [], paint: { hex: '#204060' } },
  };
  const { sheets } = (await (await fetch(`${url}/api/templates/${template}`)).json()) as { sheets: { key: string }[] };
  const edit = { do: 'add-layer', sheet: sheets[0].key, map: 'colour', layer, index: 0 };
  const entry = { id: randomUUID(), person: 'nobody', edit, undoes: null, redoes: null, label: 'Solid' };
  await ask(`/liveries/${id}/entries`, { base: 0, entries: [entry] });
  return { id, layer: layer.id };
}

/** The whole log of a livery. */
export async function logOf(url: string, livery: string): Promise<LoggedEntry[]> {
  const all: LoggedEntry[] = [];
  for (;;) {
    const after = all.at(-1)?.revision ?? 0;
    const some = (await (await fetch(`${url}/api/liveries/${livery}/entries?after=${after}`)).json()) as LoggedEntry[];
    if (some.length === 0) return all;
    all.push(...some);
  }
}
