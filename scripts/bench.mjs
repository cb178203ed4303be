/** npm run bench [-- easel|delivery|over|games|size|texture|layered|bake|surface|model|onto|pictures|storage]: measures, prints, changes nothing. */
import os from 'node:os';
import { build, debian, packages } from './steps.mjs';
import { runWithCluster } from './withCluster.mjs';

const which = process.argv[2];
const known = [
  'easel',
  'delivery',
  'over',
  'games',
  'size',
  'texture',
  'layered',
  'bake',
  'surface',
  'model',
  'onto',
  'pictures',
  'storage',
];
if (which && !known.includes(which)) {
  console.error(`npm run bench -- ${known.join('|')}`);
  process.exit(2);
}
await packages({ tests: true });
await debian('postgres', 'chromium');
if (!which || which === 'texture') await debian('pillow', 'convert', 'photographs', 'openmp', 'squish');
await build();
console.log(
  `${os.cpus()[0].model}, ${os.availableParallelism()} processors, ${Math.round(os.totalmem() / 2 ** 30)} GiB, Node ${process.version}`,
);
await runWithCluster((which ? [which] : known).map((name) => [`bench/${name}.ts`, ...process.argv.slice(3)]));
