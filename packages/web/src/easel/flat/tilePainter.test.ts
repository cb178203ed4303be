import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { layerOf, smallLivery } from '@wet-lacquer/core/testing/scenes.ts';
import type { TileAsk } from '../../workers/messages.ts';
import { DRAFT } from '../../workers/messages.ts';
import type { RenderClient } from '../../workers/renderClient.ts';
import { TilePainter } from './tilePainter.ts';

/** A worker that answers when it is told to. */
class FakeClient {
  waiting: { name: string; ask: TileAsk; answer(value: unknown): void; fail(error: Error): void }[] = [];
  /** What the tiles show: the key of every tile begins with it. */
  content = 'one';

  ask = (name: string, ask: unknown): Promise<never> =>
    new Promise((resolve, reject) =>
      this.waiting.push({ name, ask: ask as TileAsk, answer: resolve as (value: unknown) => void, fail: reject }),
    );

  get tiles(): TileAsk[] {
    return this.waiting.filter((w) => w.name === 'tile').map((w) => w.ask);
  }

  /** Answers what waits now. */
  async answerAll(): Promise<TileAsk[]> {
    const now = this.waiting.splice(0);
    for (const { name, ask, answer } of now) {
      if (name !== 'tile') answer(null);
      else {
        const exact = `${this.content} ${ask.tx},${ask.ty}`;
        const key = ask.draft && ask.level > 0 ? exact + DRAFT : exact;
        const same = ask.known === key || ask.known === exact;
        answer({ key: same ? ask.known : key, pixels: same ? null : new Uint8ClampedArray(256 * 256 * 4) });
      }
    }
    await vi.advanceTimersByTimeAsync(1);
    return now.filter((w) => w.name === 'tile').map((w) => w.ask);
  }

  /** Answers until nothing waits. @returns all tiles that were asked for, in order */
  async run(): Promise<TileAsk[]> {
    const all: TileAsk[] = [];
    for (let k = 0; k < 400 && this.waiting.length > 0; k++) all.push(...(await this.answerAll()));
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
    await client.answerAll();
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
    const first = await client.run();
    expect(first.map((t) => t.draft)).toEqual([true, true, true, true]);
    expect(first.every((t) => t.level === 2)).toBe(true);
    await vi.advanceTimersByTimeAsync(400);
    const then = await client.run();
    expect(then.map((t) => t.draft)).toEqual([false, false, false, false]);
    await vi.advanceTimersByTimeAsync(400);
    expect(client.waiting).toEqual([]);
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

  test('of changes that come quickly only the last is sent', async () => {
    painter.look(view(1), [{ sheet, left: 0, top: 0 }], looks('grey'));
    for (let k = 0; k < 9; k++) painter.show({ ...livery }, 'a');
    const liveries = () => client.waiting.filter((w) => w.name === 'livery').length;
    expect(liveries()).toBe(1);
    await client.answerAll();
    expect(liveries()).toBe(1);
    await client.answerAll();
    expect(liveries()).toBe(0);
    expect(client.tiles.length).toBe(2);
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
    client.waiting.splice(0).forEach((w) => w.fail(new Error('The decal is missing.')));
    await vi.advanceTimersByTimeAsync(1);
    expect(troubles.at(-1)).toBe('The decal is missing.');
    client.waiting.length = 0;
    painter.show({ ...livery }, null);
    await client.answerAll();
    expect(troubles.at(-1)).toBeNull();
  });

  test('closed, it asks for nothing more', async () => {
    painter.look(view(1), [{ sheet, left: 0, top: 0 }], looks('grey'));
    painter.show(livery, null);
    painter.close();
    await client.answerAll();
    expect(client.waiting).toEqual([]);
  });
});
