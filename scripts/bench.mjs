/** npm run bench [-- easel|delivery|over|games|size|texture|layered|bake|storage]: measures, prints, changes nothing. */
import { spawn } from 'node:child_process';
import os from 'node:os';
import path from 'node:path';
import { startPostgres } from './postgres.mjs';
import { build, data, debian, packages, root } from './steps.mjs';

const which = process.argv[2];
const known = ['easel', 'delivery', 'over', 'games', 'size', 'texture', 'layered', 'bake', 'storage'];
if (which && !known.includes(which)) {
  console.error(`npm run bench -- ${known.join('|')}`);
  process.exit(2);
}
await packages();
await debian('postgres', 'chromium');
if (!which || which === 'texture') await debian('pillow', 'convert', 'photographs', 'openmp', 'squish');
await build();
console.log(
  `${os.cpus()[0].model}, ${os.availableParallelism()} processors, ${Math.round(os.totalmem() / 2 ** 30)} GiB, Node ${process.version}`,
);
const postgres = await startPostgres(path.join(data, 'test-pg'));
try {
  for (const name of which ? [which] : known) {
    await new Promise((resolve) => {
      const child = spawn('npx', ['tsx', `bench/${name}.ts`, ...process.argv.slice(3)], {
        cwd: root,
        stdio: 'inherit',
        env: { ...process.env, TEST_POSTGRES: postgres.url('postgres') },
      });
      child.on('close', resolve);
    });
  }
} finally {
  await postgres.stop();
}
