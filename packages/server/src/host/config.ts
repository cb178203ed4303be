import { randomUUID } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';

/** The project's root: this file is bundled into packages/server/dist, three folders below it. */
const root = path.resolve(import.meta.dirname, '../../..');

export interface Config {
  databaseUrl: string;
  host: string;
  port: number;
  /** Where games' folders and the publishing journal are. */
  data: string;
  web: string;
  migrations: string;
  demo: string;
  threads: number;
  /** Whether people sign in. */
  signIn: boolean;
  /** Where pages are served from, as browsers see it, as in "https://paint.example"; null: from loopback, as it is. */
  origin: string | null;
  /** Addresses of proxies whose word on who asks is taken. */
  proxies: string[];
  /** Origins of other servers whose skins may be listed here, beside those of this machine. */
  exchanges: string[];
  /** What whoever reads the figures of this server says, while people sign in; null: nobody reads them then. */
  metricsWord: string | null;
  /** Where bytes of blobs go, as in s3://bucket/folder; undefined: into the database. */
  blobs: string | undefined;
  /** Who this host is, for deliveries into its folders: kept with them. */
  hostId: string;
}

export function readConfig(env: NodeJS.ProcessEnv): Config {
  const signIn = env.WET_LACQUER_SIGN_IN === 'on';
  const origin = originOf(env.WET_LACQUER_URL);
  const host = env.HOST ?? '127.0.0.1';
  if (!['127.0.0.1', 'localhost', '::1'].includes(host)) {
    if (!signIn)
      throw new Error(
        `HOST=${host} is refused: without sign-in only this machine may connect. Set WET_LACQUER_SIGN_IN=on to let others in.`,
      );
    if (!origin?.startsWith('https://'))
      throw new Error(
        `HOST=${host} is refused: others sign in through TLS alone. Set WET_LACQUER_URL to the https address of the proxy before this server.`,
      );
  }
  if (!env.DATABASE_URL) throw new Error('DATABASE_URL is not set; npm start sets it.');
  const data = path.resolve(env.WET_LACQUER_DATA ?? path.join(root, '.data'));
  return {
    databaseUrl: env.DATABASE_URL,
    host,
    port: Number(env.PORT ?? 4173),
    data,
    signIn,
    origin,
    proxies: listOf(env.WET_LACQUER_PROXY),
    exchanges: listOf(env.WET_LACQUER_EXCHANGES),
    metricsWord: env.WET_LACQUER_METRICS ?? null,
    blobs: env.WET_LACQUER_BLOBS || undefined,
    hostId: hostOf(data),
    web: path.join(root, 'packages/web/dist'),
    migrations: path.join(root, 'packages/server/drizzle'),
    demo: path.join(root, 'demo/out'),
    threads: Number(env.WET_LACQUER_THREADS ?? os.availableParallelism()),
  };
}

/** What stands between commas. */
const listOf = (text = ''): string[] =>
  text
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean);

/** @throws Error when it is no address of pages */
function originOf(url: string | undefined): string | null {
  if (!url) return null;
  const { origin, protocol, pathname } = new URL(url);
  if (!/^https?:$/.test(protocol) || pathname !== '/')
    throw new Error(`WET_LACQUER_URL=${url} is no address: say it as in https://paint.example.`);
  return origin;
}

/** The host's name for itself, made once. Two that begin at the same moment agree on the first. */
function hostOf(data: string): string {
  const file = path.join(data, 'host');
  mkdirSync(data, { recursive: true });
  try {
    writeFileSync(file, randomUUID(), { flag: 'wx', flush: true });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
  }
  return readFileSync(file, 'utf8').trim();
}
