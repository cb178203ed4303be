import { scoped, zeroedTile } from './arena.ts';

/** Samples of a picture. */
export interface Rectangle {
  left: number;
  top: number;
  width: number;
  height: number;
}

/**
 * Works on a rectangle of 16-bit values that lie row by row, as if it were all there is: in place where it is as wide as the rows are,
 * else on a copy that is put back. What `work` takes in the arena is free again afterwards.
 * @param width samples in a row; @param channels values of each
 */
export function onRectangle(
  values: Uint16Array,
  width: number,
  channels: number,
  { left, top, width: wide, height }: Rectangle,
  work: (part: Uint16Array) => void,
): void {
  if (wide === width) {
    scoped(() => work(values.subarray(top * width * channels, (top + height) * width * channels)));
    return;
  }
  scoped(() => {
    const part = zeroedTile(wide * height * channels);
    const row = (y: number) => {
      const from = ((top + y) * width + left) * channels;
      return values.subarray(from, from + wide * channels);
    };
    for (let y = 0; y < height; y++) part.set(row(y), y * wide * channels);
    work(part);
    for (let y = 0; y < height; y++) row(y).set(part.subarray(y * wide * channels, (y + 1) * wide * channels));
  });
}
