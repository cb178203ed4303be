/** What files of the games themselves are made with. The SVG rasteriser must have been started. */
import { zipSync } from 'fflate';
import { ZIP_TIME } from '../../packages/core/src/files/archive.ts';
import { drawSvg } from '../../packages/core/src/files/svg.ts';
import type { Image8 } from '../../packages/core/src/raster/image.ts';
import { writeDds } from '../../packages/core/src/texture/dds.ts';
import { encodeImage } from '../../packages/core/src/texture/encode.ts';
import { mipChain } from '../../packages/core/src/texture/mips.ts';
import { ground } from '../originals.ts';

export const text = (lines: readonly string[], end = '\n') =>
  new TextEncoder().encode(lines.map((line) => line + end).join(''));

export function bc1(image: Image8): Uint8Array {
  const levels = mipChain(image, { kind: 'srgb', filter: 'kaiser' });
  const { width, height } = image;
  return writeDds(
    { width, height, format: 'bc1', header: 'legacy', colourSpace: 'srgb' },
    levels.map((level) => encodeImage(level, 'bc1', { effort: 'normal' })),
  );
}

export const plain = (hex: string, side: number) => drawSvg(ground(side, side, hex), side);
export const zip = (files: Record<string, Uint8Array>) => zipSync(files, { mtime: ZIP_TIME, level: 6 });
