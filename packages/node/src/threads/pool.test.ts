/** Threads with work that does not end: it is ended, says why, and the next one is drawn. */
import { afterAll, describe, expect, test } from 'vitest';
import { Pool, TooMuch } from './pool.ts';

const thread = new URL('../../../server/dist/thread.js', import.meta.url);
const pool = new Pool(2, thread, 4);
afterAll(() => pool.close());

/** Passes what is reckoned beforehand, and takes a quarter of a minute at this side. */
const rects = '<rect width="100" height="100"/>'.repeat(20_000);
const bytes = new TextEncoder().encode(
  `<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100">${rects}</svg>`,
);
const forever = (signal?: AbortSignal) => pool.run('decalThumb', { bytes, side: 4096 }, signal);
const until = async (is: () => boolean) => {
  while (!is()) await new Promise((resolve) => setTimeout(resolve, 20));
};

describe('a task', () => {
  test('that takes too long is ended with its thread, and others go on', async () => {
    const began = performance.now();
    const stuck = [forever(), forever(), forever()];
    await Promise.all(
      stuck.map(async (one) => {
        await expect(one).rejects.toThrow(TooMuch);
        await expect(one).rejects.toThrow(/more than 4 seconds/);
      }),
    );
    // Waiting for a thread does not count: the third had its own time.
    expect(performance.now() - began).toBeLessThan(40_000);
    expect(await pool.run('draws', {})).toBe(true);
    expect(pool.health()).toMatchObject({ threads: 2, busy: 0, waiting: 0, ended: 3 });
  });

  test('whose asker has left is ended, also while it waits', async () => {
    const leave = new AbortController();
    const asked = [forever(leave.signal), forever(leave.signal), forever(leave.signal)];
    const ended = Promise.allSettled(asked);
    await until(() => pool.health().busy === 2);
    expect(pool.health().waiting).toBe(1);
    leave.abort();
    for (const { status } of await ended) expect(status).toBe('rejected');
    expect(pool.health()).toMatchObject({ busy: 0, waiting: 0 });
    expect(await pool.run('draws', {})).toBe(true);
  });

  test('that the input is to blame for says so, and its thread lives on', async () => {
    await expect(pool.run('importDecal', { bytes })).rejects.toThrow(/more than 4 seconds|to draw at 512 pixels/);
    await expect(pool.run('importDecal', { bytes: Uint8Array.of(1, 2, 3) })).rejects.toThrow(/not a picture/);
  });
});
