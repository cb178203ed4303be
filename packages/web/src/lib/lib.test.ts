import { afterEach, describe, expect, test, vi } from 'vitest';
import { ApiError, get, send, sendFile, sentenceOf } from './api.ts';
import { perFrame } from './perFrame.ts';
import { count, size, dateInWords } from './words.ts';

afterEach(() => vi.unstubAllGlobals());

describe('the server’s answers', () => {
  const answering = (status: number, body: string) => {
    const asked: [string, RequestInit | undefined][] = [];
    vi.stubGlobal('fetch', async (url: string, init?: RequestInit) => {
      asked.push([url, init]);
      return new Response(status === 204 ? null : body, { status });
    });
    return asked;
  };

  test('come as JSON from under /api', async () => {
    const asked = answering(200, '{"a":1}');
    expect(await get('/liveries')).toEqual({ a: 1 });
    expect(asked[0][0]).toBe('/api/liveries');
  });

  test('carry the server’s own sentence when something is wrong', async () => {
    answering(400, '{"error":"This picture is damaged."}');
    await expect(get('/x')).rejects.toMatchObject({ message: 'This picture is damaged.', status: 400 });
    answering(502, '<html>');
    await expect(get('/x')).rejects.toMatchObject({ message: 'The server answered 502.', status: 502 });
  });

  test('that do not come are told apart from refusals: status 0', async () => {
    vi.stubGlobal('fetch', async () => {
      throw new TypeError('network');
    });
    const error = await get('/x').catch((e: unknown) => e);
    expect(error).toBeInstanceOf(ApiError);
    expect(error).toMatchObject({ status: 0, message: expect.stringMatching(/does not answer/) });
  });

  test('bodies go as JSON, files as they are, and nothing may come back', async () => {
    let asked = answering(204, '');
    expect(await send('DELETE', '/x')).toBeNull();
    expect(asked[0][1]).toMatchObject({ method: 'DELETE', body: undefined });
    asked = answering(200, '{}');
    await send('POST', '/x', { a: 1 });
    expect(asked[0][1]).toMatchObject({ body: '{"a":1}', headers: { 'Content-Type': 'application/json' } });
    const file = new Blob(['x']);
    await sendFile('/y', file);
    expect(asked[1][1]?.body).toBe(file);
  });

  test('any error has a sentence', () => {
    expect([sentenceOf(new Error('a')), sentenceOf('b')]).toEqual(['a', 'b']);
  });
});

describe('words', () => {
  test('sizes, counts and times read as people write them', () => {
    expect([612, 2048, 5592580].map(size)).toEqual(['612 B', '2.0 KiB', '5.3 MiB']);
    expect([count(1, 'file'), count(4, 'file'), count(2, 'box', 'boxes')]).toEqual(['1 file', '4 files', '2 boxes']);
    const today = new Date();
    today.setHours(9, 5);
    expect(dateInWords(today.toISOString())).toBe('today, 09:05');
    expect(dateInWords('2020-03-04T12:00:00')).toBe('4 Mar, 12:00');
  });
});

describe('what is done once a frame', () => {
  test('is done with the newest value, and not at all when it is dropped', () => {
    const frames: (() => void)[] = [];
    vi.stubGlobal('requestAnimationFrame', (run: () => void) => frames.push(run));
    vi.stubGlobal('cancelAnimationFrame', (n: number) => (frames[n - 1] = () => {}));
    const done: number[] = [];
    const shown = perFrame((value: number) => done.push(value));
    const nextFrame = () => frames.splice(0).forEach((run) => run());
    for (const value of [1, 2, 3]) shown.next(value);
    expect(done).toEqual([]);
    nextFrame();
    expect(done).toEqual([3]);
    shown.next(4);
    shown.drop();
    nextFrame();
    shown.next(5);
    nextFrame();
    expect(done).toEqual([3, 5]);
  });

  test('is done at once where there are no frames', () => {
    const done: number[] = [];
    perFrame((value: number) => done.push(value)).next(7);
    expect(done).toEqual([7]);
  });
});
