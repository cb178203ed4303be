/** npm start: sets everything up, starts PostgreSQL and the server, and opens the demo world. */
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { startPostgres } from './postgres.mjs';
import { build, data, debian, packages, root, step, taken } from './steps.mjs';

/** How often it is looked whether PostgreSQL still runs. */
const WATCH_MS = 5000;
const began = performance.now();
let postgres = null;
mkdirSync(data, { recursive: true });
try {
  await packages({ tests: false });
  let url = process.env.DATABASE_URL;
  if (!url) {
    await debian('postgres');
    await step('Starting PostgreSQL', async () => {
      postgres = await startPostgres(path.join(data, 'pg'));
      url = await postgres.database('wet_lacquer');
      return `on 127.0.0.1:${postgres.port}`;
    });
  }
  await build();
  // It holds the password.
  rmSync(path.join(data, 'database-url'), { force: true });
  writeFileSync(path.join(data, 'database-url'), url, { mode: 0o600 });
  const server = spawn('node', ['--enable-source-maps', 'packages/server/dist/main.js'], {
    cwd: root,
    env: { ...process.env, DATABASE_URL: url },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let opened = false;
  server.stdout.on('data', (chunk) => {
    process.stdout.write(chunk);
    const address = /http:\/\/\S+/.exec(String(chunk))?.[0];
    if (!address || opened) return;
    opened = true;
    const all = (performance.now() - began) / 1000;
    const share = (seconds) => `${Math.round((100 * seconds) / all)} %`;
    const steps = [...taken].map(([what, seconds]) => `${what.toLowerCase()} ${share(seconds)}`);
    const rest = all - [...taken.values()].reduce((sum, seconds) => sum + seconds, 0);
    console.log(`Ready after ${all.toFixed(1)} s: ${[...steps, `starting the server ${share(rest)}`].join(', ')}.`);
    console.log('Stop with Ctrl C.');
    const canOpen =
      (process.env.DISPLAY || process.env.WAYLAND_DISPLAY) &&
      spawnSync('sh', ['-c', 'command -v xdg-open']).status === 0;
    if (canOpen) spawn('xdg-open', [address], { stdio: 'ignore', detached: true }).unref();
    else console.log('Open this address in a browser.');
  });
  // PostgreSQL ends itself when its disk is full: it is started again, until there is room.
  let starting = false;
  const watch = setInterval(async () => {
    if (!postgres || starting) return;
    starting = true;
    try {
      if (!(await postgres.alive())) {
        console.log('PostgreSQL has stopped; starting it again.');
        postgres = await startPostgres(path.join(data, 'pg'), postgres.port);
      }
    } catch {
      // Not yet: the next look tries again.
    } finally {
      starting = false;
    }
  }, WATCH_MS);
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
  server.on('close', async (code) => {
    clearInterval(watch);
    rmSync(path.join(data, 'database-url'), { force: true });
    await postgres?.stop();
    process.exit(code ?? 0);
  });
} catch (error) {
  console.error(`\n${error.message}`);
  await postgres?.stop();
  process.exit(1);
}
