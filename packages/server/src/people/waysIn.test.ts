/** Ways in that are tried by whoever has no business here, each with what stops it. */
import { createHash, generateKeyPairSync, randomBytes, sign, type KeyObject } from 'node:crypto';
import { request } from 'node:http';
import * as cbor from 'cborg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Account, Me } from '@wet-lacquer/sync/people.ts';
import { Client, firstToken, peopleOf } from '../testing/client.ts';
import { startServer, type TestServer } from '../testing/server.ts';

let server: TestServer;
let people: Record<'keeper' | 'ada' | 'bo', Client & { id: string }>;
beforeAll(async () => {
  server = await startServer({ signIn: true });
  people = await peopleOf(server, 'ada', 'bo');
});
afterAll(() => server.stop());

const PASSWORD = { ada: 'ada paints by lamp light', bo: 'bo paints by lamp light' };
const signIn = (client: Client, name: string, password: string) =>
  client.ask<{ error: string }>('POST', '/sign-in', { name, password });
const nameOf = async (client: Client) => (await client.ask<Me>('GET', '/me')).body.painter?.name ?? null;
const COOKIE = '__Host-wet-lacquer';

test('session fixation: a session that was set before is not the one that is signed in', async () => {
  const client = new Client(server);
  client.cookies.set(COOKIE, 'x'.repeat(43));
  await signIn(client, 'bo', PASSWORD.bo);
  expect(client.cookies.get(COOKIE)).not.toBe('x'.repeat(43));
  // One that was somebody's is ended when another signs in over it.
  const before = new Map(client.cookies);
  await signIn(client, 'ada', PASSWORD.ada);
  const old = new Client(server);
  for (const [name, value] of before) old.cookies.set(name, value);
  expect([await nameOf(client), await nameOf(old)]).toEqual(['ada', null]);
});

describe('another site’s page (CSRF)', () => {
  const make = (client: Client, headers: Record<string, string>) =>
    client.ask('POST', '/intakes', { name: 'by another' }, headers);
  test('is refused by its origin, also where a browser sends the cookie along', async () => {
    for (const origin of [
      'https://evil.example',
      'null',
      server.url.replace('localhost', 'localhost.evil.example'),
      `${server.url}.evil.example`,
    ])
      expect([origin, (await make(people.ada, { Origin: origin })).status]).toEqual([origin, 403]);
  });
  test('is refused without an origin, by what browsers say of themselves, and where nothing is said', async () => {
    const status = (site: string | null) =>
      new Promise<number>((resolve, reject) => {
        const { hostname, port } = new URL(server.url);
        const headers = {
          ...{
            'Content-Type': 'application/json',
            Cookie: `${COOKIE}=${people.ada.cookies.get(COOKIE)}`,
            Host: `localhost:${port}`,
          },
          ...(site && { 'Sec-Fetch-Site': site }),
        };
        request({ hostname, port, path: '/api/intakes', method: 'POST', headers }, (res) => {
          res.resume();
          resolve(res.statusCode!);
        })
          .on('error', reject)
          .end('{"name":"x"}');
      });
    expect([
      await status('cross-site'),
      await status('same-site'),
      await status(null),
      await status('same-origin'),
    ]).toEqual([403, 403, 403, 201]);
  });
  test('has no cookie to send: SameSite is strict', async () => {
    const { headers } = await signIn(new Client(server), 'bo', PASSWORD.bo);
    expect(
      headers
        .getSetCookie()
        .filter((line) => !line.includes('1970'))
        .every((line) => line.includes('SameSite=Strict')),
    ).toBe(true);
  });
  test('a form of another site cannot say JSON, and nothing else is read', async () => {
    const client = people.ada;
    const form = await client.fetch('/intakes', {
      method: 'POST',
      body: 'name=x',
      headers: { 'Content-Type': 'application/x-www-form-urlencoded' },
    });
    const plain = await client.fetch('/intakes', {
      method: 'POST',
      body: '{"name":"x"}',
      headers: { 'Content-Type': 'text/plain' },
    });
    expect([form.status, plain.status]).toEqual([400, 400]);
  });
});

test('open redirect: the server sends nobody anywhere', async () => {
  for (const at of [
    '/sign-in?next=https://evil.example',
    '//evil.example',
    '/\\evil.example',
    '/invited?to=//evil.example',
  ]) {
    const response = await fetch(server.url + at, { redirect: 'manual' });
    expect([at, response.status < 300 || response.status >= 400, response.headers.get('location')]).toEqual([
      at,
      true,
      null,
    ]);
  }
});

test('another’s things by their ids (IDOR): they are not there', async () => {
  const { body } = await people.ada.ask<{ id: string }>('POST', '/intakes', { name: 'mine' });
  for (const [method, at] of [
    ['GET', `/intakes/${body.id}`],
    ['DELETE', `/intakes/${body.id}`],
    ['GET', `/shares/intake/${body.id}`],
    ['GET', `/intakes/${body.id.toUpperCase()}`],
    ['DELETE', `/me/sessions/${(await people.ada.ask<Account>('GET', '/me/account')).body.sessions[0].id}`],
  ])
    expect([at, (await people.bo.ask(method, at)).status]).not.toEqual([at, 200]);
  expect((await people.ada.ask('GET', `/intakes/${body.id}`)).status).toBe(200);
  expect(await nameOf(people.ada)).toBe('ada');
});

describe('names that there are', () => {
  test('are not told by what a wrong sign-in says', async () => {
    const [known, unknown] = await Promise.all([
      signIn(new Client(server), 'ada', 'wrong wrong wrong'),
      signIn(new Client(server), 'nobody at all', 'wrong wrong wrong'),
    ]);
    expect([known.status, known.body]).toEqual([unknown.status, unknown.body]);
    const codes = await Promise.all(
      ['ada', 'nobody at all'].map((name) => new Client(server).ask('POST', '/sign-in/code', { name, code: 'x' })),
    );
    expect([codes[0].status, codes[0].body]).toEqual([codes[1].status, codes[1].body]);
  });
  test('nor by how long it takes: the same work is done for a name that nobody has', async () => {
    const once = async (name: string) => {
      const began = performance.now();
      await signIn(new Client(server), name, 'wrong wrong wrong');
      return performance.now() - began;
    };
    // One after the other, so that what else the machine does falls on both; the shortest is what the work itself takes.
    let [known, unknown] = [Infinity, Infinity];
    for (let k = 0; k < 5; k++) {
      known = Math.min(known, await once('bo'));
      unknown = Math.min(unknown, await once(`nobody ${k}`));
    }
    await signIn(new Client(server), 'bo', PASSWORD.bo);
    expect(unknown / known).toBeGreaterThan(0.6);
    expect(unknown / known).toBeLessThan(1.7);
  });
  test('nor by passkeys: whose there are is not said', async () => {
    const { body } = await new Client(server).ask<{ options: { allowCredentials?: unknown[] } }>(
      'POST',
      '/sign-in/passkey/options',
      {},
    );
    expect(body.options.allowCredentials ?? []).toEqual([]);
  });
});

test('trying passwords: after ten of a name everybody waits, who knows it too, and is told how long', async () => {
  const { body } = await people.keeper.ask<{ token: string }>('POST', '/invitations', { note: 'cy' });
  await new Client(server).join(body.token, 'cy');
  for (let k = 0; k < 10; k++)
    expect((await signIn(new Client(server), k % 2 ? 'CY' : ' cy', `guess ${k} guess`)).status).toBe(401);
  const late = await signIn(new Client(server), 'cy', 'cy paints by lamp light');
  expect(late.status).toBe(429);
  expect(Number(late.headers.get('retry-after'))).toBeGreaterThan(0);
  // Others come in.
  expect((await signIn(new Client(server), 'bo', PASSWORD.bo)).status).toBe(200);
});

test('a forwarded address is believed of nobody but the proxies that were named', async () => {
  // Otherwise each try would come from an address of its own.
  const seen = new Set<string>();
  for (let k = 0; k < 3; k++) {
    const { status } = await new Client(server, {
      'X-Forwarded-For': `10.0.0.${k}`,
      'X-Forwarded-Host': 'evil.example',
    }).ask('POST', '/invitations/look', { token: 'x' });
    seen.add(String(status));
  }
  expect([...seen]).toEqual(['404']);
});

test('mass assignment: what is not asked for is refused, and makes nobody a keeper', async () => {
  const { body } = await people.keeper.ask<{ token: string }>('POST', '/invitations', { note: 'di' });
  const more = { token: body.token, name: 'di', password: 'di paints by lamp light' };
  for (const extra of [{ keeper: true }, { painterId: people.keeper.id }, { id: people.keeper.id }])
    expect((await new Client(server).ask('POST', '/invitations/take', { ...more, ...extra })).status).toBe(400);
  const client = new Client(server);
  await client.join(body.token, 'di');
  expect((await client.ask('POST', `/painters/${people.ada.id}`, { keeper: true })).status).toBe(403);
  expect((await client.ask('POST', '/invitations', { note: 'x', keeper: true })).status).toBe(403);
  const polluted = await client.fetch('/intakes', {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: '{"name":"x","__proto__":{"keeper":true}}',
  });
  expect(polluted.status).toBe(400);
});

test('replay: a link that was used, or taken back, and a session that was ended are good for nothing', async () => {
  const { body } = await people.keeper.ask<{ token: string }>('POST', '/invitations', { note: 'ed' });
  // Two at once make one.
  const both = await Promise.all(
    ['ed', 'eda'].map((name) =>
      new Client(server).ask('POST', '/invitations/take', { token: body.token, name, password: 'lamp oil and a rope' }),
    ),
  );
  expect(both.map(({ status }) => status).toSorted()).toEqual([200, 404]);
});

test('tokens that are none: too long, of another kind, injected', async () => {
  for (const token of ['', "' or 1=1 --", 'x'.repeat(5000), '%00', people.ada.cookies.get(COOKIE)!])
    for (const at of ['/invitations/look', '/links/open'])
      expect([400, 404]).toContain((await new Client(server).ask('POST', at, { token })).status);
  const client = new Client(server);
  for (const value of ["' or 1=1 --", '../../x', 'x'.repeat(3000), '%']) {
    client.cookies.set(COOKIE, value);
    expect(await nameOf(client)).toBeNull();
  }
});

test('somebody who is not known sends no large body', async () => {
  const { status } = await new Client(server).ask('POST', '/sign-in', { name: 'x'.repeat(200_000), password: 'x' });
  expect(status).toBe(413);
});

test('a password of a megabyte is refused before it costs anything', async () => {
  const { status } = await new Client(server).ask('POST', '/sign-in', { name: 'ada', password: 'x'.repeat(60_000) });
  expect(status).toBe(400);
});

test('answers to whoever is signed in are kept by no cache in between', async () => {
  expect((await people.ada.ask('GET', '/liveries')).headers.get('cache-control')).toBe('no-store');
  const fonts = await people.ada.fetch('/fonts/saira-stencil-one');
  expect(fonts.headers.get('cache-control')).toContain('private');
});

test('headers are those of OWASP’s HTTP Security Response Headers Cheat Sheet', async () => {
  const { headers } = await fetch(server.url);
  const wanted: Record<string, RegExp> = {
    'x-content-type-options': /^nosniff$/,
    'x-frame-options': /^(SAMEORIGIN|DENY)$/,
    'referrer-policy': /^(no-referrer|strict-origin-when-cross-origin)$/,
    'content-security-policy': /object-src 'none'/,
    'cross-origin-opener-policy': /^same-origin$/,
    'cross-origin-resource-policy': /^same-(origin|site)$/,
    'permissions-policy': /camera=\(\)/,
  };
  for (const [name, value] of Object.entries(wanted))
    expect([name, headers.get(name)]).toEqual([name, expect.stringMatching(value)]);
  expect(headers.get('x-powered-by')).toBeNull();
  expect(headers.get('server')).toBeNull();
});

test('secrets are in no log', () => {
  for (const secret of [PASSWORD.ada, 'wrong wrong wrong', people.ada.cookies.get(COOKIE)!])
    expect(server.said()).not.toContain(secret);
});

test('behind TLS: only the proxy’s name is answered, over TLS alone, and cookies stay Secure', async () => {
  const proxied = await startServer({
    signIn: true,
    env: { WET_LACQUER_URL: 'https://paint.example', WET_LACQUER_PROXY: '127.0.0.1' },
  }).catch((error: Error) => error);
  // Its own address is the proxy's, so the test looks at the port that it was given.
  if (proxied instanceof Error) throw proxied;
  const port = Number(proxied.env.PORT);
  const ask = (headers: Record<string, string>, at = '/api/me') =>
    new Promise<{ status: number; headers: Record<string, unknown> }>((resolve, reject) =>
      request({ hostname: '127.0.0.1', port, path: at, headers }, (res) => {
        res.resume();
        resolve({ status: res.statusCode!, headers: res.headers });
      })
        .on('error', reject)
        .end(),
    );
  const good = await ask({ Host: 'paint.example', Origin: 'https://paint.example' });
  expect([good.status, good.headers['strict-transport-security']]).toEqual([200, expect.stringContaining('max-age=')]);
  for (const headers of [
    { Host: 'localhost' },
    { Host: `127.0.0.1:${port}` },
    { Host: 'paint.example', Origin: 'http://paint.example' },
  ])
    expect((await ask(headers as unknown as Record<string, string>)).status).toBe(403);
  await proxied.stop();
});

/** A key of a device, in software: what a browser would send, by the W3C's Web Authentication, 6.1 and 6.5.4, and RFC 9053. */
class Device {
  readonly id = randomBytes(32);
  counter = 0;
  readonly keys: { publicKey: KeyObject; privateKey: KeyObject } = generateKeyPairSync('ec', { namedCurve: 'P-256' });

  private data(rp: string, flags: number, more: Uint8Array = new Uint8Array()): Buffer {
    const head = Buffer.alloc(37);
    createHash('sha256').update(rp).digest().copy(head);
    head[32] = flags;
    head.writeUInt32BE(++this.counter, 33);
    return Buffer.concat([head, more]);
  }

  private client(type: string, challenge: string, origin: string): Buffer {
    return Buffer.from(JSON.stringify({ type, challenge, origin, crossOrigin: false }));
  }

  make(challenge: string, origin: string, rp = 'localhost', flags = 0x45) {
    const { x, y } = this.keys.publicKey.export({ format: 'jwk' });
    const point = (text?: string) => Buffer.from(text!, 'base64url');
    const cose = cbor.encode(
      new Map<number, unknown>([
        [1, 2],
        [3, -7],
        [-1, 1],
        [-2, point(x)],
        [-3, point(y)],
      ]),
    );
    const about = Buffer.concat([Buffer.alloc(16), Buffer.from([0, this.id.length]), this.id, cose]);
    const attestation = cbor.encode({ fmt: 'none', attStmt: {}, authData: this.data(rp, flags, about) });
    const id = this.id.toString('base64url');
    return {
      ...{ id, rawId: id, type: 'public-key', clientExtensionResults: {} },
      response: {
        clientDataJSON: this.client('webauthn.create', challenge, origin).toString('base64url'),
        attestationObject: Buffer.from(attestation).toString('base64url'),
        transports: ['internal'],
      },
    };
  }

  sign(challenge: string, origin: string, rp = 'localhost', flags = 0x05) {
    const data = this.data(rp, flags);
    const client = this.client('webauthn.get', challenge, origin);
    const signed = sign(
      'sha256',
      Buffer.concat([data, createHash('sha256').update(client).digest()]),
      this.keys.privateKey,
    );
    const id = this.id.toString('base64url');
    return {
      ...{ id, rawId: id, type: 'public-key', clientExtensionResults: {} },
      response: {
        clientDataJSON: client.toString('base64url'),
        authenticatorData: data.toString('base64url'),
        signature: signed.toString('base64url'),
      },
    };
  }
}

describe('passkeys', () => {
  interface Asked {
    id: string;
    options: { challenge: string };
  }
  const askKey = async (client: Client, password: string) =>
    (await client.ask<Asked>('POST', '/me/passkeys/options', { password })).body;
  const askSignIn = async (client: Client) => (await client.ask<Asked>('POST', '/sign-in/passkey/options', {})).body;
  const device = new Device();

  test('a key is made by whoever knows the password, and signs in; it is used once for each question', async () => {
    expect((await people.ada.ask('POST', '/me/passkeys/options', { password: 'wrong' })).status).toBe(403);
    const { id, options } = await askKey(people.ada, PASSWORD.ada);
    const made = { id, name: 'Lamp', response: device.make(options.challenge, server.url) };
    expect((await people.ada.ask('POST', '/me/passkeys', made)).status).toBe(201);
    expect((await people.ada.ask('POST', '/me/passkeys', made)).status).toBe(400);
    const client = new Client(server);
    const asked = await askSignIn(client);
    const answer = { id: asked.id, response: device.sign(asked.options.challenge, server.url) };
    expect((await client.ask('POST', '/sign-in/passkey', answer)).status).toBe(200);
    expect(await nameOf(client)).toBe('ada');
    expect((await new Client(server).ask('POST', '/sign-in/passkey', answer)).status).toBe(400);
  });

  test.each<[string, (challenge: string) => ReturnType<Device['sign']>]>([
    ['of another site', (challenge) => device.sign(challenge, 'https://evil.example')],
    ['for another name', (challenge) => device.sign(challenge, server.url, 'evil.example')],
    ['for another question', () => device.sign(randomBytes(32).toString('base64url'), server.url)],
    ['without anybody having been there', (challenge) => device.sign(challenge, server.url, 'localhost', 0x00)],
    ['without having looked who it was', (challenge) => device.sign(challenge, server.url, 'localhost', 0x01)],
    [
      'by another key under the same name',
      (challenge) => Object.assign(new Device(), { id: device.id, counter: 100 }).sign(challenge, server.url),
    ],
    [
      'that counts backwards, as a copy does',
      (challenge) => Object.assign(Object.create(device) as Device, { counter: 0 }).sign(challenge, server.url),
    ],
    ['with a key that nobody has', (challenge) => new Device().sign(challenge, server.url)],
  ])('an answer %s lets nobody in', async (_what, answer) => {
    const client = new Client(server);
    const asked = await askSignIn(client);
    expect(
      (await client.ask('POST', '/sign-in/passkey', { id: asked.id, response: answer(asked.options.challenge) }))
        .status,
    ).toBe(401);
    expect(await nameOf(client)).toBeNull();
  });

  test('a question that one was asked is answered by nobody else, and a key is taken away by its own painter alone', async () => {
    const { id, options } = await askKey(people.ada, PASSWORD.ada);
    const other = new Device();
    expect(
      (
        await people.bo.ask('POST', '/me/passkeys', {
          id,
          name: 'x',
          response: other.make(options.challenge, server.url),
        })
      ).status,
    ).toBe(400);
    const { passkeys } = (await people.ada.ask<Account>('GET', '/me/account')).body;
    await people.bo.ask('DELETE', `/me/passkeys/${passkeys[0].id}`);
    expect((await people.ada.ask<Account>('GET', '/me/account')).body.passkeys).toHaveLength(1);
    await people.ada.ask('DELETE', `/me/passkeys/${passkeys[0].id}`);
    const client = new Client(server);
    const asked = await askSignIn(client);
    expect(
      (
        await client.ask('POST', '/sign-in/passkey', {
          id: asked.id,
          response: device.sign(asked.options.challenge, server.url),
        })
      ).status,
    ).toBe(401);
  });
});

test('the first link is a secret of the server’s own log: nobody else is told', async () => {
  const fresh = await startServer({ signIn: true });
  const token = await firstToken(fresh);
  const client = new Client(fresh);
  for (const at of ['/me', '/health']) expect(JSON.stringify((await client.ask('GET', at)).body)).not.toContain(token);
  await fresh.stop();
});
