/** What no way in takes: other hosts, addresses and documents that no store can hold, numbers out of range, names of the language itself. */
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { request } from 'node:http';
import { startServer, type TestServer } from '../testing/server.ts';

let server: TestServer;
let id: string;
beforeAll(async () => {
  server = await startServer({ demo: true });
  [{ id }] = await server.get<{ id: string }[]>('/liveries');
});
afterAll(() => server.stop());

const ask = (path: string, init?: RequestInit) => fetch(`${server.url}/api${path}`, init);
const post = (path: string, body: string, type = 'application/json') =>
  ask(path, { method: 'POST', headers: { 'Content-Type': type }, body });

/** With headers that fetch does not let through. */
const raw = (path: string, headers: Record<string, string>) =>
  new Promise<number>((resolve, reject) => {
    const { hostname, port } = new URL(server.url);
    request({ hostname, port, path, headers }, (res) => {
      res.resume();
      resolve(res.statusCode!);
    })
      .on('error', reject)
      .end();
  });

test.each(['/', '/liveries/x', '/api/health', '/assets/x.js'])(
  '%s is served under its own name alone',
  async (path) => {
    expect(await raw(path, { Host: 'evil.example' })).toBe(403);
    expect(await raw(path, { Host: 'localhost.evil.example:80' })).toBe(403);
    expect(await raw(path, { Host: 'localhost' })).not.toBe(403);
  },
);

test('the page may load nothing from elsewhere', async () => {
  const policy = (await fetch(server.url)).headers.get('content-security-policy')!;
  expect(policy).not.toMatch(/https?:|\*/);
  for (const kind of ['default-src', 'style-src', 'font-src', 'script-src', 'connect-src', 'frame-ancestors'])
    expect(policy).toMatch(new RegExp(`${kind} 'self'`));
});

describe('answered 400 or 404 in one sentence, and the server lives on', () => {
  const entry = (edit: unknown, more: object = {}) => ({
    ...{ id: 'e', person: 'p', edit, undoes: null, redoes: null, label: 'x', ...more },
  });
  const posted = (edit: unknown, more?: object) => JSON.stringify({ base: 0, entries: [entry(edit, more)] });
  const lone = JSON.stringify({ base: 0, entries: [entry({ do: 'set-particular', key: 'number', value: 'X' })] });
  test.each<[string, () => Promise<Response>]>([
    ['a revision beyond what can be counted', () => ask(`/liveries/${id}/entries?after=99999999999`)],
    ['a revision that is none', () => ask(`/liveries/${id}/at/1e3`)],
    ['a revision below nothing', () => ask(`/liveries/${id}/at/-1`)],
    ['a picture of a revision far away', () => ask(`/liveries/${id}/picture/4294967296`)],
    [
      'a base that is too large',
      () => post(`/liveries/${id}/entries`, JSON.stringify({ base: 2 ** 40, entries: [1] })),
    ],
    ['an encoding that is none', () => ask('/liveries/%E0%A4%A')],
    ['a character 0 in the address', () => ask(`/blobs/${'a'.repeat(63)}%00`)],
    ['a character 0 in the question', () => ask(`/intakes/${id}/files?name=a%00b`, { method: 'POST', body: 'x' })],
    ['a character 0 in a text', () => post(`/liveries/${id}/entries`, lone.replace('"X"', '"\\u0000"'))],
    ['half a character', () => post(`/liveries/${id}/entries`, lone.replace('"X"', '"\\ud83d"'))],
    ['__proto__', () => post(`/liveries/${id}/entries`, lone.replace('"key":"number"', '"__proto__":{"a":1}'))],
    ['constructor as a key', () => post('/liveries', '{"template":"x","name":"y","constructor":{}}')],
    [
      'a particular that every object has',
      () => post(`/liveries/${id}/entries`, posted({ do: 'set-particular', key: 'constructor', value: 'x' })),
    ],
    ['a spec of that name', () => ask('/specs/constructor')],
    ['a layered file of that name', () => ask(`/liveries/${id}/sheets/__proto__/layered/psd`)],
    ['nested a thousand deep', () => post('/liveries', '['.repeat(1000) + ']'.repeat(1000))],
    ['no JSON', () => post('/liveries', '{"a')],
    [
      'a hundred thousand entries',
      () =>
        post(`/liveries/${id}/entries`, JSON.stringify({ base: 0, entries: Array.from({ length: 100_000 }, () => 1) })),
    ],
    [
      'a name of 81 characters',
      () => post('/liveries', JSON.stringify({ template: 'a'.repeat(64), name: 'ä'.repeat(81) })),
    ],
  ])('%s', async (_name, act) => {
    const response = await act();
    expect([400, 404, 413, 422]).toContain(response.status);
    const { error, why } = (await response.json()) as { error?: string; why?: string };
    expect(error ?? why).toMatch(/^[^\n]{5,300}\.$/);
    expect(await server.get('/health')).toMatchObject({ ok: true });
  });
});

test('a drawing that never ends is given up, and drawing goes on', async () => {
  const rect = '<rect width="100" height="100"/>';
  const head = '<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100">';
  const heavy = [
    `${head}<filter id="f" x="-10" y="-10" width="20" height="20"><feGaussianBlur stdDeviation="9"/></filter>${rect.replace('/>', ' filter="url(#f)"/>')}</svg>`,
    `${head}<pattern id="p" width="1" height="1" patternUnits="userSpaceOnUse">${rect}</pattern>${rect.replace('/>', ' fill="url(#p)"/>').repeat(2000)}</svg>`,
    `${head}${rect.repeat(40_000)}</svg>`,
  ];
  const began = performance.now();
  const answers = await Promise.all([...heavy, ...heavy].map((body) => post('/decals?name=x', body, 'image/svg+xml')));
  for (const answer of answers)
    expect([answer.status, ((await answer.json()) as { error: string }).error]).toEqual([
      400,
      expect.stringMatching(/drawing|seconds/),
    ]);
  expect(performance.now() - began).toBeLessThan(60_000);
  expect(await server.get('/health')).toMatchObject({ ok: true, threads: { busy: 0, waiting: 0 } });
});

test('who leaves ends what was begun for them', async () => {
  const head = '<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100">';
  const slow = `${head}${'<rect width="100" height="100"/>'.repeat(55_000)}</svg>`;
  const leave = new AbortController();
  const asked = [1, 2, 3].map(() =>
    ask('/decals?name=x', { method: 'POST', body: slow, signal: leave.signal }).catch(() => null),
  );
  await new Promise((resolve) => setTimeout(resolve, 600));
  leave.abort();
  await Promise.all(asked);
  const began = performance.now();
  expect(await server.get('/health')).toMatchObject({ ok: true });
  expect(performance.now() - began).toBeLessThan(15_000);
});
