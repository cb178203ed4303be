import type { Picture } from './picture.ts';

/** Share of the border's pixels that have to be opaque, and how far their colours may stray, for it to be a box. */
const [OPAQUE, STRAY] = [0.98, 10];

/**
 * The colour of the box that a picture brings along: its outermost pixels are opaque and nearly of one colour, and its inside is not the
 * same again. Straight 8-bit sRGB; null when there is none.
 */
export function boxColour({ levels }: Picture): [r: number, g: number, b: number] | null {
  const [{ width, height, data }] = levels;
  if (width < 8 || height < 8) return null;
  const at = (x: number, y: number) => (y * width + x) * 4;
  const border = [
    ...Array.from({ length: width }, (_, x) => [at(x, 0), at(x, height - 1)]).flat(),
    ...Array.from({ length: height }, (_, y) => [at(0, y), at(width - 1, y)]).flat(),
  ];
  const opaque = border.filter((i) => data[i + 3] > 64_000);
  if (opaque.length < border.length * OPAQUE) return null;
  const mean = [0, 1, 2].map((c) => opaque.reduce((sum, i) => sum + data[i + c], 0) / opaque.length);
  const strays = (i: number) => Math.max(...[0, 1, 2].map((c) => Math.abs(data[i + c] - mean[c]))) > STRAY * 257;
  if (opaque.filter(strays).length > opaque.length * (1 - OPAQUE)) return null;
  let other = 0;
  for (let y = 1; y < height - 1; y += 2) for (let x = 1; x < width - 1; x += 2) if (strays(at(x, y))) other++;
  return other > 4 ? (mean.map((v) => Math.round(v / 257)) as [number, number, number]) : null;
}
