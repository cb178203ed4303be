/**
 * A hundred painters on thirty liveries, over two servers and three workers on one database; a server and a worker are killed on the way and
 * started again. Afterwards every acknowledged step is in its log once, and both servers, and all who listened, have come to the same.
 */
import { spawn, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import pg from 'pg';
import { randomFrom } from '@wet-lacquer/core/testing/images.ts';
import { startServer, type TestServer } from '../packages/server/src/testing/server.ts';
// The start scripts are plain JavaScript: they run before anything is installed.
import { startPostgres } from '../scripts/postgres.mjs';
import { calibration } from '../bench/calibration.ts';
import { begun, logOf, paint, percentile } from './painters.ts';

const [PAINTERS, LIVERIES, WORKERS] = [100, 30, 3];
/** How long a server or worker that died is away, as whatever looks after it would start it again. */
const AWAY_MS = 4000;
const root = path.resolve(import.meta.dirname, '..');
const sleep = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** @param seconds of painting; each painter makes a step every one to four seconds */
export async function hundred(seconds: number): Promise<boolean> {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'wl-hundred-'));
  const postgres = await startPostgres(path.join(folder, 'pg'));
  const databaseUrl = await postgres.database('hundred');
  const port = 24_000 + Math.floor(Math.random() * 8000);
  const data = path.join(folder, 'data');
  const startOne = (n: number) => startServer({ databaseUrl, data, demo: true, worker: false, port: port + n * 100 });
  const servers: TestServer[] = [await startOne(0), await startOne(1)];
  const away = [false, false];
  const env = { ...process.env, DATABASE_URL: databaseUrl, WET_LACQUER_DATA: data, WET_LACQUER_THREADS: '1' };
  const work = (): ChildProcess =>
    spawn('node', ['packages/server/dist/worker.js'], { cwd: root, env, stdio: 'ignore' });
  const workers = Array.from({ length: WORKERS }, work);
  const troubles: string[] = [];
  try {
    const cards = await servers[0].get<{ hash: string; key: string }[]>('/templates');
    const { hash } = cards.find(({ key }) => key === 'lampkin')!;
    const liveries: { id: string; layer: string }[] = [];
    for (let i = 0; i < LIVERIES; i++) liveries.push(await begun(servers[i % 2].url, hash, `Hundred ${i}`));
    const loop = calibration();
    const [cpu, bytes] = [processor(servers), await databaseBytes(databaseUrl)];
    const end = Date.now() + seconds * 1000;
    const going = () => Date.now() < end;
    // Whoever's server is away asks the other, as a proxy before them does.
    const urlFor = (n: number) => () => servers[away[n % 2] ? 1 - (n % 2) : n % 2].url;
    const heard = Array.from({ length: PAINTERS }, () => 0);
    const painters = Array.from({ length: PAINTERS }, (_, i) => {
      const { id, layer } = liveries[i % LIVERIES];
      const hear = (revision: number) => (heard[i] = Math.max(heard[i], revision));
      return paint({ url: urlFor(i), livery: id, layer, random: randomFrom(i + 1), pause: [1000, 4000], going, hear });
    });
    const delivered: string[] = [];
    const delivering = liveries.slice(0, 6).map(async ({ id }, i) => {
      while (going()) {
        const answer = await fetch(`${urlFor(i)()}/api/liveries/${id}/deliveries`, { method: 'POST' }).catch(
          () => null,
        );
        if (answer?.status === 201) delivered.push(((await answer.json()) as { id: string }).id);
        await sleep(5000);
      }
    });
    await sleep((seconds * 1000) / 3);
    away[0] = true;
    await servers[0].kill();
    await sleep(AWAY_MS);
    servers[0] = await startOne(0);
    away[0] = false;
    await sleep((seconds * 1000) / 6);
    workers[0].kill('SIGKILL');
    await sleep(AWAY_MS);
    workers[0] = work();
    const kept = await Promise.all(painters);
    await Promise.all(delivering);
    const used = processor(servers) - cpu;

    const took = kept.flatMap((one) => one.took);
    let acknowledged = 0;
    let steps = 0;
    for (const [i, { id }] of liveries.entries()) {
      const log = await logOf(servers[0].url, id);
      steps += log.length;
      const times = new Map<string, number>();
      for (const one of log) times.set(one.id, (times.get(one.id) ?? 0) + 1);
      const own = kept.filter((_, n) => n % LIVERIES === i).flatMap((one) => one.acknowledged);
      acknowledged += own.length;
      const bad = own.filter((one) => times.get(one) !== 1).length;
      if (bad > 0) troubles.push(`${bad} acknowledged steps of livery ${i} are missing or twice`);
      const documents = await Promise.all(
        servers.map(async (one) => {
          const { livery, revision } = await one.get<{ livery: object; revision: number }>(`/liveries/${id}`);
          return `${revision} ${createHash('sha256').update(JSON.stringify(livery)).digest('hex')}`;
        }),
      );
      if (new Set(documents).size !== 1) troubles.push(`the servers have come to different states of livery ${i}`);
      const behind = heard.filter((revision, n) => n % LIVERIES === i && revision !== log.length).length;
      if (behind > 0) troubles.push(`${behind} painters of livery ${i} have not heard its last step`);
    }
    const left = Date.now() + 120_000;
    const states = new Map<string, number>();
    for (const id of delivered) {
      let state = 'queued';
      while (['queued', 'encoding', 'publishing'].includes(state) && Date.now() < left) {
        ({ state } = await servers[0].get<{ state: string }>(`/deliveries/${id}`));
        if (state === 'queued' || state === 'encoding') await sleep(200);
      }
      states.set(state, (states.get(state) ?? 0) + 1);
    }
    if ([...states.keys()].some((state) => state !== 'done'))
      troubles.push(`deliveries: ${JSON.stringify([...states])}`);
    const [p50, p95, p99] = [0.5, 0.95, 0.99].map((share) => percentile(took, share).toFixed(0));
    const sum = (key: 'refused' | 'lost') => kept.reduce((n, one) => n + one[key], 0);
    const perStep = (await databaseBytes(databaseUrl)) - bytes;
    console.log(
      `${PAINTERS} painters on ${LIVERIES} liveries for ${seconds} s over two servers and ${WORKERS} workers, one of each killed: ` +
        `${acknowledged} acknowledged steps, after ${p50} ms (median), ${p95} ms (95th), ${p99} ms (99th); ${sum('refused')} refused, ` +
        `${sum('lost')} asked again; ${delivered.length} deliveries; the servers used ${used.toFixed(0)} s of processor (${((used / seconds / PAINTERS) * 100).toFixed(2)} % of one for a painter), ` +
        `the database grew by ${(perStep / steps / 1024).toFixed(2)} KiB for a step; calibrating loop ${loop.toFixed(0)} ms; ` +
        (troubles.length === 0 ? 'nothing lost, all the same' : troubles.slice(0, 12).join('; ')),
    );
    if (Number(p95) > 250) troubles.push('acknowledged late');
  } finally {
    for (const one of workers) one.kill('SIGKILL');
    for (const one of servers) await one.stop();
    await postgres.stop();
    rmSync(folder, { recursive: true, force: true });
  }
  return troubles.length === 0;
}

/** Seconds of processor that servers have used since they were started. */
function processor(servers: readonly TestServer[]): number {
  return servers.reduce((sum, { process: { pid } }) => {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    const [user, system] = stat
      .slice(stat.lastIndexOf(')') + 2)
      .split(' ')
      .slice(11, 13);
    return sum + (Number(user) + Number(system)) / 100;
  }, 0);
}

async function databaseBytes(url: string): Promise<number> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows } = await client.query<{ bytes: string }>('select pg_database_size(current_database()) as bytes');
  await client.end();
  return Number(rows[0].bytes);
}
