/** What start, test and the others share. Only Node's own modules: nothing is installed yet when these run. */
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';

export const root = path.resolve(import.meta.dirname, '..');
export const data = path.resolve(process.env.WET_LACQUER_DATA ?? path.join(root, '.data'));

/** The steps taken so far, in seconds. */
export const taken = new Map();

/** Runs a step, says what it is and how long it took. */
export async function step(what, work) {
  const began = performance.now();
  process.stdout.write(`${what} ... `);
  const note = await work();
  const seconds = (performance.now() - began) / 1000;
  taken.set(what, seconds);
  console.log(`${note ?? 'done'} (${seconds.toFixed(1)} s)`);
}

/** Runs a command to its end. @throws with the command's own words when it fails */
export function run(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'], ...options });
    let out = '';
    child.stdout?.on('data', (chunk) => (out += chunk));
    child.stderr?.on('data', (chunk) => (out += chunk));
    child.on('error', reject);
    child.on('close', (code) =>
      code === 0
        ? resolve(out)
        : reject(new Error(`${command} ${args.join(' ')} ended with ${code}\n${out.slice(-4000)}`)),
    );
  });
}

const has = (command) => spawnSync('sh', ['-c', `command -v ${command}`]).status === 0;

/** Debian packages by a command that they bring. */
const PACKAGES = {
  postgres: ['postgresql'],
  chromium: ['chromium', 'fonts-liberation'],
  convert: ['imagemagick'],
  pillow: ['python3-pil'],
  cjpeg: ['libjpeg-turbo-progs'],
  psdtools: ['python3-psd-tools'],
  assimp: ['assimp-utils', 'assimp-testmodels', 'gltfpack'],
  oiiotool: ['openimageio-tools'],
  ffmpeg: ['ffmpeg'],
  photographs: ['lomiri-wallpapers-20.04'],
  openmp: ['libomp5-14'],
  squish: ['g++', 'libsquish-dev'],
};
const present = {
  postgres: () => existsSync('/usr/lib/postgresql') && readdirSync('/usr/lib/postgresql').length > 0,
  chromium: () => has('chromium'),
  convert: () => spawnSync('convert', ['-version']).status === 0, // a command of this name may be something else
  oiiotool: () => has('oiiotool'),
  ffmpeg: () => has('ffmpeg'),
  cjpeg: () => has('cjpeg'),
  assimp: () => has('assimp') && has('gltfpack') && existsSync('/usr/share/assimp/models/OBJ'),
  photographs: () => existsSync('/usr/share/backgrounds/Kleiber_by_Lukas_Baubkus.jpg'),
  squish: () => has('g++') && existsSync('/usr/include/squish.h'),
  openmp: () => existsSync('/usr/lib/x86_64-linux-gnu/libomp.so.5'),
  pillow: () => spawnSync('/usr/bin/python3', ['-c', 'import PIL']).status === 0,
  psdtools: () => spawnSync('/usr/bin/python3', ['-c', 'import psd_tools']).status === 0,
};

/** Installs Debian packages that are missing. */
export async function debian(...wanted) {
  const missing = wanted.filter((name) => !present[name]());
  if (missing.length === 0) return;
  const names = missing.flatMap((name) => PACKAGES[name]);
  await step(`Installing ${names.join(', ')} from Debian`, async () => {
    const [command, ...before] = process.getuid() === 0 ? ['apt-get'] : ['sudo', '-n', 'apt-get'];
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
    const apt = (...args) => run(command, [...before, ...args], { env });
    try {
      await apt('update');
      await apt('install', '-y', '--no-install-recommends', ...names);
    } catch (error) {
      throw new Error(
        `${names.join(' ')} could not be installed. Install them by hand (apt-get install ${names.join(' ')}) and try again.\n${error.message}`,
        { cause: error },
      );
    }
  });
}

/**
 * npm ci, unless what is installed belongs to this very lock file. Painting needs no test runner, type checker or compiler of the kernels:
 * they come when tests are run. @param wanted `tests`: whether they are wanted too
 */
export async function packages({ tests }) {
  const mark = path.join(root, 'node_modules/.wet-lacquer-lock');
  const lock = createHash('sha256')
    .update(readFileSync(path.join(root, 'package-lock.json')))
    .digest('hex');
  const has = existsSync(mark) ? readFileSync(mark, 'utf8').split(' ') : [];
  if (has[0] === lock && (!tests || has[1] === 'all')) return;
  await step(`Installing packages from npm${tests ? ', with those of the tests' : ''}`, async () => {
    await run('npm', ['ci', '--no-progress', ...(tests ? [] : ['--omit=dev'])]);
    writeFileSync(mark, `${lock} ${tests ? 'all' : 'painting'}`);
  });
}

/** Builds pages, server and command line, unless nothing has changed since. */
export async function build() {
  const mark = path.join(root, 'packages/server/dist/built');
  const hash = createHash('sha256');
  for (const file of sources(path.join(root, 'packages')).sort()) hash.update(file).update(readFileSync(file));
  hash.update(readFileSync(path.join(root, 'package-lock.json')));
  const now = hash.digest('hex');
  const there = ['web/dist/index.html', 'server/dist/main.js', 'cli/dist/lacquer.js'].every((file) =>
    existsSync(path.join(root, 'packages', file)),
  );
  if (there && existsSync(mark) && readFileSync(mark, 'utf8') === now) return;
  await step('Building', async () => {
    await run('node', ['scripts/build.mjs']);
    writeFileSync(mark, now);
  });
}

function sources(folder) {
  return readdirSync(folder).flatMap((name) => {
    if (name === 'dist' || name === 'node_modules' || name.includes('.generated.')) return [];
    const full = path.join(folder, name);
    return statSync(full).isDirectory() ? sources(full) : [full];
  });
}
