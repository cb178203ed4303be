/** What a card, the test bay and a finished skin wait for: pictures of models, files as games read them, stored pictures. `npm run bench -- pictures` */
import { ddsSheet } from '../packages/core/src/bay/dds.ts';
import { picture } from '../packages/core/src/layers/picture/draw.ts';
import { nearestInside } from '../packages/core/src/raster/nearest.ts';
import { portrait } from '../packages/core/src/surface/portrait.ts';
import { SheetSurface } from '../packages/core/src/surface/surface.ts';
import { demoBundle } from '../packages/core/src/testing/scenes.ts';
import { decodeImage, encodeImage } from '../packages/core/src/texture/encode.ts';
import { writeDds } from '../packages/core/src/texture/dds.ts';
import { calibration } from './calibration.ts';
import { spread } from './median.ts';
import { timed } from './timed.ts';

const SIDE = 2048;
const image = {
  ...{ width: SIDE, height: SIDE },
  data: new Uint8Array(SIDE * SIDE * 4).map((_, i) => ((i & 3) === 3 ? 255 : (i * 7919) >> 8)),
};
const say = (what: string, work: () => void, times = 9) => {
  work();
  const { median, p95 } = spread(Array.from({ length: times }, () => timed(work)));
  console.log(`  ${what}: median ${median.toFixed(1)} ms, 95th percentile ${p95.toFixed(1)}`);
};

console.log(`calibrating loop ${calibration().toFixed(0)} ms`);
for (const key of ['tern-tide', 'rescue-launch'] as const) {
  const { template } = await demoBundle(key);
  const small = { width: 512, height: 512, data: image.data.subarray(0, 512 * 512 * 4) };
  const sheets = new Map(template.sheets.map((sheet) => [sheet.key, small]));
  const look = { width: 560, height: 360, heading: 42, elevation: 16 };
  say(`picture of ${template.name}, 560 x 360`, () => void portrait(template, sheets, look));
  const [sheet] = template.sheets;
  say(
    `owners of its ${sheet.name}, ${sheet.width} x ${sheet.height}, new`,
    () =>
      void new SheetSurface(template, sheet.key).ownersIn({
        left: 0,
        top: 0,
        right: sheet.width,
        bottom: sheet.height,
      }),
    5,
  );
}
for (const format of ['bc1', 'bc3', 'bc7'] as const) {
  const name = format.toUpperCase() as 'BC1' | 'BC3' | 'BC7';
  const header = name === 'BC7' ? 'DX10' : 'legacy';
  const levels = Array.from({ length: 12 }, (_, level) => {
    const side = SIDE >> level;
    return encodeImage({ width: side, height: side, data: image.data.subarray(0, side * side * 4) }, format, {
      effort: 'fast',
    });
  });
  const facts = { ...{ width: SIDE, height: SIDE, format }, colourSpace: 'srgb' as const };
  const file = writeDds({ ...facts, header: header === 'DX10' ? 'dx10' : 'legacy' }, levels);
  const read = () => ddsSheet('s', 's.dds', file, { format: name, header });
  const { status, why } = read();
  if (status !== 'shown') throw new Error(why);
  say(`${name} of ${SIDE} with its mips, as a game reads it`, read, 5);
  say(`the largest level by the kernels, to compare`, () => void decodeImage(levels[0], format, SIDE, SIDE), 5);
}
const out = new Uint16Array(256 * 256 * 4);
const env = { image: () => image } as never;
say('a stored picture over a tile of 256', () =>
  picture.draw({ blob: 'x', left: 0, top: 0 } as never, { x: 512, y: 512, width: 256, height: 256, step: 1 }, env, out),
);
const inside = new Uint8Array(SIDE * 288);
for (let k = 0; k < 60; k++)
  for (let y = (k * 37) % 288; y < Math.min(288, ((k * 37) % 288) + 60); y++)
    inside.fill(1, y * SIDE + ((k * 331) % 1900), y * SIDE + ((k * 331) % 1900) + 120);
say(`nearest texels of ${SIDE} x 288, at most 16 away`, () => void nearestInside(inside, SIDE, 288, 16));
console.log(`calibrating loop ${calibration().toFixed(0)} ms`);
