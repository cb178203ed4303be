/** Rows of 4 x 4 blocks through the kernels. */
import { InputError } from '../errors.ts';
import type { Image8 } from '../raster/image.ts';
import { settingsOf, type Encoding } from './encoding.ts';
import type { BlockFormat } from './formats/kind.ts';
import { kernel, ROOM, SETTINGS } from '../kernels/kernel.ts';

/** What the kernels last worked by: blocks that they remember are good only for that. */
let last = '';

/** Block rows `from` to `to` (exclusive) into `out`. Edge texels repeat past the image. */
export function encodeBlockRows(
  { blockBytes, kernel: told }: BlockFormat,
  image: Image8,
  from: number,
  to: number,
  out: Uint8Array,
  encoding: Encoding,
): void {
  const k = kernel();
  const { weights, numbers } = settingsOf(told, encoding);
  const settings = `${told.number} ${weights.join()} ${numbers.join()}`;
  const view = new DataView(k.memory.buffer);
  if (settings !== last) {
    for (let i = 0; i < 8; i++) view.setInt16(SETTINGS + i * 2, weights[i & 3], true);
    numbers.forEach((value, i) => view.setInt32(SETTINGS + 16 + i * 4, value, true));
    k.forget();
    last = settings;
  }
  const bytes = new Uint8Array(k.memory.buffer);
  const columns = Math.ceil(image.width / 4);
  const stride = columns * 16;
  const result = ROOM + stride * 4;
  for (let by = from, at = 0; by < to; by++, at += columns * blockBytes) {
    for (let y = 0; y < 4; y++) {
      const row = Math.min(by * 4 + y, image.height - 1) * image.width * 4;
      const place = ROOM + y * stride;
      bytes.set(image.data.subarray(row, row + image.width * 4), place);
      for (let x = image.width * 4; x < stride; x++) bytes[place + x] = bytes[place + x - 4];
    }
    k.row(told.number, ROOM, stride, columns, result);
    out.set(bytes.subarray(result, result + columns * blockBytes), at);
  }
}

/** Fills the image from blocks. @throws InputError when there are too few */
export function decodeBlockRows({ blockBytes, kernel: told }: BlockFormat, source: Uint8Array, image: Image8): void {
  const k = kernel();
  const bytes = new Uint8Array(k.memory.buffer);
  const columns = Math.ceil(image.width / 4);
  if (source.length < columns * Math.ceil(image.height / 4) * blockBytes)
    throw new InputError('There are fewer blocks than the picture needs.');
  const stride = columns * 16;
  const result = ROOM + columns * blockBytes + 16;
  for (let by = 0, at = 0; by * 4 < image.height; by++, at += columns * blockBytes) {
    bytes.set(source.subarray(at, at + columns * blockBytes), ROOM);
    k.unrow(told.number, ROOM, columns, result, stride);
    for (let y = 0; y < 4 && by * 4 + y < image.height; y++) {
      const place = result + y * stride;
      image.data.set(bytes.subarray(place, place + image.width * 4), (by * 4 + y) * image.width * 4);
    }
  }
}
