/** One cell of an atlas put into a texture that is there already: its own blocks change, all others stay as they are, bit for bit. */
import { InputError } from '../errors.ts';
import { cropImage, wordsOf, type Image8 } from '../raster/image.ts';
import { headerBytes, readDdsFacts } from '../texture/dds.ts';
import type { Encoding } from '../texture/encoding.ts';
import { encodeImage } from '../texture/encode.ts';
import { FORMATS, rowBytes, rowsOf } from '../texture/formats/index.ts';
import { mipChain, mipSize, type MipOptions } from '../texture/mips.ts';
import type { SpecFile } from '../livery/spec.ts';

interface Cells {
  columns: number;
  rows: number;
}

/** The cells in which two pictures of one size differ, row by row from the top left. */
export function cellsChanged(a: Image8, b: Image8, { columns, rows }: Cells): number[] {
  const [wide, high] = [a.width / columns, a.height / rows];
  const [left, right] = [wordsOf(a.data), wordsOf(b.data)];
  const changed = new Set<number>();
  for (let y = 0; y < a.height; y++) {
    const row = Math.floor(y / high) * columns;
    for (let x = 0; x < a.width; x++) {
      const at = y * a.width + x;
      if (left[at] === right[at]) continue;
      const column = Math.floor(x / wide);
      changed.add(row + column);
      // The rest of this line of the cell says nothing more.
      x = Math.floor((column + 1) * wide) - 1;
    }
  }
  return [...changed].sort((p, q) => p - q);
}

/**
 * The bytes of a DDS texture with some cells of a picture in it. Each cell's mip levels are made from that cell alone. In levels where
 * a cell no longer fills whole blocks of 4 x 4 it shares them with its neighbours, and they keep what they have.
 * @param base the game's own file @param image the whole atlas as painted, prepared as the file has it
 * @throws InputError when the file is not what the spec says, or its cells do not fill whole blocks
 */
export function putCells(
  base: Uint8Array,
  image: Image8,
  changed: readonly number[],
  { columns, rows }: Cells,
  file: Pick<SpecFile, 'format'>,
  mips: MipOptions,
  encoding: Encoding,
): Uint8Array {
  const facts = readDdsFacts(base);
  const format = FORMATS[file.format];
  if (facts.format !== file.format)
    throw new InputError(`The game's own file is ${facts.compression}, and the spec says ${format.name}.`);
  if (facts.width !== image.width || facts.height !== image.height)
    throw new InputError(
      `The game's own file is ${facts.width} x ${facts.height}, and the sheet ${image.width} x ${image.height}.`,
    );
  const [wide, high] = [image.width / columns, image.height / rows];
  if (wide % 4 !== 0 || high % 4 !== 0)
    throw new InputError(`Cells of ${wide} x ${high} texels do not fill whole blocks of 4 x 4.`);
  const out = base.slice();
  for (const cell of changed) {
    const [column, row] = [cell % columns, Math.floor(cell / columns)];
    const levels = mipChain(cropImage(image, column * wide, row * high, wide, high), mips);
    let start = headerBytes(facts.header);
    for (let level = 0; level < Math.min(facts.mips, levels.length); level++) {
      const [w, h] = [wide >> level, high >> level];
      if (w % 4 !== 0 || h % 4 !== 0 || w === 0 || h === 0) break;
      const blocks = encodeImage(levels[level], file.format, encoding);
      const size = mipSize(image.width, image.height, level);
      const [line, own] = [rowBytes(format, size.width), rowBytes(format, w)];
      const per = format.blockBytes ? 4 : 1;
      for (let y = 0; y < rowsOf(format, h); y++)
        out.set(blocks.subarray(y * own, (y + 1) * own), start + ((row * h) / per + y) * line + column * own);
      start += rowsOf(format, size.height) * line;
    }
  }
  return out;
}
