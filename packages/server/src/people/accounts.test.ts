/** Signing in: what lets somebody in, what does not, and what is left of it. */
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { hash, hashRaw } from '@node-rs/argon2';
import { argon2id } from '@noble/hashes/argon2.js';
import { randomBytes } from 'node:crypto';
import pg from 'pg';
import type { Account, Me } from '@wet-lacquer/sync/people.ts';
import { Client, firstToken, peopleOf } from '../testing/client.ts';
import { startServer, type TestServer } from '../testing/server.ts';
import { badPassword, codeOf, hashPassword, isCheap, isPassword, newCode } from './secrets.ts';

/** Hex bytes of a published vector. */
const hex = (text: string) => Buffer.from(text.replaceAll(' ', ''), 'hex');

describe('passwords', () => {
  test('Argon2id is that of RFC 9106, 5.3: a second implementation gives its tag, and ours gives what that one gives', async () => {
    // The vector has associated data, which ours cannot be given.
    const tag = argon2id(new Uint8Array(32).fill(1), new Uint8Array(16).fill(2), {
      ...{ t: 3, m: 32, p: 4, version: 0x13, dkLen: 32 },
      ...{ key: new Uint8Array(8).fill(3), personalization: new Uint8Array(12).fill(4) },
    });
    expect(Buffer.from(tag)).toEqual(
      hex('0d 64 0d f5 8d 78 76 6c 08 c0 37 a3 4a 8b 53 c9 d0 1e f0 45 2d 75 b6 5e b5 25 20 e9 6b 01 e6 59'),
    );
    for (const [m, t, p] of [
      [32, 3, 4],
      [8, 1, 1],
      [64, 2, 2],
      [256, 2, 1],
      [1024, 1, 3],
    ]) {
      const [password, salt, key] = [randomBytes(1 + m), randomBytes(16), randomBytes(8)];
      const ours = await hashRaw(password, {
        memoryCost: m,
        timeCost: t,
        parallelism: p,
        salt,
        secret: key,
        outputLen: 32,
      });
      expect(Buffer.from(argon2id(password, salt, { t, m, p, key, dkLen: 32 }))).toEqual(ours);
    }
  });

  test('are kept as OWASP’s Password Storage Cheat Sheet says: Argon2id, 19 MiB, two passes, one lane, a salt of their own', async () => {
    const [one, other] = await Promise.all([hashPassword('lamp oil and rope'), hashPassword('lamp oil and rope')]);
    expect(one).toMatch(/^\$argon2id\$v=19\$m=19456,(t=2,p=1|p=1,t=2)\$/);
    expect(one).not.toBe(other);
    expect(await isPassword(one, 'lamp oil and rope')).toBe(true);
    expect(await isPassword(one, 'Lamp oil and rope')).toBe(false);
    expect(await isPassword(null, 'lamp oil and rope')).toBe(false);
    expect(isCheap(one)).toBe(false);
    expect(isCheap(await hash('x', { memoryCost: 1024, timeCost: 2, parallelism: 1 }))).toBe(true);
  });

  test('the same keys are the same password however a keyboard writes them (NFKC)', async () => {
    expect(await isPassword(await hashPassword('caf\u00e9 by the water'), 'cafe\u0301 by the water')).toBe(true);
  });

  test.each([
    ['short', 'Ada'],
    ['aaaaaaaaaaaaaaaa', 'Ada'],
    ['Password1234', 'Ada'],
    ['qwerty123456', 'Ada'],
    ['fennel fennel fennel', 'Fennel'],
    ['x'.repeat(300), 'Ada'],
  ])('“%s” is refused', (password, name) => expect(badPassword(password, name)).toMatch(/\.$/));
  test.each(['lamp oil and rope', 'ошибка в тумане', '一二三四五六七八九十甲乙', 'tR8!vq-Zw0_pLx'])(
    '“%s” is taken',
    (password) => expect(badPassword(password, 'Ada')).toBeNull(),
  );

  test('codes are read as people type them', () => {
    const code = newCode();
    expect(code).toMatch(/^[0-9a-hjkmnp-tv-z]{4}(-[0-9a-hjkmnp-tv-z]{4}){3}$/);
    expect(codeOf(` ${code.toUpperCase().replaceAll('-', ' ').replaceAll('0', 'O').replaceAll('1', 'l')}`)).toBe(
      code.replaceAll('-', ''),
    );
  });
});

describe('with sign-in on', () => {
  let server: TestServer;
  let first: string;
  beforeAll(async () => {
    server = await startServer({ signIn: true });
    first = await firstToken(server);
  });
  afterAll(() => server.stop());
  const signedIn = async (client: Client) => (await client.ask<Me>('GET', '/me')).body.painter?.name ?? null;

  test('nobody gets anything before the first link is used; it makes a keeper, once', async () => {
    const client = new Client(server);
    expect((await client.ask<Me>('GET', '/me')).body).toEqual({
      signIn: true,
      painter: null,
      looks: null,
      empty: true,
      keys: true,
    });
    expect((await client.ask('GET', '/liveries')).status).toBe(401);
    const weak = await client.ask<{ error: string }>('POST', '/invitations/take', {
      token: first,
      name: 'Keeper',
      password: 'short',
    });
    expect([weak.status, weak.body.error]).toEqual([400, expect.stringContaining('at least 12')]);
    await client.join(first, 'Keeper');
    expect((await client.ask<Me>('GET', '/me')).body.painter).toMatchObject({ name: 'Keeper', keeper: true });
    const again = await new Client(server).ask('POST', '/invitations/take', {
      token: first,
      name: 'Other',
      password: 'lamp oil and rope',
    });
    expect(again.status).toBe(404);
  });

  test('an invitation makes a painter, is good once, can be taken back, and ends', async () => {
    const keeper = new Client(server);
    await keeper.ask('POST', '/sign-in', { name: 'KEEPER ', password: 'Keeper paints by lamp light' });
    expect(await signedIn(keeper)).toBe('Keeper');
    const token = async (note: string) =>
      (await keeper.ask<{ token: string }>('POST', '/invitations', { note })).body.token;
    const [one, two, old] = [await token('one'), await token('two'), await token('old')];
    const made = new Client(server);
    await made.join(one, 'Fennel');
    expect((await made.ask('GET', '/painters')).status).toBe(403);
    expect((await new Client(server).ask('POST', '/invitations/look', { token: one })).status).toBe(404);
    const same = await new Client(server).ask<{ error: string }>('POST', '/invitations/take', {
      ...{ token: two, name: ' FENNEL', password: 'lamp oil and rope' },
    });
    expect([same.status, same.body.error]).toEqual([409, expect.stringContaining('called that already')]);
    const list = (await keeper.ask<{ id: string; note: string }[]>('GET', '/invitations')).body;
    await keeper.ask('DELETE', `/invitations/${list.find(({ note }) => note === 'two')!.id}`);
    expect((await new Client(server).ask('POST', '/invitations/look', { token: two })).status).toBe(404);
    await sql(`update invitation set ends_at = now() - interval '1 second' where note = 'old'`);
    expect((await new Client(server).ask('POST', '/invitations/look', { token: old })).status).toBe(404);
  });

  const sql = async (text: string, values: unknown[] = []) => {
    const client = new pg.Client({ connectionString: server.databaseUrl });
    await client.connect();
    const { rows } = await client.query<Record<string, unknown>>(text, values);
    await client.end();
    return rows;
  };
  const fennel = async () => {
    const client = new Client(server, { 'User-Agent': 'Test browser' });
    await client.ask('POST', '/sign-in', { name: 'Fennel', password: 'Fennel paints by lamp light' });
    return client;
  };

  test('cookies are as OWASP’s Session Management Cheat Sheet wants them: Secure, HttpOnly, SameSite, of this host, and no secret is kept', async () => {
    const client = new Client(server);
    const { headers } = await client.ask('POST', '/sign-in', {
      name: 'Fennel',
      password: 'Fennel paints by lamp light',
    });
    const cookie = headers
      .getSetCookie()
      .find((line) => line.startsWith('__Host-wet-lacquer=') && !line.includes('1970'))!;
    for (const part of [/; HttpOnly/, /; Secure/, /; SameSite=Strict/, /; Path=\//]) expect(cookie).toMatch(part);
    expect(cookie).not.toMatch(/Domain/i);
    expect(headers.get('cache-control')).toBe('no-store');
    const [, token] = [...client.cookies][0];
    // 256 bits: at least 64 are asked for.
    expect(Buffer.from(token, 'base64url')).toHaveLength(32);
    const kept = JSON.stringify([
      await sql('select * from session'),
      await sql('select * from painter'),
      await sql('select * from invitation'),
    ]);
    expect(kept).not.toContain(token);
    expect(kept).not.toContain('paints by lamp light');
  });

  test('signing out ends this browser’s session on the server, and empties its cache', async () => {
    const client = await fennel();
    const before = new Map(client.cookies);
    const { headers } = await client.ask('POST', '/sign-out');
    expect(headers.get('clear-site-data')).toBe('"cache"');
    expect(client.cookies.size).toBe(0);
    for (const [name, value] of before) client.cookies.set(name, value);
    expect(await signedIn(client)).toBeNull();
  });

  test('browsers are listed and signed out one by one, or everywhere; a new password leaves only its own', async () => {
    const [one, two, three] = [await fennel(), await fennel(), await fennel()];
    const { sessions } = (await one.ask<Account>('GET', '/me/account')).body;
    expect(sessions.filter(({ here }) => here)).toHaveLength(1);
    expect(sessions[0].browser).toBe('Test browser');
    const own = async (client: Client) =>
      (await client.ask<Account>('GET', '/me/account')).body.sessions.find(({ here }) => here)!.id;
    await one.ask('DELETE', `/me/sessions/${await own(two)}`);
    expect([await signedIn(one), await signedIn(two), await signedIn(three)]).toEqual(['Fennel', null, 'Fennel']);
    const wrong = await one.ask('POST', '/me/password', { password: 'not this one at all', next: 'rope and lamp oil' });
    expect(wrong.status).toBe(403);
    expect(
      (await one.ask('POST', '/me/password', { password: 'Fennel paints by lamp light', next: 'rope and lamp oil' }))
        .status,
    ).toBe(204);
    expect([await signedIn(one), await signedIn(three)]).toEqual(['Fennel', null]);
    await one.ask('POST', '/me/password', { password: 'rope and lamp oil', next: 'Fennel paints by lamp light' });
    const four = await fennel();
    await one.ask('DELETE', '/me/sessions');
    expect([await signedIn(one), await signedIn(four)]).toEqual([null, null]);
  });

  test('a token is turned over once a day: the one before is good for a moment, then for nothing', async () => {
    const client = await fennel();
    const old = new Map(client.cookies);
    await sql(`update session set turned_at = now() - interval '25 hours'`);
    expect(await signedIn(client)).toBe('Fennel');
    expect([...client.cookies.values()]).not.toEqual([...old.values()]);
    const before = new Client(server);
    for (const [name, value] of old) before.cookies.set(name, value);
    expect(await signedIn(before)).toBe('Fennel');
    await sql(`update session set turned_at = now() - interval '2 minutes'`);
    expect([await signedIn(before), await signedIn(client)]).toEqual([null, 'Fennel']);
    await sql(`update session set used_at = now() - interval '15 days'`);
    expect(await signedIn(client)).toBeNull();
  });

  test('codes that were written down let in once each; new ones take the place of the old', async () => {
    const client = await fennel();
    expect((await client.ask('POST', '/me/codes', { password: 'wrong' })).status).toBe(403);
    const made = async () =>
      (await client.ask<{ codes: string[] }>('POST', '/me/codes', { password: 'Fennel paints by lamp light' })).body
        .codes;
    const old = await made();
    const codes = await made();
    expect(new Set(codes).size).toBe(10);
    const by = async (code: string) => {
      const other = new Client(server);
      await other.ask('POST', '/sign-in/code', { name: 'fennel', code });
      return signedIn(other);
    };
    expect([await by(old[0]), await by(codes[0].toUpperCase()), await by(codes[0])]).toEqual([null, 'Fennel', null]);
    expect((await client.ask<Account>('GET', '/me/account')).body.codes).toBe(9);
  });

  test('an account is closed and opened by a keeper; the last keeper stays one', async () => {
    const { keeper, ...rest } = { keeper: new Client(server) };
    expect(rest).toEqual({});
    await keeper.ask('POST', '/sign-in', { name: 'Keeper', password: 'Keeper paints by lamp light' });
    const all = (await keeper.ask<{ id: string; name: string }[]>('GET', '/painters')).body;
    const idOf = (name: string) => all.find((one) => one.name === name)!.id;
    const client = await fennel();
    await keeper.ask('POST', `/painters/${idOf('Fennel')}`, { closed: true });
    expect([await signedIn(client), await signedIn(await fennel())]).toEqual([null, null]);
    await keeper.ask('POST', `/painters/${idOf('Fennel')}`, { closed: false });
    expect(await signedIn(await fennel())).toBe('Fennel');
    const last = await keeper.ask<{ error: string }>('POST', `/painters/${idOf('Keeper')}`, { keeper: false });
    expect([last.status, last.body.error]).toEqual([400, expect.stringContaining('another keeper')]);
  });

  test('a link back in sets a new password, and signs out whoever was in', async () => {
    const keeper = new Client(server);
    await keeper.ask('POST', '/sign-in', { name: 'Keeper', password: 'Keeper paints by lamp light' });
    const all = (await keeper.ask<{ id: string; name: string }[]>('GET', '/painters')).body;
    const client = await fennel();
    const { body } = await keeper.ask<{ token: string }>('POST', '/invitations', {
      painter: all.find(({ name }) => name === 'Fennel')!.id,
    });
    expect((await new Client(server).ask('POST', '/invitations/look', { token: body.token })).body).toEqual({
      name: 'Fennel',
      keeper: false,
    });
    const back = new Client(server);
    await back.join(body.token, 'Anybody', 'a wholly other secret');
    expect([await signedIn(back), await signedIn(client)]).toEqual(['Fennel', null]);
  });
});

test('with sign-in off there are no accounts, and whoever is at this machine has everything', async () => {
  const server = await startServer();
  const client = new Client(server);
  expect((await client.ask<Me>('GET', '/me')).body).toMatchObject({ signIn: false, painter: null });
  expect((await client.ask('GET', '/liveries')).status).toBe(200);
  expect(server.said()).not.toContain('/invited');
  await server.stop();
});

test('turned on later, what was made before is the first painter’s', async () => {
  const off = await startServer({ demo: true });
  const made = await off.get<{ id: string }[]>('/liveries');
  await off.kill();
  const on = await startServer({ databaseUrl: off.databaseUrl, data: off.data, signIn: true });
  const { keeper, ada } = await peopleOf(on, 'ada');
  expect((await keeper.ask<unknown[]>('GET', '/liveries')).body).toHaveLength(made.length);
  expect((await ada.ask<unknown[]>('GET', '/liveries')).body).toEqual([]);
  // Templates and decals that came along are everybody's.
  expect((await ada.ask<unknown[]>('GET', '/templates')).body.length).toBeGreaterThan(5);
  expect((await ada.ask<unknown[]>('GET', '/decals')).body.length).toBeGreaterThan(5);
  await on.stop();
});

test.each([
  [{ HOST: '0.0.0.0' }, 'WET_LACQUER_SIGN_IN=on'],
  [{ HOST: '0.0.0.0', WET_LACQUER_SIGN_IN: 'on' }, 'TLS'],
  [{ HOST: '0.0.0.0', WET_LACQUER_SIGN_IN: 'on', WET_LACQUER_URL: 'http://paint.example' }, 'TLS'],
  [{ WET_LACQUER_URL: 'https://paint.example/lacquer' }, 'is no address'],
])('%o is refused', async (env, why) => {
  const { readConfig } = await import('../host/config.ts');
  expect(() => readConfig({ DATABASE_URL: 'postgres://x', WET_LACQUER_DATA: '/tmp/wl-config', ...env })).toThrow(why);
});
