/** npm run fuzz: the property and hostile tests at length, with other cases each time. FUZZ_SEED runs the same ones again. */
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { root } from './steps.mjs';

const seed = process.env.FUZZ_SEED ?? String(Date.now() % 2 ** 31);
const files = readdirSync(`${root}/packages`, { recursive: true })
  .map((file) => `packages/${file}`)
  .filter((file) => file.endsWith('.test.ts') && !file.includes('node_modules'))
  .filter((file) => /testing\/property|FUZZ_RUNS/.test(readFileSync(`${root}/${file}`, 'utf8')));
console.log(`seed ${seed}, ${files.length} files of tests`);
const { status } = spawnSync('npx', ['vitest', 'run', ...files, '--testTimeout', '3600000'], {
  cwd: root,
  stdio: 'inherit',
  env: { FUZZ_RUNS: '20000', ...process.env, FUZZ_SEED: seed },
});
console.log(`seed ${seed}`);
process.exit(status ?? 1);
