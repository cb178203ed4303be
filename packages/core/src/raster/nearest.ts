/**
 * Exact nearest inside texel by Euclidean distance of centres (two passes by column, then the lower envelope of parabolas by
 * row: Meijster, Roerdink and Hesselink, "A general algorithm for computing distance transforms in linear time", 2000). The envelope
 * is made gap by gap: no texel beyond the inside texels at a gap's ends is as near as they are. Of several that are equally near, the
 * one of the leftmost column is taken, and of two in that column the upper one.
 * @param inside one byte a texel, 0 outside
 * @param within texels: where none is so near, the answer may be -1
 * @returns of each texel the index of the inside texel nearest to it, its own where it is inside; -1 where there is none
 */
export function nearestInside(
  inside: Uint8Array,
  width: number,
  height: number,
  within: number = Infinity,
): Int32Array {
  const far = Math.min(width + height, Math.floor(within));
  const above = rowOfNearest(inside, width, height);
  const out = new Int32Array(width * height).fill(-1);
  const seat = new Int32Array(width);
  const start = new Int32Array(width);
  const drops = new Int32Array(width);
  for (let y = 0, row = 0; y < height; y++, row += width) {
    for (let a = 0; a < width;) {
      if (inside[row + a]) {
        out[row + a] = row + a++;
        continue;
      }
      let b = a + 1;
      while (b < width && !inside[row + b]) b++;
      const last = Math.min(b, width - 1);
      let q = -1;
      for (let u = Math.max(0, a - 1); u <= last; u++) {
        const d = above[row + u] - y;
        if (d > far || d < -far) continue;
        const g = d * d;
        while (q >= 0) {
          const [left, right] = [start[q] - seat[q], start[q] - u];
          if (left * left + drops[q] <= right * right + g) break;
          q--;
        }
        // From where it is nearer than the one before it.
        const from = q < 0 ? a : 1 + Math.floor((u * u - seat[q] * seat[q] + g - drops[q]) / (2 * (u - seat[q])));
        if (from >= b) continue;
        q++;
        seat[q] = u;
        drops[q] = g;
        start[q] = Math.max(a, from);
      }
      for (let x = b - 1; q >= 0; q--) {
        const found = above[row + seat[q]] * width + seat[q];
        for (; x >= start[q]; x--) out[row + x] = found;
      }
      a = b;
    }
  }
  return out;
}

/** Of each texel the row of the nearest inside texel of its column, far outside the sheet where there is none. Read as memory lies. */
function rowOfNearest(inside: Uint8Array, width: number, height: number): Int32Array {
  const none = width + height;
  const above = new Int32Array(width * height);
  const last = new Int32Array(width).fill(-none * 2);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (inside[i]) last[x] = y;
      above[i] = last[x];
    }
  last.fill(none * 3);
  for (let y = height - 1; y >= 0; y--)
    for (let x = 0, i = y * width; x < width; x++, i++) {
      if (inside[i]) last[x] = y;
      if (last[x] - y < y - above[i]) above[i] = last[x];
    }
  return above;
}
