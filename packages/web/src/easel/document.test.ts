import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { applyEntry, type AppliedEntry, type Entry, type LoggedEntry } from '@wet-lacquer/core/livery/history.ts';
import { EditId, LayerId } from '@wet-lacquer/core/livery/ids.ts';
import { findLayer, layersOf, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Edit } from '@wet-lacquer/core/livery/edit.ts';
import { layerOf, smallLivery, smallTemplate } from '@wet-lacquer/core/testing/scenes.ts';
import { openDocument, type EaselDocument } from './document.ts';
import { keepUnsent, leftUnsent } from './outbox.ts';
import { person } from './person.ts';
import { standIn, type StandIns } from './standIns.ts';

/** Steps that come in one answer about earlier ones. */
const PAGE = 30;

/** A server in memory, by the rules of the real one, with a plug to pull. */
class FakeServer {
  livery: Livery = smallLivery([
    layerOf('solid', { id: 'a', paint: { scheme: 'red' } }),
    layerOf('solid', { id: 'b', paint: { scheme: 'blue' } }),
  ]);
  log: LoggedEntry[] = [];
  unplugged = false;
  /** Loses the answer of the next post, after it was taken in. */
  loseAnswer = false;
  posts = 0;
  lookedBack = 0;

  take(entry: Entry): void {
    const { livery, applied } = applyEntry(this.livery, entry);
    this.livery = livery;
    this.log.push({ ...applied, revision: this.log.length + 1, at: new Date().toISOString() });
  }

  fetch = async (url: string, init?: RequestInit): Promise<Response> => {
    if (this.unplugged) throw new TypeError('fetch failed');
    const answer = (status: number, body: unknown) => new Response(JSON.stringify(body), { status });
    if (!init?.method) {
      const { searchParams: asked } = new URL(url, 'http://x');
      const upTo = asked.get('upTo');
      if (upTo === null) return answer(200, this.log.slice(Number(asked.get('after'))));
      this.lookedBack++;
      return answer(200, this.log.slice(Math.max(0, Number(upTo) - PAGE), Number(upTo)));
    }
    this.posts++;
    const { base, entries } = JSON.parse(String(init.body)) as { base: number; entries: Entry[] };
    const fresh = entries.filter((entry) => !this.log.some((known) => known.id === entry.id));
    if (fresh.length > 0 && base !== this.log.length)
      return answer(409, { state: 'stale', revision: this.log.length, entries: this.log.slice(base) });
    for (const entry of fresh) {
      try {
        this.take(entry);
      } catch (error) {
        return answer(422, { state: 'refused', entry: entry.id, why: (error as Error).message });
      }
    }
    if (this.loseAnswer) {
      this.loseAnswer = false;
      throw new TypeError('fetch failed');
    }
    return answer(200, { state: 'saved', revision: this.log.length, entries: this.log.slice(base) });
  };
}

let server: FakeServer;
let listeners: StandIns['listeners'];
const news = (event: { data: string }) => listeners.forEach((hear) => hear(event));
let doc: EaselDocument;
let store: StandIns['stored'];

const open = () =>
  openDocument(
    {
      id: 'one',
      revision: server.log.length,
      livery: server.livery,
      log: structuredClone(server.log.slice(-PAGE)),
      delivered: [],
      lastDelivery: null,
      spec: null,
    },
    smallTemplate(),
  );
const opacity = (layer: string, value: number): Edit => ({
  do: 'set-layer',
  layer: LayerId.parse(layer),
  set: { opacity: value },
});
const other = (edit: Edit): Entry => ({
  id: EditId.parse(crypto.randomUUID()),
  person: 'somebody else',
  edit,
  undoes: null,
  redoes: null,
  label: 'theirs',
});
const of = (livery: Livery, id: string) => findLayer(livery, LayerId.parse(id))?.layer.opacity;
const settle = () => vi.advanceTimersByTimeAsync(6000);

beforeEach(() => {
  vi.useFakeTimers();
  server = new FakeServer();
  ({ listeners, stored: store } = standIn(server.fetch));
  doc = open();
});
afterEach(() => {
  doc.close();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe('saving', () => {
  test('a step shows at once, and is saved within a fraction of a second', async () => {
    doc.commit(opacity('a', 40), 'Opacity');
    expect(of(doc.use.getState().livery, 'a')).toBe(40);
    expect(doc.use.getState().saving).toBe('saving');
    await vi.advanceTimersByTimeAsync(300);
    expect(doc.use.getState().saving).toBe('saved');
    expect(of(server.livery, 'a')).toBe(40);
    expect(leftUnsent('one')).toEqual([]);
  });

  test('what the server confirms is the livery that is shown already: nothing is drawn anew, what is being dragged stays', async () => {
    doc.commit(opacity('a', 40), 'Opacity');
    const made = doc.use.getState().livery;
    doc.show(opacity('b', 70));
    const { preview } = doc.use.getState();
    await vi.advanceTimersByTimeAsync(300);
    expect(doc.use.getState().saving).toBe('saved');
    expect(doc.use.getState().livery).toBe(made);
    expect(doc.use.getState().preview).toBe(preview);
    // The next step and somebody else's stand on the same objects.
    server.take(other(opacity('b', 20)));
    news({ data: '2' });
    await settle();
    const { livery } = doc.use.getState();
    expect([of(livery, 'a'), of(livery, 'b')]).toEqual([40, 20]);
    expect(findLayer(livery, LayerId.parse('a'))!.layer).toBe(findLayer(made, LayerId.parse('a'))!.layer);
  });

  test('of one’s own steps and somebody else’s between them, all that is confirmed is shown', async () => {
    doc.commit(opacity('a', 40), 'Opacity');
    server.take(other(opacity('b', 20)));
    doc.commit(opacity('a', 41), 'Opacity');
    await settle();
    const { livery, saving, steps } = doc.use.getState();
    expect(saving).toBe('saved');
    expect([of(livery, 'a'), of(livery, 'b')]).toEqual([41, 20]);
    expect(livery).toEqual(server.livery);
    expect(steps.length).toBe(3);
  });

  test('steps in quick succession go in one post', async () => {
    for (const value of [10, 20, 30]) doc.commit(opacity('a', value), 'Opacity');
    await settle();
    expect(server.posts).toBe(1);
    expect(server.log.map((entry) => entry.label)).toEqual(['Opacity', 'Opacity', 'Opacity']);
  });

  test('showing a change while something is dragged makes no step', async () => {
    doc.show(opacity('a', 5));
    expect(of(doc.use.getState().preview!, 'a')).toBe(5);
    expect(of(doc.use.getState().livery, 'a')).toBe(100);
    doc.show(null);
    await settle();
    expect(doc.use.getState().preview).toBeNull();
    expect(server.posts).toBe(0);
  });

  test('a change that would not leave a livery changes nothing', () => {
    expect(() => doc.commit(opacity('a', 900), 'Too much')).toThrow(/opacity/);
    expect(of(doc.use.getState().livery, 'a')).toBe(100);
    expect(doc.use.getState().steps).toHaveLength(0);
  });
});

describe('a server that is away', () => {
  test('work goes on, it is said, and all is sent when it is back', async () => {
    server.unplugged = true;
    doc.commit(opacity('a', 40), 'One');
    await settle();
    doc.commit(opacity('b', 30), 'Two');
    expect(doc.use.getState()).toMatchObject({
      saving: 'offline',
      trouble: expect.stringContaining('does not answer'),
    });
    server.unplugged = false;
    await settle();
    expect(doc.use.getState()).toMatchObject({ saving: 'saved', trouble: null });
    expect([of(server.livery, 'a'), of(server.livery, 'b')]).toEqual([40, 30]);
  });

  test('an answer that is lost does not make the step twice', async () => {
    server.loseAnswer = true;
    doc.commit(opacity('a', 40), 'One');
    await settle();
    expect(server.log).toHaveLength(1);
    expect(doc.use.getState()).toMatchObject({ saving: 'saved' });
    expect(doc.use.getState().steps).toHaveLength(1);
  });

  test('a window that is closed before sending leaves its steps in the browser; the next opening sends them, in order', async () => {
    server.unplugged = true;
    doc.commit(opacity('a', 40), 'One');
    doc.commit(opacity('a', 50), 'Two');
    await settle();
    doc.close();
    expect(leftUnsent('one').map((entry) => entry.label)).toEqual(['One', 'Two']);
    server.unplugged = false;
    doc = open();
    expect(of(doc.use.getState().livery, 'a')).toBe(50);
    await settle();
    expect(server.log.map((entry) => entry.label)).toEqual(['One', 'Two']);
    expect(leftUnsent('one')).toEqual([]);
  });

  test('what was taken in before the window closed is not sent again', async () => {
    server.loseAnswer = true;
    doc.commit(opacity('a', 40), 'One');
    await vi.advanceTimersByTimeAsync(200);
    doc.close();
    doc = open();
    await settle();
    expect(server.log).toHaveLength(1);
    expect(leftUnsent('one')).toEqual([]);
  });

  test('damaged leftovers are passed over', () => {
    store.set('wet-lacquer/outbox/one/x', '{"order":1,"entry":{"id":"x"}}');
    store.set('wet-lacquer/outbox/one/y', 'not json');
    expect(leftUnsent('one')).toEqual([]);
    expect([...store.keys()].filter((key) => key.includes('outbox'))).toEqual([]);
  });
});

describe('two windows', () => {
  test('news are fetched, and one’s own steps stay on top', async () => {
    server.take(other(opacity('b', 10)));
    news({ data: '1' });
    await settle();
    expect(of(doc.use.getState().livery, 'b')).toBe(10);
  });

  test('a stale base rebases: both changes are kept', async () => {
    server.take(other(opacity('b', 10)));
    doc.commit(opacity('a', 40), 'Mine');
    await settle();
    expect([of(doc.use.getState().livery, 'a'), of(doc.use.getState().livery, 'b')]).toEqual([40, 10]);
    expect(server.log.map((entry) => entry.label)).toEqual(['theirs', 'Mine']);
    expect(doc.use.getState().setAside).toEqual([]);
  });

  test('a step whose layer is gone is set aside, and can be put on another', async () => {
    server.take(other({ do: 'remove-layer', layer: LayerId.parse('a') }));
    doc.commit(opacity('a', 40), 'Mine');
    await settle();
    const [aside] = doc.use.getState().setAside;
    expect(aside.why).toMatch(/no longer there/);
    expect(layersOf(doc.use.getState().livery, 'face').map((layer) => layer.id)).toEqual(['b']);
    doc.settle(aside.entry.id, { ...aside.entry.edit, layer: LayerId.parse('b') } as Edit);
    await settle();
    expect(of(server.livery, 'b')).toBe(40);
    expect(doc.use.getState().setAside).toEqual([]);
  });

  test('one can also be let go', async () => {
    server.take(other({ do: 'remove-layer', layer: LayerId.parse('a') }));
    doc.commit(opacity('a', 40), 'Mine');
    await settle();
    doc.settle(doc.use.getState().setAside[0].entry.id, null);
    await settle();
    expect(doc.use.getState().setAside).toEqual([]);
    expect(server.log).toHaveLength(1);
  });
});

describe('undo', () => {
  test('takes back one’s own step and leaves theirs; redo does it again', async () => {
    doc.commit(opacity('a', 40), 'Mine');
    await settle();
    server.take(other(opacity('b', 10)));
    news({ data: '2' });
    await settle();
    doc.undo();
    expect([of(doc.use.getState().livery, 'a'), of(doc.use.getState().livery, 'b')]).toEqual([100, 10]);
    expect(doc.use.getState()).toMatchObject({ canUndo: false, canRedo: true });
    doc.redo();
    await settle();
    expect(of(server.livery, 'a')).toBe(40);
  });

  test('back to a step takes back everything after it, one by one', async () => {
    for (const value of [10, 20, 30, 40]) doc.commit(opacity('a', value), `To ${value}`);
    await settle();
    const second = doc.use.getState().steps.find((step: AppliedEntry) => step.label === 'To 20')!;
    doc.backTo(second.id);
    await settle();
    expect(of(server.livery, 'a')).toBe(20);
    expect(server.log).toHaveLength(6);
    doc.redo();
    expect(of(doc.use.getState().livery, 'a')).toBe(30);
    doc.backTo('nobody');
    expect(of(doc.use.getState().livery, 'a')).toBe(30);
  });

  test('goes back through a long log, whose earlier steps come page by page before they are needed', async () => {
    for (let k = 0; k < 100; k++) server.take({ ...other(opacity('a', k)), person: person(), label: `To ${k}` });
    doc.close();
    doc = open();
    expect(doc.use.getState()).toMatchObject({ earlier: 70, canUndo: true });
    for (let k = 0; k < 60; k++) {
      doc.undo();
      await vi.advanceTimersByTimeAsync(1);
    }
    await settle();
    expect(of(server.livery, 'a')).toBe(39);
    // Opened anew the end of the log is 60 times "undo" alone: neither what came before them nor where redoing begins.
    doc.close();
    doc = open();
    await settle();
    expect(doc.use.getState()).toMatchObject({ canUndo: true, canRedo: true });
    for (let k = 0; k < 60; k++) doc.redo();
    expect(of(doc.use.getState().livery, 'a')).toBe(99);
    expect(doc.use.getState().canRedo).toBe(false);
  });

  test('a step whose answer was lost long ago, and is no longer in the end of the log, is not made twice', async () => {
    const layer = layerOf('solid', { id: 'c', paint: { scheme: 'red' } });
    const edit: Edit = { do: 'add-layer', sheet: 'face', map: 'colour', layer, index: 0 };
    const lost = { ...other(edit), person: person() };
    server.take(lost);
    for (let k = 0; k < 50; k++) server.take(other(opacity('a', 50 + k)));
    doc.close();
    keepUnsent('one', lost, 1);
    doc = open();
    expect(doc.use.getState()).toMatchObject({ saving: 'saving', setAside: [] });
    await settle();
    expect(doc.use.getState()).toMatchObject({ saving: 'saved', setAside: [] });
    expect(layersOf(doc.use.getState().livery, 'face').map(({ id }) => id)).toEqual(['c', 'a', 'b']);
    expect(server.log).toHaveLength(51);
    expect(server.posts).toBe(1);
    expect(leftUnsent('one')).toEqual([]);
  });

  test('asks for no more of the log than it needs, and for all of it when told to', async () => {
    for (let k = 0; k < 100; k++) server.take({ ...other(opacity('a', k)), person: person() });
    doc.close();
    doc = open();
    await settle();
    expect(server.lookedBack).toBe(0);
    server.unplugged = true;
    await expect(doc.lookBack()).rejects.toThrow();
    server.unplugged = false;
    while (doc.use.getState().earlier > 0) await doc.lookBack();
    expect(server.lookedBack).toBe(3);
    expect(doc.use.getState().steps.map((step) => ('revision' in step ? step.revision : null))).toEqual(
      Array.from({ length: 100 }, (_, k) => k + 1),
    );
  });

  test('survives closing: the next opening of the same person takes back the same step', async () => {
    doc.commit(opacity('a', 40), 'Mine');
    await settle();
    doc.close();
    doc = open();
    expect(doc.use.getState().canUndo).toBe(true);
    doc.undo();
    await settle();
    expect(of(server.livery, 'a')).toBe(100);
  });
});
