/** npm test: sets everything up and runs every check; the last line adds them all up. */
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { startPostgres } from './postgres.mjs';
import { build, data, debian, packages, root, step } from './steps.mjs';

let passed = 0;
let failed = 0;
const results = path.join(data, 'results');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });

/** Runs a command with its output shown. */
const show = (command, args, env = {}) =>
  new Promise((resolve) => {
    const child = spawn(command, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } });
    child.on('error', () => resolve(1));
    child.on('close', (code) => resolve(code ?? 1));
  });

/** A check that is one thing: it passes or fails. Several run at once, so their output is shown when they end. */
async function check(what, command, args) {
  const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
  let said = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => (said += text));
  const code = await new Promise((resolve) => {
    child.on('error', () => resolve(1));
    child.on('close', (ended) => resolve(ended ?? 1));
  });
  console.log(`\n== ${what}\n${said.trimEnd()}`);
  if (code === 0) passed++;
  else failed++;
}

/** A test runner that writes its counts as JSON. */
async function runner(what, command, args, env, file, count) {
  console.log(`\n== ${what}`);
  const code = await show(command, args, env);
  const [good, bad] = existsSync(file) ? count(JSON.parse(readFileSync(file, 'utf8'))) : [0, 0];
  passed += good;
  failed += bad > 0 ? bad : code === 0 ? 0 : 1;
}

let postgres = null;
try {
  await packages();
  await debian('postgres', 'chromium', 'convert', 'pillow', 'psdtools', 'oiiotool', 'ffmpeg', 'cjpeg');
  const folder = path.join(data, 'test-pg');
  await step('Starting PostgreSQL', async () => {
    postgres = await startPostgres(folder);
    return `on 127.0.0.1:${postgres.port}`;
  });
  await build();
  const env = { TEST_POSTGRES: postgres.url('postgres') };
  const only = process.argv[2];
  if (!only || only === 'unit') {
    const file = path.join(results, 'unit.json');
    await runner(
      'unit and server tests',
      'npx',
      ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${file}`],
      env,
      file,
      (r) => [r.numPassedTests, r.numFailedTests],
    );
  }
  if (!only || only === 'e2e') {
    const file = path.join(results, 'e2e.json');
    // Pages wait now and then: these have the time.
    const beside = only
      ? []
      : [
          check('types', 'npx', ['tsc', '-p', 'tsconfig.json']),
          check('lint', 'npx', ['eslint', '.']),
          check('format', 'npx', ['prettier', '--check', '--log-level', 'warn', '.']),
        ];
    await runner(
      'in the browser',
      'npx',
      ['playwright', 'test'],
      { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: file },
      file,
      (r) => [r.stats.expected + r.stats.flaky, r.stats.unexpected],
    );
    await Promise.all(beside);
  }
} catch (error) {
  console.error(`\n${error.message}`);
  failed++;
} finally {
  await postgres?.stop();
}
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed > 0 || passed === 0 ? 1 : 0);
