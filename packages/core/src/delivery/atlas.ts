/** One cell of an atlas put into a texture that is there already: its own blocks change, all others stay as they are, bit for bit. */
import { InputError } from '../errors.ts';
import { cropImage, wordsOf, type Image8 } from '../raster/image.ts';
import { headerBytes, readDdsFacts, type DdsFacts } from '../texture/dds.ts';
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
  const cells = cellLines(facts, { columns, rows });
  const [wide, high] = [image.width / columns, image.height / rows];
  const out = base.slice();
  for (const cell of changed) {
    const [column, row] = [cell % columns, Math.floor(cell / columns)];
    const levels = mipChain(cropImage(image, column * wide, row * high, wide, high), mips);
    const blocks: Uint8Array[] = [];
    for (const { level, line, at, bytes } of cells(cell)) {
      if (level >= levels.length) break;
      blocks[level] ??= encodeImage(levels[level], file.format, encoding);
      out.set(blocks[level].subarray(line * bytes, (line + 1) * bytes), at);
    }
  }
  return out;
}

/**
 * Some cells of one atlas put into another: blocks are copied, nothing is encoded.
 * @param base the game's own file @param from another of its kind, with the cells that are wanted
 * @throws InputError when they are not alike, or their cells do not fill whole blocks
 */
export function moveCells(
  base: Uint8Array,
  from: Uint8Array,
  { changed, ...cells }: Cells & { changed: readonly number[] },
): Uint8Array {
  const lines = cellsOfBoth(base, from, cells);
  const out = base.slice();
  for (const cell of changed) for (const { at, bytes } of lines(cell)) out.set(from.subarray(at, at + bytes), at);
  return out;
}

/** The cells in which two atlases of one kind differ in any block, row by row from the top left. @throws InputError when they are not alike */
export function cellsApart(a: Uint8Array, b: Uint8Array, cells: Cells): number[] {
  const lines = cellsOfBoth(a, b, cells);
  const differs = (cell: number) => {
    for (const { at, bytes } of lines(cell)) for (let i = at; i < at + bytes; i++) if (a[i] !== b[i]) return true;
    return false;
  };
  return Array.from({ length: cells.columns * cells.rows }, (_, cell) => cell).filter(differs);
}

function cellsOfBoth(a: Uint8Array, b: Uint8Array, cells: Cells) {
  const [mine, theirs] = [readDdsFacts(a), readDdsFacts(b)];
  for (const what of ['format', 'width', 'height', 'mips', 'header'] as const)
    if (mine[what] !== theirs[what])
      throw new InputError(`The two atlases are not alike: ${what} ${mine[what]} and ${theirs[what]}.`);
  if (a.length !== b.length) throw new InputError('The two atlases are not alike: one of them is cut short.');
  return cellLines(mine, cells);
}

/** A line of blocks of one cell, in one mip level. */
interface CellLine {
  level: number;
  /** Of the cell's own lines, from the top. */
  line: number;
  /** Where it begins in the file, and how long it is. */
  at: number;
  bytes: number;
}

/**
 * Where the cells of an atlas lie in its file. Levels in which a cell no longer fills whole blocks of 4 x 4 are its neighbours' as well, and left out.
 * @throws InputError when the file is of no known format, or its cells do not fill whole blocks
 */
function cellLines(facts: DdsFacts, { columns, rows }: Cells): (cell: number) => Generator<CellLine> {
  const { width, height, mips, header } = facts;
  const format = facts.format === 'masks' ? null : FORMATS[facts.format];
  if (!format) throw new InputError(`The game's own file is ${facts.compression}, which has no cells here.`);
  const [wide, high] = [width / columns, height / rows];
  if (wide % 4 !== 0 || high % 4 !== 0)
    throw new InputError(`Cells of ${wide} x ${high} texels do not fill whole blocks of 4 x 4.`);
  const per = format.blockBytes ? 4 : 1;
  return function* (cell) {
    const [column, row] = [cell % columns, Math.floor(cell / columns)];
    if (row >= rows) return;
    let start = headerBytes(header);
    for (let level = 0; level < mips; level++) {
      const [w, h] = [wide >> level, high >> level];
      if (w % 4 !== 0 || h % 4 !== 0 || w === 0 || h === 0) return;
      const size = mipSize(width, height, level);
      const [whole, bytes] = [rowBytes(format, size.width), rowBytes(format, w)];
      for (let line = 0; line < rowsOf(format, h); line++)
        yield { level, line, at: start + ((row * h) / per + line) * whole + column * bytes, bytes };
      start += rowsOf(format, size.height) * whole;
    }
  };
}
