/** A database of its own, and the built server on it, for tests. */
import { spawn, type ChildProcess } from 'node:child_process';
import { createHash, randomUUID } from 'node:crypto';
import { cpSync, existsSync, mkdtempSync, readdirSync, rmSync, statSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import pg from 'pg';

const root = path.resolve(import.meta.dirname, '../../../..');

/** Does something with the cluster that npm test started. */
async function inCluster<T>(work: (client: pg.Client, urlOf: (name: string) => string) => Promise<T>): Promise<T> {
  const address = process.env.TEST_POSTGRES;
  if (!address) throw new Error('TEST_POSTGRES is not set: run the tests with npm test.');
  const client = new pg.Client({ connectionString: address });
  await client.connect();
  try {
    return await work(client, (name) => address.replace(/\/[^/]*$/, `/${name}`));
  } finally {
    await client.end();
  }
}

/** A fresh database. @param like one that it begins as a copy of */
export const freshDatabase = (like = 'template1'): Promise<string> =>
  inCluster(async (client, urlOf) => {
    const name = `test_${randomUUID().replaceAll('-', '')}`;
    await client.query(`create database ${name} template ${like}`);
    return urlOf(name);
  });

/** What a server was that had loaded the demo world and been stopped: a database, and a folder of data. */
interface Loaded {
  database: string;
  data: string;
}
let loadedWorld: Promise<Loaded> | null = null;

/** The demo world as this build of the server loads it, made by the first test that wants it; all others begin with copies. */
const loadedDemo = (): Promise<Loaded> =>
  inCluster(async (client, urlOf) => {
    const parts = ['packages/server/dist/main.js', 'demo/out', 'packages/server/drizzle'].map((name) =>
      path.join(root, name),
    );
    const built = parts.flatMap((one) => [
      one,
      ...(statSync(one).isDirectory() ? readdirSync(one).map((name) => path.join(one, name)) : []),
    ]);
    const stamp = createHash('sha256')
      .update(built.map((one) => `${one} ${statSync(one).mtimeMs}`).join())
      .digest('hex');
    const database = `demo_${stamp.slice(0, 24)}`;
    const data = path.join(os.tmpdir(), `wl-${database}-${new URL(urlOf('')).port}`);
    await client.query('select pg_advisory_lock(7221)');
    const { rowCount } = await client.query('select 1 from pg_database where datname = $1', [database]);
    if (rowCount === 0 || !existsSync(data)) {
      await client.query(`drop database if exists ${database}`);
      await client.query(`drop database if exists draft_${database}`);
      await client.query(`create database draft_${database}`);
      rmSync(data, { recursive: true, force: true });
      const server = await startServer({ databaseUrl: urlOf(`draft_${database}`), data, demo: true });
      await server.stop();
      await client.query(`alter database draft_${database} rename to ${database}`);
    }
    return { database, data };
  });

/** A test that computes for long finds the line closed that it kept open: it takes a new one each time. */
const FRESH = { Connection: 'close' };

export interface TestServer {
  url: string;
  data: string;
  databaseUrl: string;
  process: ChildProcess;
  env: Record<string, string | undefined>;
  /** What it has said so far. */
  said(): string;
  get<T>(path: string): Promise<T>;
  post<T>(path: string, body?: unknown): Promise<{ status: number; body: T }>;
  /** Ends it as a crash would. */
  kill(): Promise<void>;
  stop(): Promise<void>;
}

export interface ServerOptions {
  databaseUrl?: string;
  data?: string;
  /** The demo world, with its liveries in their games or not delivered yet. */
  demo?: boolean | 'delivered';
  /** It loads the demo world itself, where others begin with a copy of one that is loaded. */
  fresh?: boolean;
  worker?: boolean;
  /** People sign in. */
  signIn?: boolean;
  /** What else it is set to. */
  env?: Record<string, string>;
  /** A fixed port; otherwise a free one is found. */
  port?: number;
}

/** A test that fails leaves its server behind: it ends with the tests. */
const running = new Set<ChildProcess>();
process.once('exit', () => running.forEach((child) => child.kill('SIGKILL')));

/** Starts the built server (npm run build) on a free port. */
export async function startServer(options: ServerOptions = {}): Promise<TestServer> {
  const loaded = options.demo === true && !options.databaseUrl && !options.data && !options.fresh;
  const like = loaded ? await (loadedWorld ??= loadedDemo()) : null;
  const databaseUrl = options.databaseUrl ?? (await freshDatabase(like?.database));
  const data = options.data ?? mkdtempSync(path.join(os.tmpdir(), 'wl-server-'));
  if (like) cpSync(like.data, data, { recursive: true });
  const env = {
    ...process.env,
    DATABASE_URL: databaseUrl,
    WET_LACQUER_DATA: data,
    WET_LACQUER_DEMO: options.demo === 'delivered' ? 'delivered' : options.demo ? 'bare' : 'none',
    WET_LACQUER_WORKER: options.worker === false ? 'none' : 'yes',
    WET_LACQUER_SIGN_IN: options.signIn ? 'on' : 'off',
    ...options.env,
    PORT: String(options.port ?? 20_000 + Math.floor(Math.random() * 20_000)),
  };
  const child = spawn('node', ['--enable-source-maps', 'packages/server/dist/main.js'], {
    cwd: root,
    env,
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  running.add(child);
  child.on('exit', () => running.delete(child));
  let out = '';
  let asked = false;
  const url = await new Promise<string>((resolve, reject) => {
    const hear = (chunk: Buffer) => {
      out += String(chunk);
      const found = /Wet Lacquer is at (\S+)/.exec(out)?.[1];
      if (found) resolve(found);
    };
    child.stdout.on('data', hear);
    child.stderr.on('data', (chunk: Buffer) => (out += String(chunk)));
    child.on('exit', (code) => reject(new Error(`The server ended with ${code}.\n${out}`)));
  });
  const ended = new Promise<void>((resolve) =>
    child.on('exit', (code, signal) => {
      // A server that ends by itself says why, wherever the test then fails.
      if (!asked) console.error(`The server ended by itself (${code ?? signal}).\n${out.slice(-4000)}`);
      resolve();
    }),
  );
  return {
    url,
    data,
    databaseUrl,
    process: child,
    env,
    said: () => out,
    get: async <T>(where: string) => (await fetch(`${url}/api${where}`, { headers: FRESH })).json() as Promise<T>,
    async post<T>(where: string, body?: unknown) {
      const response = await fetch(`${url}/api${where}`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json', ...FRESH },
        body: body === undefined ? undefined : JSON.stringify(body),
      });
      return { status: response.status, body: (await response.json().catch(() => null)) as T };
    },
    async kill() {
      asked = true;
      child.kill('SIGKILL');
      await ended;
    },
    async stop() {
      asked = true;
      child.kill('SIGTERM');
      await ended;
      if (!options.data) rmSync(data, { recursive: true, force: true });
    },
  };
}

/** Asks again until the answer is as wanted; what takes long to answer is asked for less often. @throws after `ms` with the last answer */
export async function until<T>(ask: () => Promise<T>, wanted: (answer: T) => boolean, ms = 240_000): Promise<T> {
  const end = Date.now() + ms;
  for (;;) {
    const asked = Date.now();
    const answer = await ask();
    if (wanted(answer)) return answer;
    if (Date.now() > end) throw new Error(`Still waiting; the last answer was ${JSON.stringify(answer).slice(0, 600)}`);
    await new Promise((resolve) => setTimeout(resolve, Math.max(150, 2 * (Date.now() - asked))));
  }
}
