/**
 * Exact nearest inside texel by Euclidean distance of centres (two passes by column, then the lower envelope of parabolas by
 * row: Meijster, Roerdink and Hesselink, "A general algorithm for computing distance transforms in linear time", 2000).
 * @param within only texels that are not inside, and have one so near, need a right answer: most of a sheet is then passed over
 */
export function nearestInside(
  inside: Uint8Array,
  width: number,
  height: number,
  within: number = Infinity,
): Int32Array {
  const FAR = Math.min(width + height, within);
  const near = within < Infinity;
  const NONE = width + height;
  const up = new Int32Array(width * height);
  // Columns, but row by row: memory is read as it lies.
  const last = new Int32Array(width).fill(-NONE * 2);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (inside[i]) last[x] = y;
      up[i] = last[x];
    }
  }
  last.fill(NONE * 3);
  for (let y = height - 1; y >= 0; y--) {
    for (let x = 0, i = y * width; x < width; x++, i++) {
      if (inside[i]) last[x] = y;
      if (last[x] - y < y - up[i]) up[i] = last[x];
    }
  }
  const out = new Int32Array(width * height).fill(-1);
  const seat = new Int32Array(width);
  const start = new Int32Array(width);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    const drop = (x: number) => {
      const d = up[row + x] - y;
      return d > FAR || d < -FAR ? -1 : d * d;
    };
    let q = -1;
    for (let u = 0; u < width; u++) {
      const gu = drop(u);
      if (gu < 0) continue;
      // Within a run of texels that are inside, only its ends can be nearest to one that is not.
      if (gu === 0 && near && u > 0 && u < width - 1 && inside[row + u - 1] && inside[row + u + 1]) continue;
      for (;;) {
        if (q < 0) {
          q = 0;
          seat[0] = u;
          start[0] = 0;
          break;
        }
        const i = seat[q];
        const gi = drop(i);
        const t = start[q];
        if ((t - i) * (t - i) + gi > (t - u) * (t - u) + gu) {
          q--;
          continue;
        }
        const w = 1 + Math.floor((u * u - i * i + gu - gi) / (2 * (u - i)));
        if (w < width) {
          q++;
          seat[q] = u;
          start[q] = w;
        }
        break;
      }
    }
    if (q < 0) continue;
    for (let u = width - 1; u >= 0; u--) {
      out[row + u] = up[row + seat[q]] * width + seat[q];
      if (u === start[q]) q--;
    }
  }
  return out;
}
