import { newImage, type Image8 } from './image.ts';

/** The picture mirrored: `across` changes left and right, `down` top and bottom. */
export function mirrorImage(image: Image8, mirror: 'none' | 'across' | 'down'): Image8 {
  if (mirror === 'none') return image;
  const { width, height } = image;
  const from = new Uint32Array(image.data.buffer, image.data.byteOffset, width * height);
  const out = newImage(width, height);
  const to = new Uint32Array(out.data.buffer);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      to[y * width + x] = mirror === 'across' ? from[y * width + width - 1 - x] : from[(height - 1 - y) * width + x];
  return out;
}
