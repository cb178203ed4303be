/**
 * One stroke over a finished skin: a 4096 x 4096 BC7 file with all its mip levels is brought in, one dab is painted, and only that file is
 * delivered. How much of the file keeps its bytes, and how long it takes; beside it the same sheet encoded whole.
 */
import { planDelivery, type PlannedSheet } from '../packages/core/src/delivery/plan.ts';
import { LayerId } from '../packages/core/src/livery/ids.ts';
import { newLivery } from '../packages/core/src/livery/newLivery.ts';
import { newImage } from '../packages/core/src/raster/image.ts';
import { colourSheet } from '../packages/core/src/testing/textures.ts';
import { layerOf } from '../packages/core/src/testing/scenes.ts';
import { writeDds } from '../packages/core/src/texture/dds.ts';
import { encodePlanned } from '../packages/node/src/makeFiles.ts';
import { hashOf } from '../packages/node/src/hash.ts';
import { Pool } from '../packages/node/src/threads/pool.ts';
import { calibration } from './calibration.ts';
import { spread } from './median.ts';

const SIDE = Number(process.env.SIDE ?? 4096);
const before = calibration();
const pool = new Pool(2, new URL('../packages/server/dist/thread.js', import.meta.url));
const tile = colourSheet(5, 1024);
const image = newImage(SIDE, SIDE);
for (let y = 0; y < SIDE; y++)
  for (let x = 0; x < SIDE; x += 1024) {
    const from = (y % 1024) * 1024 * 4;
    image.data.set(tile.data.subarray(from, from + 4096), (y * SIDE + x) * 4);
  }
const levels = await pool.mips(image, { kind: 'srgb', filter: 'kaiser' });
const encoded: Uint8Array[] = [];
for (const level of levels) encoded.push(await pool.encode(level, 'bc7', { effort: 'fast' }));
const file = writeDds({ width: SIDE, height: SIDE, format: 'bc7', header: 'dx10', colourSpace: 'srgb' }, encoded);
const name = 'skin/hull.dds';
const made = await pool.run('makeTemplate', {
  decisions: {
    name: 'Bench',
    game: 'Bench',
    model: null,
    stance: { up: 'y', unit: 1, mirrored: false, divide: true, uvSets: {} },
    sheets: [
      {
        material: 'hull',
        name: 'hull',
        colour: name,
        layered: null,
        also: [],
        maps: [],
        followers: [],
        upsideDown: false,
        side: SIDE,
      },
    ],
    companions: [],
    replaces: null,
    roles: {},
  },
  files: new Map([[name, file]]),
});
const template = made.document;
const hash = hashOf(JSON.stringify(template));
const livery = newLivery(template, hash, 'Bench');
const layers = livery.sheets[0].maps[0].layers;
const spec = template.ownSpec!;
const blobs = made.blobs;

async function deliver(what: string, x: number, over: boolean) {
  const dab = layerOf('shape', {
    id: LayerId.parse(`dab-${x}`),
    ...{ paint: { hex: '#d9573f' }, x, y: SIDE * 0.4, line: null },
    paths: [
      {
        closed: true,
        how: 'add',
        knots: [
          [0, 0],
          [90, 20],
          [60, 80],
        ].map(([px, py]) => ({ x: px, y: py, smooth: true })),
      },
    ],
  });
  const painted = {
    ...livery,
    sheets: [{ ...livery.sheets[0], maps: [{ ...livery.sheets[0].maps[0], layers: [...layers, dab] }] }],
  };
  const rule = over ? spec : { ...spec, files: spec.files.map((one) => ({ ...one, over: undefined })) };
  const planned = planDelivery(painted, template, rule).files[0] as PlannedSheet;
  const scene = { livery: painted, template, blobs };
  let said = '';
  const began = performance.now();
  const step = async (text: string) => {
    if (text.includes('blocks')) said = text.slice(text.indexOf(':') + 2);
  };
  await encodePlanned({ pool, scene, spec: rule, step, files: async () => file, held: new Map() }, planned);
  return { what, ms: performance.now() - began, said };
}

const cold = await deliver('first', 100, true);
const runs = [];
for (let k = 0; k < 5; k++) runs.push(await deliver('again', 400 + k * 600, true));
const whole = await deliver('whole', 900, false);
const { median } = spread(runs.map(({ ms }) => ms));
console.log(
  `one dab over a ${SIDE} BC7 file with all levels (${(file.length / 2 ** 20).toFixed(1)} MiB), two threads:`,
);
console.log(`  new: ${runs[0].said}`);
console.log(
  `  ${(cold.ms / 1000).toFixed(2)} s the first time, then median ${(median / 1000).toFixed(2)} s of ${runs.map(({ ms }) => (ms / 1000).toFixed(2)).join(', ')}`,
);
console.log(`  the same sheet encoded whole: ${(whole.ms / 1000).toFixed(2)} s`);
console.log(`  calibrating loop ${before.toFixed(0)} ms before, ${calibration().toFixed(0)} ms after`);
await pool.close();
