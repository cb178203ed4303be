/**
 * Two servers, PostgreSQL, two workers and a browser, killed with SIGKILL at random moments while painters edit and deliver. Afterwards every
 * acknowledged step is in its log once, every history opens, every package is whole, and nothing half-written is left.
 */
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { randomFrom } from '@wet-lacquer/core/testing/images.ts';
import { startServer, type TestServer } from '../packages/server/src/testing/server.ts';
// The start scripts are plain JavaScript: they run before anything is installed.
import { startPostgres } from '../scripts/postgres.mjs';
import { begun, logOf, paint, type Kept } from './painters.ts';

const VICTIMS = ['server', 'PostgreSQL', 'worker', 'browser'] as const;
type Victim = (typeof VICTIMS)[number];
const PAINTERS = 12;
const root = path.resolve(import.meta.dirname, '..');
const sleep = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

export async function kills(wanted: number, deliveriesWanted: number): Promise<boolean> {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'wl-siege-'));
  // Two hosts with folders of their own, on one database.
  const data = [path.join(folder, 'one'), path.join(folder, 'two')];
  const random = randomFrom(20261129);
  let postgres = await startPostgres(path.join(folder, 'pg'));
  const databaseUrl = await postgres.database('siege');
  const port = 24_000 + Math.floor(Math.random() * 8000);
  const startOne = (n: number) =>
    startServer({ databaseUrl, data: data[n], demo: true, worker: false, port: port + n * 100 });
  const servers: TestServer[] = [await startOne(0), await startOne(1)];
  const workers = [startWorker(databaseUrl, data[0]), startWorker(databaseUrl, data[1])];
  const counts: Record<Victim, number> = { server: 0, PostgreSQL: 0, worker: 0, browser: 0 };
  let over = false;
  const going = () => !over;

  const cards = await servers[0].get<{ hash: string; key: string }[]>('/templates');
  const lampkin = cards.find(({ key }) => key === 'lampkin')!.hash;
  const liveries = [];
  for (let i = 0; i < PAINTERS; i++) liveries.push(await begun(servers[0].url, lampkin, `Siege ${i}`));
  const painters: Promise<Kept>[] = liveries.map(({ id, layer }, i) =>
    paint({ url: () => servers[i % 2].url, livery: id, layer, random: randomFrom(i + 7), pause: [60, 600], going }),
  );
  const asked = new Map<string, string[]>(liveries.map(({ id }) => [id, []]));
  const delivering = liveries.map(async ({ id }, i) => {
    const own = randomFrom(i + 900);
    while (!over) {
      const answer = await servers[i % 2].post<{ id: string }>(`/liveries/${id}/deliveries`).catch(() => null);
      if (answer?.status === 201) asked.get(id)!.push(answer.body.id);
      await sleep(400 + own() * 2500);
    }
  });
  const page = browserThatPaints(() => servers[0].url, lampkin, path.join(folder, 'profile'), going);

  const began = Date.now();
  for (let done = 0; done < wanted; done++) {
    await sleep(150 + random() * 1500);
    const victim = VICTIMS[Math.floor(random() * VICTIMS.length)];
    counts[victim]++;
    if (victim === 'server') {
      const n = Math.floor(random() * 2);
      await servers[n].kill();
      await sleep(random() * 300);
      servers[n] = await startOne(n);
    } else if (victim === 'PostgreSQL') {
      postgres.kill();
      await sleep(random() * 300);
      postgres = await startPostgres(path.join(folder, 'pg'), postgres.port);
    } else if (victim === 'worker') {
      const n = Math.floor(random() * 2);
      workers[n].kill('SIGKILL');
      workers[n] = startWorker(databaseUrl, data[n]);
    } else page.kill();
    if (done % 50 === 49) console.log(`  ${done + 1} kills after ${((Date.now() - began) / 1000).toFixed(0)} s`);
  }
  over = true;
  const kept = await Promise.all(painters);
  await Promise.all(delivering);
  const byPage = await page.end();

  // A start like any other puts right what is left.
  for (const n of [0, 1]) {
    await servers[n].kill();
    servers[n] = await startOne(n);
  }
  const [server] = servers;
  const troubles: string[] = [];
  await settled(server, [...asked.keys()], troubles);
  const pageLog = await logOf(server.url, byPage.id);
  if (pageLog.length < byPage.saved)
    troubles.push(`a page called ${byPage.saved} steps saved, and there are ${pageLog.length}`);
  if (new Set(pageLog.map(({ id }) => id)).size < pageLog.length) troubles.push('a step of the page is there twice');
  let acknowledged = 0;
  let finished = 0;
  for (const [i, { id }] of liveries.entries()) {
    const log = await logOf(server.url, id);
    const times = new Map<string, number>();
    for (const entry of log) times.set(entry.id, (times.get(entry.id) ?? 0) + 1);
    acknowledged += kept[i].acknowledged.length;
    const bad = kept[i].acknowledged.filter((one) => times.get(one) !== 1).length;
    if (bad > 0) troubles.push(`${bad} acknowledged steps of livery ${i} are missing or twice`);
    if (log.some((entry, n) => entry.revision !== n + 1)) troubles.push(`the log of livery ${i} has a gap`);
    for (let at = 0; at <= log.length; at += Math.max(1, Math.floor(log.length / 20))) {
      const response = await fetch(`${server.url}/api/liveries/${id}/at/${at}`);
      if (!response.ok) troubles.push(`livery ${i} does not open at step ${at}: ${response.status}`);
    }
    const all = await server.get<{ id: string; state: string; error: string | null }[]>(`/liveries/${id}/deliveries`);
    finished += all.filter(({ state }) => state === 'done').length;
    for (const one of all) if (one.state === 'failed') troubles.push(`a delivery of livery ${i} failed: ${one.error}`);
  }
  for (const [n, folder] of data.entries()) {
    const crates = path.join(folder, 'games/marshkin/crates');
    const names = readdirSync(crates);
    // Each host has the packages that were asked for there, and no other.
    const own = names.filter((name) => /siege/i.test(name));
    if (own.some((name) => Number(/siege-(\d+)/i.exec(name)?.[1] ?? n) % 2 !== n))
      troubles.push(`host ${n} has another's package`);
    for (const name of names) {
      if (name.startsWith('.')) troubles.push(`${name} is left`);
      else
        try {
          if (Object.keys(unzipSync(readFileSync(path.join(crates, name)))).length !== 2) throw new Error('not whole');
        } catch (error) {
          troubles.push(`${name}: ${String(error)}`);
        }
    }
  }
  const list = Object.entries(counts)
    .map(([victim, n]) => `${victim} ${n}`)
    .join(', ');
  console.log(
    `${wanted} kills (${list}) in ${((Date.now() - began) / 1000).toFixed(0)} s: ${acknowledged} acknowledged steps, ` +
      `${[...asked.values()].flat().length} deliveries asked for and ${finished} of the last fifty of each livery finished, ${byPage.saved} steps called saved by a page; ` +
      `${troubles.length === 0 ? 'nothing lost, nothing half-written, nothing left' : troubles.slice(0, 12).join('; ')}`,
  );
  const asMany = [...asked.values()].flat().length >= deliveriesWanted;
  if (!asMany) console.log(`  fewer deliveries than ${deliveriesWanted} were asked for`);
  for (const one of servers) await one.stop();
  for (const one of workers) one.kill('SIGKILL');
  await postgres.stop();
  rmSync(folder, { recursive: true, force: true });
  return troubles.length === 0 && asMany;
}

function startWorker(databaseUrl: string, data: string): ChildProcess {
  const env = { ...process.env, DATABASE_URL: databaseUrl, WET_LACQUER_DATA: data };
  return spawn('node', ['packages/server/dist/worker.js'], { cwd: root, env, stdio: 'ignore' });
}

/** Every delivery comes to its end. */
async function settled(server: TestServer, liveries: string[], troubles: string[]): Promise<void> {
  const end = Date.now() + 180_000;
  for (const id of liveries) {
    for (;;) {
      const all = await server.get<{ state: string }[]>(`/liveries/${id}/deliveries`);
      if (all.every(({ state }) => !['queued', 'encoding', 'publishing'].includes(state))) break;
      if (Date.now() > end) {
        troubles.push(`deliveries of ${id} do not end`);
        return;
      }
      await sleep(300);
    }
  }
}

/**
 * A page that makes one step after another in a browser that is killed and opened again with the same profile: what it had not sent is sent
 * then. What it once called saved must be in the log.
 */
function browserThatPaints(url: () => string, template: string, profile: string, going: () => boolean) {
  const state = { id: '', saved: 0 };
  const turn = async () => {
    while (going()) {
      try {
        state.id ||= (await begun(url(), template, 'By browser')).id;
        const context = await chromium.launchPersistentContext(profile, {
          executablePath: '/usr/bin/chromium',
          args: [
            '--no-sandbox',
            '--disable-gpu',
            '--disable-quic',
            '--no-first-run',
            '--disable-background-networking',
          ],
        });
        try {
          await makeSteps(await context.newPage(), `${url()}/liveries/${state.id}`, going, (saved) => {
            state.saved = Math.max(state.saved, saved);
          });
        } finally {
          await Promise.race([context.close().catch(() => {}), sleep(2000)]);
        }
      } catch {
        // Killed, or the server is away: again.
        await sleep(200);
      }
    }
  };
  const running = turn();
  return {
    /** Every process of the browser, as a crash would. */
    kill() {
      for (const pid of readdirSync('/proc').filter((name) => /^\d+$/.test(name))) {
        try {
          if (readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(profile)) process.kill(Number(pid), 'SIGKILL');
        } catch {
          // It was gone already.
        }
      }
    },
    end: async () => {
      // A browser that is killed while it starts can leave its starter waiting for ever.
      await Promise.race([running, sleep(30_000)]);
      return state;
    },
  };
}

async function makeSteps(page: Page, at: string, going: () => boolean, tell: (saved: number) => void): Promise<void> {
  await page.addInitScript(() => localStorage.setItem('wet-lacquer/model-rests', 'yes'));
  await page.goto(at, { timeout: 20_000 });
  const saved = page.getByRole('button', { name: /^Saved, \d+ step/ });
  while (going()) {
    await page.getByRole('button', { name: 'Add to Base' }).click({ timeout: 10_000 });
    await page.getByRole('menuitem', { name: /^Solid/ }).click({ timeout: 10_000 });
    const said = await saved.textContent({ timeout: 3000 }).catch(() => null);
    if (said) tell(Number(/\d+/.exec(said)![0]));
    await page.getByRole('button', { name: 'Undo' }).click({ timeout: 10_000 });
    await sleep(100);
  }
}
