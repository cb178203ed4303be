import { DEMO_LIVERIES } from '@wet-lacquer/core/testing/scenes.ts';
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { readFont } from '@wet-lacquer/core/shapes/font.ts';
import { SHIPPED_FONTS } from '@wet-lacquer/core/livery/fonts.ts';
import { until, startServer } from '../testing/server.ts';
import { readConfig } from './config.ts';
import { shippedFont } from '@wet-lacquer/node/fonts.ts';

const root = path.resolve(import.meta.dirname, '../../../..');

describe('settings', () => {
  const env = { DATABASE_URL: 'postgres://x@127.0.0.1/y' };

  test('are the address of this machine, port 4173, unless said otherwise', () => {
    expect(readConfig(env)).toMatchObject({ host: '127.0.0.1', port: 4173, databaseUrl: env.DATABASE_URL });
    expect(readConfig({ ...env, PORT: '5000', HOST: 'localhost', WET_LACQUER_DATA: '/tmp/wl' })).toMatchObject({
      host: 'localhost',
      port: 5000,
      data: '/tmp/wl',
    });
  });

  test('another host is refused without sign-in, with the reason', () => {
    for (const HOST of ['0.0.0.0', '192.168.1.9', '::'])
      expect(() => readConfig({ ...env, HOST })).toThrow(/without sign-in only this machine/);
    const { status, stderr } = spawnSync('node', ['packages/server/dist/main.js'], {
      cwd: root,
      encoding: 'utf8',
      env: { ...process.env, ...env, HOST: '0.0.0.0' },
    });
    expect(status).not.toBe(0);
    expect(stderr).toContain('HOST=0.0.0.0 is refused');
  });

  test('without a database it says what sets it', () => {
    expect(() => readConfig({})).toThrow(/DATABASE_URL is not set/);
  });
});

describe('shipped fonts', () => {
  test.each(SHIPPED_FONTS.map((font) => [font.key] as const))('%s is there and can be lettered with', async (key) => {
    const font = readFont(await shippedFont(key));
    const { contours, width } = font.outline('HO 7', 0, 0);
    expect(contours.length).toBeGreaterThan(3);
    expect(width).toBeGreaterThan(1);
  });
});

test('a port that is taken leads to the next free one, and both servers work on one database', async () => {
  const one = await startServer();
  const port = Number(new URL(one.url).port);
  const two = await startServer({ databaseUrl: one.databaseUrl, data: one.data, port });
  expect(new URL(two.url).port).toBe(String(port + 1));
  expect(await two.get('/health')).toMatchObject({ ok: true, troubles: [] });
  await two.stop();
  await one.stop();
});

test('asked to stop, it finishes what it is at, lets go of whoever only listens, and takes nothing new', async () => {
  const server = await startServer();
  const { body } = await server.post<{ id: string }>('/liveries/open');
  expect(body).toMatchObject({ error: expect.any(String) });
  // A drawing that takes a moment.
  const rects = '<rect width="100" height="100"/>'.repeat(5000);
  const drawing = fetch(`${server.url}/api/decals?name=slow`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: `<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100">${rects}</svg>`,
  });
  await until(
    () => server.get<{ busy: number }>('/health/threads'),
    ({ busy }) => busy > 0,
  );
  const began = Date.now();
  const stopped = server.stop();
  // It may be too much for it; that is an answer as well.
  expect([201, 400]).toContain((await drawing).status);
  await stopped;
  // It did not wait for its own end of patience.
  expect(Date.now() - began).toBeLessThan(9000);
  expect(server.process.exitCode).toBe(0);
  await expect(fetch(`${server.url}/api/health`)).rejects.toThrow();
});

test('the demo world is loaded once: what was deleted does not come back at the next start', async () => {
  const first = await startServer({ demo: true, fresh: true });
  const cards = await first.get<{ id: string }[]>('/liveries');
  expect(cards).toHaveLength(DEMO_LIVERIES.length);
  await fetch(`${first.url}/api/liveries/${cards[0].id}`, { method: 'DELETE' });
  await first.kill();
  const again = await startServer({ demo: true, databaseUrl: first.databaseUrl, data: first.data });
  await until(
    () => again.get<unknown[]>('/liveries'),
    (all) => all.length === DEMO_LIVERIES.length - 1,
    5000,
  );
  await again.stop();
});
