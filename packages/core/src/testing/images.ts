import { newImage, type Image8 } from '../raster/image.ts';

/** Repeatable numbers 0..1 (mulberry32, public domain). */
export function randomFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** A picture from a function of the texel. */
export function picture(width: number, height: number, at: (x: number, y: number) => readonly number[]): Image8 {
  const image = newImage(width, height);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) image.data.set(at(x, y), (y * width + x) * 4);
  return image;
}

/** Smooth ground, hard slanted bands, thin saturated lines on white, grain: what liveries are made of. */
export function liveryLike(side: number, seed = 1, soft = false): Image8 {
  const random = randomFrom(seed);
  return picture(side, side, (x, y) => {
    const grain = (random() - 0.5) * 6;
    const alpha = soft ? Math.max(0, Math.min(255, Math.round(127 + 160 * Math.sin(x / 9) * Math.cos(y / 11)))) : 255;
    if ((x + y * 2) % 64 < 9) return [233, 98, 76, alpha];
    if (y > side / 2 && x % 16 < 3) return [220, 10, 20, alpha];
    if (y > side / 2) return [255, 255, 255, alpha];
    return [80 + (x * 100) / side + grain, 120 + grain, 140 + (y * 80) / side + grain, alpha];
  });
}
