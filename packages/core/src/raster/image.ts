/** A picture as stored and delivered: RGBA8, straight alpha, rows from the top, `data.length === width * height * 4`. */
export interface Image8 {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

/** Side of a tile in texels. */
export const TILE = 256;

export function newImage(width: number, height: number): Image8 {
  return { width, height, data: new Uint8Array(width * height * 4) };
}

/** A part of an image, which lies wholly inside it; the image itself when the part is all of it. */
export function cropImage(image: Image8, x: number, y: number, width: number, height: number): Image8 {
  if (x === 0 && y === 0 && width === image.width && height === image.height) return image;
  const out = newImage(width, height);
  for (let row = 0; row < height; row++) {
    const from = ((y + row) * image.width + x) * 4;
    out.data.set(image.data.subarray(from, from + width * 4), row * width * 4);
  }
  return out;
}

/** Vertical mirror: row 0 becomes the last row. */
export function flipRows(image: Image8): Image8 {
  const stride = image.width * 4;
  const out = newImage(image.width, image.height);
  for (let y = 0; y < image.height; y++) {
    out.data.set(image.data.subarray(y * stride, y * stride + stride), (image.height - 1 - y) * stride);
  }
  return out;
}

/** What the alpha channel carries: nothing, only 0 and 255, or values between. */
export function alphaKind(image: Image8): 'none' | 'cutout' | 'soft' {
  let cut = false;
  for (let i = 3; i < image.data.length; i += 4) {
    const a = image.data[i];
    if (a === 255) continue;
    if (a !== 0) return 'soft';
    cut = true;
  }
  return cut ? 'cutout' : 'none';
}

/** The texels of straight RGBA8 as one number each, over the same memory: to be copied and told from each other, not read. */
export const wordsOf = (data: Uint8Array): Uint32Array =>
  new Uint32Array(data.buffer, data.byteOffset, data.length / 4);
