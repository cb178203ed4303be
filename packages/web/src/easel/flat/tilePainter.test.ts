import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { layerOf, smallLivery } from '@wet-lacquer/core/testing/scenes.ts';
import type { TileAsk } from '../../workers/messages.ts';
import { DRAFT } from '../../workers/messages.ts';
import type { RenderClient } from '../../workers/renderClient.ts';
import { TilePainter } from './tilePainter.ts';

/** A worker that answers when it is told to. */
class FakeClient {
  count = 1;
  /** Milliseconds that a tile takes. */
  took = 1;
  isDrawn = false;
  sayDrawn = () => (this.isDrawn = true);
  open: { name: string; ask: TileAsk; answer(value: unknown): void; fail(error: Error): void }[] = [];
  /** What of the model is still to come, and who is told when it is here. */
  waiting: RenderClient['waiting'] = null;
  told = () => {};
  onWaiting = (told: () => void) => {
    this.told = told;
    return () => (this.told = () => {});
  };
  /** What the tiles show: the key of every tile begins with it. */
  content = 'one';

  ask = (name: string, ask: unknown): Promise<never> =>
    new Promise((resolve, reject) =>
      this.open.push({ name, ask: ask as TileAsk, answer: resolve as (value: unknown) => void, fail: reject }),
    );

  get tiles(): TileAsk[] {
    return this.open.filter((w) => w.name === 'tile').map((w) => w.ask);
  }

  /** Answers what waits now. */
  async answerAll(): Promise<TileAsk[]> {
    const now = this.open.splice(0);
    for (const { name, ask, answer } of now) {
      if (name !== 'tile') answer(null);
      else {
        const exact = `${this.content} ${ask.tx},${ask.ty}`;
        const key = ask.draft && ask.level > 0 ? exact + DRAFT : exact;
        const same = ask.known === key || ask.known === exact;
        const pixels = same ? null : new Uint8ClampedArray(256 * 256 * 4);
        answer({ key: same ? ask.known : key, pixels, took: this.took });
      }
    }
    await vi.advanceTimersByTimeAsync(1);
    return now.filter((w) => w.name === 'tile').map((w) => w.ask);
  }

  /** Answers until nothing waits. @returns all tiles that were asked for, in order */
  async run(): Promise<TileAsk[]> {
    const all: TileAsk[] = [];
    for (let k = 0; k < 400 && this.open.length > 0; k++) all.push(...(await this.answerAll()));
    return all;
  }
}

const sheet = { key: 'hull', width: 2048, height: 2048 };
const view = (zoom: number, rest: object = {}) => ({ zoom, x: 1024, y: 1024, width: 512, height: 512, ...rest });
const livery = smallLivery([layerOf('solid', { id: 'a', paint: { scheme: 'red' } })]);
let client: FakeClient;
let painter: TilePainter;
let drawn: number;
let troubles: (string | null)[];

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal('devicePixelRatio', 1);
  vi.stubGlobal('requestAnimationFrame', (work: () => void) => setTimeout(work, 0));
  vi.stubGlobal('cancelAnimationFrame', clearTimeout);
  const ctx = new Proxy(
    {},
    {
      get: (_t, name) =>
        name === 'drawImage'
          ? () => drawn++
          : name === 'createPattern'
            ? () => ({ setTransform() {} })
            : () => undefined,
      set: () => true,
    },
  );
  vi.stubGlobal(
    'OffscreenCanvas',
    class {
      getContext = () => ctx;
    },
  );
  vi.stubGlobal(
    'ImageData',
    class {
      constructor(readonly data: Uint8ClampedArray) {}
    },
  );
  client = new FakeClient();
  drawn = 0;
  troubles = [];
  painter = new TilePainter(
    { width: 0, height: 0, getContext: () => ctx } as unknown as HTMLCanvasElement,
    client as unknown as RenderClient,
    (why) => troubles.push(why),
  );
});
afterEach(() => {
  painter.close();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const looks = (surround: 'black' | 'grey' | 'white') => ({
  map: 'colour',
  channel: 'all' as const,
  under: 'checker' as const,
  surround,
});

describe('the tiles of the flat view', () => {
  test('at 1:1 only what is in view is asked for, exactly, nearest to the middle first, two at a time', async () => {
    painter.look(view(1, { x: 1000, y: 1000 }), [{ sheet, left: 0, top: 0 }], looks('grey'));
    painter.show(livery, null);
    expect(client.tiles.length).toBe(2);
    const asked = await client.run();
    expect(asked.every((tile) => tile.level === 0 && !tile.draft)).toBe(true);
    // From texel 744 to 1256: tiles 2 to 4 in both directions.
    expect(asked.map((t) => `${t.tx},${t.ty}`).sort()).toEqual([
      '2,2',
      '2,3',
      '2,4',
      '3,2',
      '3,3',
      '3,4',
      '4,2',
      '4,3',
      '4,4',
    ]);
    expect([asked[0].tx, asked[0].ty]).toEqual([3, 3]);
  });

  test('zoomed out, first drafts of everything, then, when all is still, each exactly', async () => {
    painter.look(view(0.25), [{ sheet, left: 0, top: 0 }], looks('grey'));
    painter.show(livery, null);
    const first = await client.answerAll();
    expect(client.isDrawn).toBe(false);
    first.push(...(await client.run()));
    // The first picture is there: what waits for it need not wait for the exact one.
    expect(client.isDrawn).toBe(true);
    expect(first.map((t) => t.draft)).toEqual([true, true, true, true]);
    expect(first.every((t) => t.level === 2)).toBe(true);
    await vi.advanceTimersByTimeAsync(400);
    const then = await client.run();
    expect(then.map((t) => t.draft)).toEqual([false, false, false, false]);
    await vi.advanceTimersByTimeAsync(400);
    expect(client.open).toEqual([]);
  });

  test('a change that does not touch a tile costs a question and no drawing', async () => {
    painter.look(view(1), [{ sheet, left: 0, top: 0 }], looks('grey'));
    painter.show(livery, null);
    await client.run();
    await vi.advanceTimersByTimeAsync(50);
    const before = drawn;
    painter.show({ ...livery }, null);
    const asked = await client.run();
    expect(asked.length).toBeGreaterThan(0);
    expect(asked.every((tile) => tile.known !== null)).toBe(true);
    await vi.advanceTimersByTimeAsync(50);
    expect(drawn).toBe(before);
  });

  test('when what was missing of the model is there, all in view is asked for again, and not before', async () => {
    painter.look(view(1), [{ sheet, left: 0, top: 0 }], looks('grey'));
    painter.show(livery, null);
    await client.run();
    client.waiting = { fields: ['hollows'], fault: null };
    client.told();
    expect(client.open).toEqual([]);
    client.waiting = null;
    client.content = 'whole';
    client.told();
    const asked = await client.run();
    expect(asked.length).toBeGreaterThan(0);
    expect(client.open).toEqual([]);
  });

  test('of changes that come quickly the first is drawn whole, then the last', async () => {
    painter.look(view(1, { x: 1000, y: 1000 }), [{ sheet, left: 0, top: 0 }], looks('grey'));
    for (let k = 0; k < 9; k++) painter.show({ ...livery, particulars: { name: String(k) } }, 'a');
    const asked: (string | undefined)[] = [];
    for (let k = 0; k < 40 && client.open.length > 0; k++) {
      for (const { name, ask } of client.open)
        asked.push(name === 'livery' ? (ask as unknown as { livery: Livery }).livery.particulars.name : name);
      await client.answerAll();
    }
    const tiles = new Array<string>(9).fill('tile');
    expect(asked).toEqual(['0', ...tiles, '8', ...tiles]);
  });

  test('a picture that takes long gives way to the next', async () => {
    painter.look(view(1, { x: 1000, y: 1000 }), [{ sheet, left: 0, top: 0 }], looks('grey'));
    painter.show(livery, 'a');
    await client.answerAll();
    painter.show({ ...livery }, 'a');
    await vi.advanceTimersByTimeAsync(160);
    await client.answerAll();
    expect(client.open.map(({ name }) => name)).toContain('livery');
  });

  test('while things move, a view that takes long is drawn more coarsely, and finely again when all is still', async () => {
    painter.look(view(0.25), [{ sheet, left: 0, top: 0 }], looks('grey'));
    client.took = 40;
    const slowly = async () => {
      painter.show({ ...livery }, 'a');
      const levels: number[] = [];
      while (client.open.length > 0) {
        levels.push(...(await client.answerAll()).map(({ level }) => level));
      }
      return [...new Set(levels)];
    };
    expect(await slowly()).toEqual([2]);
    expect(await slowly()).toEqual([3]);
    await vi.advanceTimersByTimeAsync(400);
    const still = await client.run();
    expect([...new Set(still.map(({ level, draft }) => `${level} ${draft}`))]).toEqual(['2 true', '2 false']);
  });

  test('coarse tiles that show again what they showed before finer ones came are painted over these', async () => {
    painter.look(view(0.25), [{ sheet, left: 0, top: 0 }], looks('grey'));
    const show = async (content: string, took: number) => {
      Object.assign(client, { content, took });
      painter.show({ ...livery }, 'a');
      return client.run();
    };
    const settled = async () => {
      await vi.advanceTimersByTimeAsync(400);
      await client.run();
    };
    await show('one', 100);
    // The view took long: coarser, and, because that is quick, finer again.
    expect((await show('two', 1)).map(({ level }) => level)).toEqual([3]);
    expect((await show('three', 100)).map(({ level }) => level)).toEqual([2, 2, 2, 2]);
    const before = drawn;
    expect((await show('two', 1)).map(({ level }) => level)).toEqual([3]);
    await vi.advanceTimersByTimeAsync(1);
    // The coarse tile had it already, but the canvas showed the finer ones of "three".
    expect(drawn).toBeGreaterThan(before);
    const coarse = drawn;
    await settled();
    expect(drawn).toBeGreaterThan(coarse);
  });

  test('what comes into view while things move is painted when all of it is there', async () => {
    painter.look(view(1), [{ sheet, left: 0, top: 0 }], looks('grey'));
    painter.show(livery, null);
    await client.run();
    painter.look(view(1, { x: 1024 + 256 }), [{ sheet, left: 0, top: 0 }], looks('grey'));
    await vi.advanceTimersByTimeAsync(1);
    const before = drawn;
    await client.run();
    await vi.advanceTimersByTimeAsync(1);
    // All nine tiles, and not before the last of them has come.
    expect(drawn - before).toBeGreaterThanOrEqual(9);
    expect(drawn - before).toBeLessThan(27);
  });

  test('several renderers are asked for two tiles each', () => {
    client.count = 3;
    painter.look(view(0.5), [{ sheet, left: 0, top: 0 }], looks('grey'));
    painter.show(livery, null);
    expect(client.tiles.length).toBe(6);
  });

  test('moving the view asks only for what comes into it', async () => {
    painter.look(view(1), [{ sheet, left: 0, top: 0 }], looks('grey'));
    painter.show(livery, null);
    await client.run();
    painter.look(view(1, { x: 1024 + 256 }), [{ sheet, left: 0, top: 0 }], looks('grey'));
    const asked = await client.run();
    expect(new Set(asked.map((t) => t.tx))).toEqual(new Set([6]));
  });

  test('the edge of the sheet bounds what is asked for', async () => {
    painter.look(view(1, { x: 0, y: 0 }), [{ sheet, left: 0, top: 0 }], looks('grey'));
    painter.show(livery, null);
    const asked = await client.run();
    expect(asked.map((t) => `${t.tx},${t.ty}`).sort()).toEqual(['0,0', '0,1', '1,0', '1,1']);
  });

  test('a livery that cannot be loaded says why, and the next one clears it', async () => {
    painter.look(view(1), [{ sheet, left: 0, top: 0 }], looks('grey'));
    painter.show(livery, null);
    client.open.splice(0).forEach((w) => w.fail(new Error('The decal is missing.')));
    await vi.advanceTimersByTimeAsync(1);
    expect(troubles.at(-1)).toBe('The decal is missing.');
    painter.show({ ...livery }, null);
    await client.run();
    expect(troubles.at(-1)).toBeNull();
  });

  test('a livery that is drawn does not take away what others said', async () => {
    painter.look(view(1), [{ sheet, left: 0, top: 0 }], looks('grey'));
    painter.show(livery, null);
    await client.run();
    expect(troubles).toEqual([]);
  });

  test('a tile that cannot be drawn is asked for again after a while, not at once', async () => {
    painter.look(view(1, { x: 0, y: 0 }), [{ sheet, left: 0, top: 0 }], looks('grey'));
    painter.show(livery, null);
    for (let k = 0; k < 5; k++) {
      client.open.splice(0).forEach((w) => (w.name === 'tile' ? w.fail(new Error('Lost.')) : w.answer(null)));
      await vi.advanceTimersByTimeAsync(1);
    }
    expect(client.open).toEqual([]);
    await vi.advanceTimersByTimeAsync(2500);
    expect((await client.run()).length).toBe(4);
  });

  test('closed, it asks for nothing more', async () => {
    painter.look(view(1), [{ sheet, left: 0, top: 0 }], looks('grey'));
    painter.show(livery, null);
    painter.close();
    await client.answerAll();
    expect(client.open).toEqual([]);
  });
});
