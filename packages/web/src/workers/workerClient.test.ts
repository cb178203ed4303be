/** Workers whose script does not load: started again, what they were asked is asked again, and others draw when one never comes. */
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { smallLivery, smallTemplate } from '@wet-lacquer/core/testing/scenes.ts';
import { RenderClient } from './renderClient.ts';
import { LostWorker, WorkerClient } from './workerClient.ts';

/** How many of the next workers do not load. */
let failing = 0;
let made: FakeWorker[] = [];

class FakeWorker {
  onmessage: ((event: { data: unknown }) => void) | null = null;
  onerror: ((event: { message?: string }) => void) | null = null;
  readonly bad = failing-- > 0;
  readonly heard: string[] = [];
  constructor() {
    made.push(this);
    if (this.bad) setTimeout(() => this.onerror?.({}), 5);
  }
  postMessage(message: { n: number; name: string }): void {
    if (this.bad) return;
    this.heard.push(message.name);
    setTimeout(() => this.onmessage?.({ data: { n: message.n, answer: message.name } }), 5);
  }
  terminate(): void {}
}

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal('Worker', FakeWorker);
  [failing, made] = [0, []];
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const start = () => new Worker('x');
type Asks = Record<'a' | 'b', { ask: null; answer: string }>;

test('one that fails twice is there at the third time, and answers all it was asked, in order', async () => {
  failing = 2;
  const client = new WorkerClient<Asks>(start);
  const answers = Promise.all([client.ask('a', null), client.ask('b', null)]);
  await vi.advanceTimersByTimeAsync(2000);
  expect(await answers).toEqual(['a', 'b']);
  expect(made.map(({ heard }) => heard)).toEqual([[], [], ['a', 'b']]);
});

test('one that never comes says so, at once from then on', async () => {
  failing = 99;
  const client = new WorkerClient<Asks>(start);
  const asked = client.ask('a', null).catch((error: unknown) => error);
  await vi.advanceTimersByTimeAsync(5000);
  expect(await asked).toBeInstanceOf(LostWorker);
  expect(client.lost).toBe(true);
  await expect(client.ask('b', null)).rejects.toBeInstanceOf(LostWorker);
  expect(made.length).toBe(3);
});

test('of three renderers one is lost: the others draw its tiles, and the page is told', async () => {
  const client = new RenderClient(3);
  // The second one never comes.
  made[1].postMessage = () => {};
  const told: [number, number][] = [];
  client.onFewer = (left, of) => told.push([left, of]);
  failing = 99;
  made[1].onerror?.({});
  await vi.advanceTimersByTimeAsync(5000);
  failing = 0;
  const begun = client.begin(smallTemplate());
  await vi.advanceTimersByTimeAsync(100);
  await begun;
  const livery = client.ask('livery', { livery: smallLivery([]), hot: null });
  const tiles = [0, 2, 4, 6].map((tx) =>
    client.ask('tile', { sheet: 'face', map: 'colour', level: 0, tx, ty: 0 } as never),
  );
  await vi.advanceTimersByTimeAsync(100);
  await livery;
  expect(await Promise.all(tiles)).toEqual(['tile', 'tile', 'tile', 'tile']);
  expect(made[0].heard.filter((name) => name === 'tile').length).toBe(2);
  expect(made[2].heard.filter((name) => name === 'tile').length).toBe(2);
});

test('without any renderer what was asked fails, and does not wait for ever', async () => {
  failing = 99;
  const client = new RenderClient(2);
  const begun = client.begin(smallTemplate()).catch((error: unknown) => error);
  await vi.advanceTimersByTimeAsync(5000);
  expect(await begun).toBeInstanceOf(LostWorker);
});
