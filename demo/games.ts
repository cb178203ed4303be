/** What the stand-in games bring themselves: files that deliveries continue, share or meet. A zip for each that has any. */
import { zipSync } from 'fflate';
import { ZIP_TIME } from '../packages/core/src/files/archive.ts';
import { drawSvg } from '../packages/core/src/files/svg.ts';
import type { Image8 } from '../packages/core/src/raster/image.ts';
import { writeDds } from '../packages/core/src/texture/dds.ts';
import { encodeImage } from '../packages/core/src/texture/encode.ts';
import { mipChain } from '../packages/core/src/texture/mips.ts';
import { writeTga } from '../packages/core/src/texture/tga.ts';
import { ground, sailArt } from './originals.ts';

const text = (lines: readonly string[], end = '\n') =>
  new TextEncoder().encode(lines.map((line) => line + end).join(''));

function bc1(image: Image8): Uint8Array {
  const levels = mipChain(image, { kind: 'srgb', filter: 'kaiser' });
  const { width, height } = image;
  return writeDds(
    { width, height, format: 'bc1', header: 'legacy', colourSpace: 'srgb' },
    levels.map((level) => encodeImage(level, 'bc1', { effort: 'normal' })),
  );
}

const plain = (hex: string, side: number) => drawSvg(ground(side, side, hex), side);
const zip = (files: Record<string, Uint8Array>) => zipSync(files, { mtime: ZIP_TIME, level: 6 });

/** By game: path in its folder to bytes. The SVG rasteriser must have been started. */
export function gameFiles(): Record<string, Record<string, Uint8Array>> {
  const cloak = 'courier/wardrobe/courier_cloak.tga';
  const bale = { archive: 16, order: 90, name: 'Harbour cloaks', author: 'Quayside', replaces: [cloak] };
  const sails = sailArt();
  return {
    'ninth-meridian': {
      'hangar.list': text(
        [
          'entry 0 {',
          '  title "Works white"',
          '  code "works"',
          '  wrap ""',
          '  registration "NM-000"',
          '  thumbnail ""',
          '}',
          'entry 1 {',
          '  title "Primer"',
          '  code "primer"',
          '  wrap ""',
          '  registration "NM-001"',
          '  thumbnail ""',
          '}',
        ],
        '\r\n',
      ),
    },
    'ferrywardens-oath': {
      'bales/90-harbour-cloaks.over.bale': zip({
        'bale.json': text([JSON.stringify(bale, null, 2)]),
        [cloak]: writeTga(plain('#3c4a52', 64), { alpha: false, rle: true }),
      }),
    },
    tollbarge: { 'barges/sails.dds': bc1(drawSvg(sails.svg, Math.max(sails.width, sails.height))) },
    'harbour-watch': {
      'liveries/launch-21/launch-21_bow.dds': bc1(plain('#8a4b32', 1024)),
      'liveries/launch-21/launch-21_bow_large.dds': bc1(plain('#8a4b32', 4096)),
    },
  };
}
