/** Two windows that edit at random through a line that fails at random end with the server's livery, and no step is lost without a word. */
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { Edit } from '@wet-lacquer/core/livery/edit.ts';
import { layersOf } from '@wet-lacquer/core/livery/livery.ts';
import { randomFrom } from '@wet-lacquer/core/testing/images.ts';
import { layerOf, smallLivery, smallTemplate } from '@wet-lacquer/core/testing/scenes.ts';
import { openDocument, type EaselDocument } from './document.ts';
import { LogStandIn } from './logStandIn.ts';
import { standIn, type StandIns } from './standIns.ts';

const start = () =>
  smallLivery(['a', 'b', 'c'].map((id) => layerOf('solid', { id, name: id, paint: { scheme: 'red' } })));
let server: LogStandIn;
let listeners: StandIns['listeners'];
let random: () => number;
let faults: number;

beforeEach(() => {
  vi.useFakeTimers();
  server = new LogStandIn(start());
  server.ahead = 5;
  ({ listeners } = standIn(async (url, init) => {
    // The line fails before the server hears, or after.
    if (random() < faults) throw new TypeError('fetch failed');
    const before = server.log.length;
    const { status, body } = server.answer(url, init);
    if (server.log.length > before) {
      // News come late, in any order, with what is new or only the number.
      const news = random() < 0.5 ? server.news(before) : server.news();
      listeners.forEach((hear) => setTimeout(() => hear(news), Math.floor(random() * 400)));
    }
    if (random() < faults) throw new TypeError('fetch failed');
    return new Response(JSON.stringify(body), { status });
  }));
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

/** A random step of one window, on what it shows. */
function step(doc: EaselDocument, made: Set<string>, n: number): void {
  const layers = layersOf(doc.use.getState().livery, 'face');
  const at = Math.floor(random() * layers.length);
  const layer = layers[at];
  const dice = random();
  const label = `step ${n}`;
  const edit = ((): Edit | null => {
    if (dice < 0.25)
      return {
        do: 'add-layer',
        sheet: 'face',
        map: 'colour',
        layer: layerOf('solid', { id: `new-${n}`, paint: { scheme: 'blue' } }),
        index: at,
      };
    if (dice < 0.35 && layer) return { do: 'remove-layer', layer: layer.id };
    if (dice < 0.5 && layer)
      return {
        do: 'move-layer',
        layer: layer.id,
        sheet: 'face',
        map: 'colour',
        index: Math.floor(random() * layers.length),
      };
    if (dice < 0.8 && layer) return { do: 'set-layer', layer: layer.id, set: { opacity: Math.floor(random() * 101) } };
    return { do: 'set-particular', key: 'number', value: String(n) };
  })();
  if (!edit) return;
  doc.commit(edit, label);
  made.add(label);
}

test.each([1, 2, 3, 4, 5, 6, 7, 8])('random run %i', async (seed) => {
  random = randomFrom(seed);
  faults = 0.2;
  const open = () => openDocument(server.open(), smallTemplate());
  const docs = [open(), open()];
  const made = new Set<string>();
  for (let n = 0; n < 60; n++) {
    step(docs[n % 2], made, n);
    await vi.advanceTimersByTimeAsync(Math.floor(random() * 500));
  }
  faults = 0;
  await vi.advanceTimersByTimeAsync(90_000);
  listeners.forEach((hear) => hear(server.news()));
  await vi.advanceTimersByTimeAsync(5000);
  const aside = new Set(docs.flatMap((doc) => doc.use.getState().setAside.map(({ label }) => label)));
  const kept = new Set(server.log.map((entry) => entry.label));
  for (const doc of docs) {
    expect(doc.use.getState().saving).toBe('saved');
    expect(doc.use.getState().livery).toEqual(server.livery);
    expect(doc.use.getState().steps.map((s) => s.id)).toEqual(server.log.map((entry) => entry.id));
    doc.close();
  }
  // Every step is in the log once, or set aside and shown: none is both, none is neither.
  expect(server.log.length).toBe(kept.size);
  for (const label of made) expect(kept.has(label) !== aside.has(label), label).toBe(true);
});
