import type { Image8 } from './image.ts';

/** A picture made ready for placing: 16-bit premultiplied RGBA, and its halvings down to one texel. */
export interface Picture {
  readonly levels: readonly { width: number; height: number; data: Uint16Array }[];
}

/** Straight RGBA8 to a Picture. Halving averages premultiplied values, so clear texels lend no colour. */
export function pictureOf(image: Image8): Picture {
  const data = new Uint16Array(image.data.length);
  for (let i = 0; i < data.length; i += 4) {
    const a = image.data[i + 3];
    for (let c = 0; c < 3; c++) data[i + c] = ((image.data[i + c] * a * 257 + 127) / 255) | 0;
    data[i + 3] = a * 257;
  }
  const levels = [{ width: image.width, height: image.height, data }];
  for (let top = levels[0]; top.width > 1 || top.height > 1; top = levels[levels.length - 1]) {
    const width = Math.max(1, top.width >> 1);
    const height = Math.max(1, top.height >> 1);
    const next = new Uint16Array(width * height * 4);
    const dx = top.width > 1 ? 4 : 0;
    const dy = top.height > 1 ? top.width * 4 : 0;
    for (let y = 0, o = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const i = (Math.min(y * 2, top.height - 1) * top.width + Math.min(x * 2, top.width - 1)) * 4;
        for (let c = 0; c < 4; c++, o++) {
          next[o] =
            (top.data[i + c] + top.data[i + dx + c] + top.data[i + dy + c] + top.data[i + dx + dy + c] + 2) >> 2;
        }
      }
    }
    levels.push({ width, height, data: next });
  }
  return { levels };
}

/**
 * Bilinear sample into `out[at..at+3]`, clear outside the picture.
 * @param u,v position in the picture, 0..1
 */
export function samplePicture(picture: Picture, level: number, u: number, v: number, out: Float64Array): void {
  const { width, height, data } = picture.levels[level];
  const x = u * width - 0.5;
  const y = v * height - 0.5;
  const x0 = Math.floor(x);
  const y0 = Math.floor(y);
  const fx = x - x0;
  const fy = y - y0;
  for (let k = 0; k < 4; k++) {
    const px = x0 + (k & 1);
    const py = y0 + (k >> 1);
    if (px < 0 || py < 0 || px >= width || py >= height) continue;
    const w = (k & 1 ? fx : 1 - fx) * (k >> 1 ? fy : 1 - fy);
    const i = (py * width + px) * 4;
    out[0] += data[i] * w;
    out[1] += data[i + 1] * w;
    out[2] += data[i + 2] * w;
    out[3] += data[i + 3] * w;
  }
}
