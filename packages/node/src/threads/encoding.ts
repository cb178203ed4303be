/** Filtering and encoding of pictures: what most threads do most of the time, and nothing else that would have to be loaded for it. */
import type { Image8 } from '@wet-lacquer/core/raster/image.ts';
import { rowErrors } from '@wet-lacquer/core/texture/compare.ts';
import type { Encoding } from '@wet-lacquer/core/texture/encoding.ts';
import { encodeRows as encode } from '@wet-lacquer/core/texture/encode.ts';
import { FORMATS, rowBytes, type FormatKey } from '@wet-lacquer/core/texture/formats/index.ts';
import {
  filterBand,
  keepCoverage,
  mipChain,
  type FilterOptions,
  type FloatImage,
  type MipOptions,
} from '@wet-lacquer/core/texture/mips.ts';

export async function mips(task: { image: Image8; options: MipOptions }): Promise<Image8[]> {
  return mipChain(task.image, task.options);
}

/** A share of the rows of the first levels, and of the floats of the last of them. */
export async function mipBand(task: {
  levels: Image8[];
  options: FilterOptions;
  band: number;
  bands: number;
  last?: FloatImage;
}): Promise<void> {
  filterBand(task.levels[0], task.options, 1, task.levels, task.band, task.bands, task.last);
}

/** The levels from `first` on, from the floats of the one above. */
export async function mipRest(task: {
  levels: Image8[];
  options: MipOptions;
  first: number;
  base: FloatImage;
}): Promise<void> {
  filterBand(task.base, task.options, task.first, task.levels, 0, 1);
  keepCoverage(task.levels, task.options);
}

/**
 * Rows of blocks `from` to `to` of an image into their place in `out`; both lie in shared memory.
 * @returns squared errors of r, g, b and alpha; zeros unless `measure`
 */
export async function encodeRows(task: {
  image: Image8;
  format: FormatKey;
  from: number;
  to: number;
  encoding: Encoding;
  out: Uint8Array;
  measure: boolean;
}): Promise<number[]> {
  const { image, from, to } = task;
  const bytes = rowBytes(FORMATS[task.format], image.width);
  const part = task.out.subarray(from * bytes, to * bytes);
  encode(task.format, image, from, to, part, task.encoding);
  return task.measure ? rowErrors(image, task.format, from, to, part) : [0, 0, 0, 0];
}
