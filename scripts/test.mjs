/** npm test: sets everything up and runs every check; the last line adds them all up. */
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { startPostgres } from './postgres.mjs';
import { build, data, debian, packages, root, step } from './steps.mjs';

let passed = 0;
let failed = 0;
/** What failed, a line or a few each; said again at the end, where it is found in a log of which only the end is kept. */
const failures = [];
/** How long each test took: its name and milliseconds. */
const times = [];
const SLOWEST = 20;
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

/** A check that is one thing: it passes or fails, behind everything else. Several run at once, so their output is shown when they end. */
async function check(what, command, args) {
  // Servers' threads give way to whoever answers, and would wait for these instead.
  const child = spawn('nice', ['-n', '19', command, ...args], { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
  let said = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => (said += text));
  const code = await new Promise((resolve) => {
    child.on('error', () => resolve(1));
    child.on('close', (ended) => resolve(ended ?? 1));
  });
  console.log(`\n== ${what}\n${said.trimEnd()}`);
  if (code === 0) passed++;
  else {
    failed++;
    failures.push(`${what}\n${said.trim().slice(-2000)}`);
  }
}

/** A test runner that writes its results as JSON. `read` gives how many passed and what failed. */
async function runner(what, command, args, env, file, read) {
  console.log(`\n== ${what}`);
  const code = await show(command, args, env);
  const { good, bad } = existsSync(file) ? read(JSON.parse(readFileSync(file, 'utf8'))) : { good: 0, bad: [] };
  if (bad.length === 0 && code !== 0) bad.push(`${what}: ended with ${code}`);
  passed += good;
  failed += bad.length;
  failures.push(...bad);
}

/** The first lines of what a test said when it failed. */
const start = (text = '') => text.split('\n').slice(0, 12).join('\n');

/** Vitest: a file that could not be loaded has no tests of its own, and counts as one. */
function unitResults(r) {
  const bad = r.testResults.flatMap((file) => {
    const tests = file.assertionResults.filter((t) => t.status === 'failed');
    const name = path.relative(root, file.name);
    for (const { fullName, duration } of file.assertionResults) times.push([`${name}: ${fullName}`, duration ?? 0]);
    if (tests.length === 0 && file.status === 'failed') return [`${name}\n${start(file.message)}`];
    return tests.map((t) => `${name}: ${t.fullName}\n${start(t.failureMessages[0])}`);
  });
  return { good: r.numPassedTests, bad };
}

function browserResults(r) {
  const specs = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(specs)];
  const all = r.suites.flatMap(specs);
  for (const { file, title, tests } of all) times.push([`${file}: ${title}`, tests[0]?.results.at(-1)?.duration ?? 0]);
  const bad = all
    .filter((spec) => !spec.ok)
    .map((spec) => {
      const last = spec.tests[0]?.results.at(-1);
      return `${spec.file}: ${spec.title}\n${start(last?.error?.message)}`;
    });
  return { good: r.stats.expected + r.stats.flaky, bad };
}

let postgres = null;
try {
  await packages({ tests: true });
  await debian('postgres', 'chromium', 'convert', 'pillow', 'psdtools', 'oiiotool', 'ffmpeg', 'cjpeg', 'assimp');
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
      unitResults,
    );
  }
  if (!only || only === 'e2e') {
    const file = path.join(results, 'e2e.json');
    // Pages wait now and then: these have the time.
    const beside = only
      ? []
      : [
          check('kernels', 'node', ['scripts/kernels.mjs', '--check']),
          check('notices', 'node', ['scripts/notices.mjs', '--check']),
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
      browserResults,
    );
    await Promise.all(beside);
  }
} catch (error) {
  failures.push(error.message);
  failed++;
} finally {
  await postgres?.stop();
}
const slowest = times.sort(([, a], [, b]) => b - a).slice(0, SLOWEST);
if (slowest.length > 0) console.log(`\nThe slowest ${slowest.length}:`);
for (const [name, ms] of slowest) console.log(`${(ms / 1000).toFixed(1).padStart(7)} s  ${name}`);
for (const failure of failures) console.error(`\nfailed: ${failure}`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed > 0 || passed === 0 ? 1 : 0);
