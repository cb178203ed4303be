import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { AppliedEntry, Entry } from '@wet-lacquer/core/livery/history.ts';
import { EditId, LayerId } from '@wet-lacquer/core/livery/ids.ts';
import { findLayer, layersOf, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Edit } from '@wet-lacquer/core/livery/edit.ts';
import { layerOf, smallLivery, smallTemplate } from '@wet-lacquer/core/testing/scenes.ts';
import { openDocument, type EaselDocument } from './document.ts';
import { keepUnsent, leftAside, leftUnsent } from './outbox.ts';
import { person } from './person.ts';
import { LogStandIn } from './logStandIn.ts';
import { standIn, type StandIns } from './standIns.ts';

/** A server in memory with a plug to pull. */
class FakeServer extends LogStandIn {
  unplugged = false;
  /** Loses the answer of the next post, after it was taken in. */
  loseAnswer = false;
  /** Answers of this kind to posts, with the server's own sentence. */
  ill: { status: number; error: string } | null = null;
  /** Bodies of posts, as they came. */
  bodies: string[] = [];

  constructor() {
    super(
      smallLivery([
        layerOf('solid', { id: 'a', paint: { scheme: 'red' } }),
        layerOf('solid', { id: 'b', paint: { scheme: 'blue' } }),
      ]),
    );
  }

  fetch = async (url: string, init?: RequestInit): Promise<Response> => {
    if (this.unplugged) throw new TypeError('fetch failed');
    if (init?.method === 'POST') this.bodies.push(String(init.body));
    if (this.ill && init?.method === 'POST')
      return new Response(JSON.stringify({ error: this.ill.error }), { status: this.ill.status });
    const { status, body } = this.answer(url, init);
    if (this.loseAnswer && init?.method) {
      this.loseAnswer = false;
      throw new TypeError('fetch failed');
    }
    return new Response(JSON.stringify(body), { status });
  };
}

let server: FakeServer;
let listeners: StandIns['listeners'];
const news = (event: { data: string }) => listeners.forEach((hear) => hear(event));
let doc: EaselDocument;
let store: StandIns['stored'];

const open = () => openDocument(server.open(), smallTemplate());
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
    expect(leftUnsent('one', person())).toEqual([]);
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
    news(server.news());
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
    expect(leftUnsent('one', person()).map((entry) => entry.label)).toEqual(['One', 'Two']);
    server.unplugged = false;
    doc = open();
    expect(of(doc.use.getState().livery, 'a')).toBe(50);
    await settle();
    expect(server.log.map((entry) => entry.label)).toEqual(['One', 'Two']);
    expect(leftUnsent('one', person())).toEqual([]);
  });

  test('what was taken in before the window closed is not sent again', async () => {
    server.loseAnswer = true;
    doc.commit(opacity('a', 40), 'One');
    await vi.advanceTimersByTimeAsync(200);
    doc.close();
    doc = open();
    await settle();
    expect(server.log).toHaveLength(1);
    expect(leftUnsent('one', person())).toEqual([]);
  });

  test('tries again after longer and longer pauses, and says so', async () => {
    server.ill = { status: 503, error: 'The disk is full: 12 MB free.' };
    doc.commit(opacity('a', 40), 'One');
    await vi.advanceTimersByTimeAsync(60_000);
    expect(server.bodies.length).toBeGreaterThan(3);
    expect(server.bodies.length).toBeLessThan(9);
    expect(doc.use.getState()).toMatchObject({
      saving: 'offline',
      trouble: 'The disk is full: 12 MB free.',
      setAside: [],
    });
    server.ill = null;
    await vi.advanceTimersByTimeAsync(60_000);
    expect(doc.use.getState()).toMatchObject({ saving: 'saved', trouble: null });
  });

  test('what another version left, and what is no JSON, is set aside and stays', () => {
    store.set('wet-lacquer/outbox/one/x', '{"order":1,"entry":{"id":"x","label":"Old"}}');
    store.set('wet-lacquer/outbox/one/y', 'not json');
    expect(leftUnsent('one', person())).toEqual([]);
    const aside = leftAside('one', person());
    expect(aside.map(({ id, label, entry }) => [id, label, entry])).toEqual([
      ['y', 'A step', null],
      ['x', 'Old', null],
    ]);
    expect(aside.map(({ raw }) => raw)).toEqual(['not json', { id: 'x', label: 'Old' }]);
    expect([...store.keys()].filter((key) => key.includes('outbox'))).toEqual([]);
  });
});

describe('what the server will never take', () => {
  test.each([400, 404, 413, 422])('answered %i is set aside at once, and the rest goes on', async (status) => {
    const fetch = server.fetch;
    server.fetch = async (url, init) => {
      const ill = init?.method === 'POST' && String(init.body).includes('Bad');
      return ill ? new Response(JSON.stringify({ error: 'Too much.' }), { status }) : fetch(url, init);
    };
    vi.stubGlobal('fetch', server.fetch);
    for (const [label, value] of [
      ['One', 10],
      ['Bad', 20],
      ['Two', 30],
    ] as const)
      doc.commit(opacity('a', value), label);
    await settle();
    expect(server.log.map(({ label }) => label)).toEqual(['One', 'Two']);
    expect(doc.use.getState()).toMatchObject({ saving: 'saved', setAside: [{ label: 'Bad', why: 'Too much.' }] });
    expect(of(doc.use.getState().livery, 'a')).toBe(30);
    // It is there after a reload, is sent no more, and goes when it is let go.
    doc.close();
    doc = open();
    await settle();
    const [aside] = doc.use.getState().setAside;
    expect(aside.label).toBe('Bad');
    expect(server.log.length).toBe(2);
    doc.settle(aside.id, null);
    expect(leftAside('one', person())).toEqual([]);
  });

  test('of a batch is found by halves', async () => {
    server.unplugged = true;
    for (let k = 0; k < 9; k++) doc.commit(opacity('a', k), k === 5 ? 'Bad' : `Step ${k}`);
    await settle();
    const fetch = server.fetch;
    vi.stubGlobal('fetch', async (url: string, init?: RequestInit) =>
      init?.method === 'POST' && String(init.body).includes('Bad')
        ? new Response(JSON.stringify({ error: 'This is larger than can be taken in.' }), { status: 413 })
        : fetch(url, init),
    );
    server.unplugged = false;
    await settle();
    expect(server.log.map(({ label }) => label)).toEqual([0, 1, 2, 3, 4, 6, 7, 8].map((k) => `Step ${k}`));
    expect(doc.use.getState().setAside.map(({ label }) => label)).toEqual(['Bad']);
  });

  test('that the server kept by mistake once is shown with the rest, and is let go there', async () => {
    doc.close();
    const entry = other(opacity('a', 3));
    doc = openDocument(server.open({ aside: [{ id: entry.id, entry, why: 'It was refused.' }] }), smallTemplate());
    const asked: string[] = [];
    vi.stubGlobal('fetch', async (url: string, init?: RequestInit) => {
      asked.push(`${init?.method} ${url}`);
      return server.fetch(url, init);
    });
    doc.settle(entry.id, entry.edit);
    expect(asked).toEqual([`DELETE /api/liveries/one/aside/${entry.id}`]);
    expect(of(doc.use.getState().livery, 'a')).toBe(3);
  });

  test('a step that still cannot be stays aside', async () => {
    server.take(other({ do: 'remove-layer', layer: LayerId.parse('a') }));
    doc.commit(opacity('a', 40), 'Mine');
    await settle();
    const [aside] = doc.use.getState().setAside;
    expect(() => doc.settle(aside.id, aside.entry!.edit)).toThrow(/no longer there/);
    expect(doc.use.getState().setAside).toEqual([aside]);
  });
});

describe('what is sent at once', () => {
  test('is bounded in steps and in size', async () => {
    server.unplugged = true;
    for (let k = 0; k < 450; k++) doc.commit(opacity('a', k % 100), 'Opacity');
    server.unplugged = false;
    await settle();
    const counts = server.bodies.map((body) => (JSON.parse(body) as { entries: unknown[] }).entries.length);
    expect(Math.max(...counts)).toBe(200);
    expect(server.log.length).toBe(450);
    server.bodies = [];
    server.unplugged = true;
    const name = 'x'.repeat(80);
    const layers = Array.from({ length: 250 }, (_, i) =>
      layerOf('solid', { id: `n${i}`, name, paint: { scheme: 'red' } }),
    );
    const add = layers.map((layer) => ({ do: 'add-layer', sheet: 'face', map: 'colour', layer, index: 0 }) as const);
    const remove = layers.map(({ id }) => ({ do: 'remove-layer', layer: id }) as const);
    for (let k = 0; k < 50; k++) doc.commit({ do: 'together', edits: [...add, ...remove] }, 'Many');
    server.unplugged = false;
    await settle();
    expect(server.bodies.length).toBeGreaterThan(1);
    expect(Math.max(...server.bodies.map(({ length }) => length))).toBeLessThan(2_300_000);
    expect(server.log.length).toBe(500);
  });

  test('another person’s leftovers in this browser are neither sent nor shown', async () => {
    server.unplugged = true;
    doc.commit(opacity('a', 40), 'Mine');
    await settle();
    doc.close();
    const first = person();
    store.set('wet-lacquer/person', 'another person');
    server.unplugged = false;
    doc = open();
    await settle();
    expect(of(doc.use.getState().livery, 'a')).toBe(100);
    expect(server.log).toEqual([]);
    doc.close();
    store.set('wet-lacquer/person', first);
    doc = open();
    await settle();
    expect(server.log.map(({ label }) => label)).toEqual(['Mine']);
  });

  test('a browser that has no room says how many steps are in this window alone', async () => {
    server.unplugged = true;
    const { localStorage: full } = globalThis;
    const put = full.setItem.bind(full);
    full.setItem = () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
    doc.commit(opacity('a', 40), 'One');
    expect(doc.use.getState().unkept).toBe(1);
    full.setItem = put;
    server.unplugged = false;
    await settle();
    expect(doc.use.getState()).toMatchObject({ saving: 'saved', unkept: 0 });
  });
});

describe('two windows', () => {
  test('news are fetched, and one’s own steps stay on top', async () => {
    server.take(other(opacity('b', 10)));
    news(server.news());
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

  test('news that ring while a post is under way are fetched afterwards', async () => {
    const fetch = server.fetch;
    let ring: (() => void) | null = null;
    vi.stubGlobal('fetch', async (url: string, init?: RequestInit) => {
      if (init?.method !== 'POST') return fetch(url, init);
      const answer = await fetch(url, init);
      ring?.();
      ring = null;
      return answer;
    });
    ring = () => {
      server.take(other(opacity('b', 10)));
      // Told of without what it is, while the answer is on its way.
      news({ data: JSON.stringify({ revision: server.log.length, entries: [] }) });
    };
    doc.commit(opacity('a', 40), 'Mine');
    await settle();
    expect(of(doc.use.getState().livery, 'b')).toBe(10);
    expect(doc.use.getState().revision).toBe(2);
  });

  test('a livery that was taken back to an earlier state is opened anew, with the steps on their way on top', async () => {
    for (const value of [10, 20, 30]) server.take(other(opacity('b', value)));
    doc.close();
    doc = open();
    server.log = server.log.slice(0, 1);
    server.livery = smallLivery([
      layerOf('solid', { id: 'a', paint: { scheme: 'red' } }),
      layerOf('solid', { id: 'b', paint: { scheme: 'blue' }, opacity: 10 }),
    ]);
    const fetch = server.fetch;
    vi.stubGlobal('fetch', async (url: string, init?: RequestInit) =>
      init?.method === 'POST' && (JSON.parse(String(init.body)) as { base: number }).base > server.log.length
        ? new Response(JSON.stringify({ error: 'Taken back.' }), { status: 409 })
        : fetch(url, init),
    );
    doc.commit(opacity('a', 40), 'Mine');
    await settle();
    expect([of(doc.use.getState().livery, 'a'), of(doc.use.getState().livery, 'b')]).toEqual([40, 10]);
    expect(doc.use.getState()).toMatchObject({ revision: 2, saving: 'saved' });
  });

  test('a step whose layer is gone is set aside, and can be put on another', async () => {
    server.take(other({ do: 'remove-layer', layer: LayerId.parse('a') }));
    doc.commit(opacity('a', 40), 'Mine');
    await settle();
    const [aside] = doc.use.getState().setAside;
    expect(aside.why).toMatch(/no longer there/);
    expect(layersOf(doc.use.getState().livery, 'face').map((layer) => layer.id)).toEqual(['b']);
    doc.settle(aside.id, { ...aside.entry!.edit, layer: LayerId.parse('b') } as Edit);
    await settle();
    expect(of(server.livery, 'b')).toBe(40);
    expect(doc.use.getState().setAside).toEqual([]);
  });

  test('one can also be let go', async () => {
    server.take(other({ do: 'remove-layer', layer: LayerId.parse('a') }));
    doc.commit(opacity('a', 40), 'Mine');
    await settle();
    doc.settle(doc.use.getState().setAside[0].id, null);
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
    news(server.news());
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
    expect(leftUnsent('one', person())).toEqual([]);
  });

  test('leftovers on a long log keep their true inverse', async () => {
    for (let k = 0; k < 80; k++) server.take(other(opacity('b', k)));
    keepUnsent('one', { ...other(opacity('a', 40)), person: person() }, 1);
    doc.close();
    doc = open();
    doc.undo();
    await settle();
    expect(of(server.livery, 'a')).toBe(100);
    expect(of(doc.use.getState().livery, 'a')).toBe(100);
    expect(doc.use.getState()).toMatchObject({ canUndo: false, canRedo: true });
  });

  test('a page that is left open for a day of others’ work holds only the end of it', async () => {
    doc.commit(opacity('a', 40), 'Mine');
    await settle();
    for (let k = 0; k < 20_000; k++) {
      server.take(other(opacity('b', k % 100)));
      if (k % 50 === 49) news(server.news(server.log.length - 50));
    }
    const { steps, earlier, canUndo } = doc.use.getState();
    expect([steps.length + earlier, canUndo]).toEqual([20_001, true]);
    expect(steps.length).toBeLessThanOrEqual(2000);
    doc.undo();
    await settle();
    expect(of(server.livery, 'a')).toBe(100);
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
