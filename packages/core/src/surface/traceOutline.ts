/** The outline of a painted shape, for safe frames and colliders that come as a layer. */
import { InputError } from '../errors.ts';
import type { Image8 } from '../raster/image.ts';

/** Alpha below this is the rim of nothing. */
const LEAST = 4;
/** Rings that enclose fewer texels are specks. */
const SPECK = 9;
/** A corner nearer than this to the line between its neighbours is left out, in texels. */
const FLAT = 0.75;

/**
 * Where the shapes of a picture are: of each that hangs together the texels with at least half of its own highest alpha, so that a shape
 * drawn half clear is found as well as an opaque one beside it. Row by row, 1 inside.
 */
function shapesIn({ width, height, data }: Image8): Uint8Array {
  const inside = new Uint8Array(width * height);
  const seen = new Uint8Array(width * height);
  const members: number[] = [];
  for (let start = 0; start < seen.length; start++) {
    if (seen[start] || data[start * 4 + 3] < LEAST) continue;
    members.length = 0;
    members.push(start);
    seen[start] = 1;
    let most = 0;
    for (let k = 0; k < members.length; k++) {
      const i = members[k];
      most = Math.max(most, data[i * 4 + 3]);
      const x = i % width;
      const around = [x > 0 ? i - 1 : -1, x + 1 < width ? i + 1 : -1, i - width, i + width];
      for (const next of around)
        if (next >= 0 && next < seen.length && !seen[next] && data[next * 4 + 3] >= LEAST) {
          seen[next] = 1;
          members.push(next);
        }
    }
    for (const i of members) if (data[i * 4 + 3] * 2 >= most) inside[i] = 1;
  }
  return inside;
}

/**
 * Outer rings of the shapes in an image's alpha, along the edges of texels, largest first; holes are left out, so a stroked outline gives
 * its outer edge.
 * @param left, @param top where the image's first texel lies
 * @returns closed rings x, y, x, y ... @throws InputError when there is nothing
 */
export function traceOutline(image: Image8, left: number, top: number): number[][] {
  const { width, height } = image;
  const shapes = shapesIn(image);
  const inside = (x: number, y: number) => x >= 0 && y >= 0 && x < width && y < height && shapes[y * width + x] === 1;
  const seen = new Uint8Array(width * height);
  const rings: { ring: number[]; area: number }[] = [];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      // A top edge that no ring has passed yet begins one, with the shape on its right.
      if (!inside(x, y) || inside(x, y - 1) || seen[y * width + x]) continue;
      const ring: number[] = [];
      let [px, py, dx, dy] = [x, y, 1, 0];
      do {
        if (dx === 1) seen[py * width + px] = 1;
        ring.push(px, py);
        px += dx;
        py += dy;
        // Texels ahead, to the left and right of the way.
        const ahead = (side: 0 | 1) => {
          const [sx, sy] = side === 0 ? [dy, -dx] : [-dy, dx];
          return inside(px + (dx + sx - 1) / 2, py + (dy + sy - 1) / 2);
        };
        if (ahead(0)) [dx, dy] = [dy, -dx];
        else if (!ahead(1)) [dx, dy] = [-dy, dx];
      } while (px !== x || py !== y || dx !== 1 || dy !== 0);
      const area = areaOf(ring);
      // Along the rim of a hole the turn is the other way.
      if (area >= SPECK) rings.push({ ring: simplified(ring).map((v, i) => v + (i % 2 === 0 ? left : top)), area });
    }
  }
  if (rings.length === 0) throw new InputError('There is no shape to take an outline from.');
  return rings.sort((a, b) => b.area - a.area).map(({ ring }) => ring);
}

/** Positive for rings that turn right on a screen (y down). */
function areaOf(ring: readonly number[]): number {
  let twice = 0;
  for (let i = 0; i < ring.length; i += 2) {
    const n = (i + 2) % ring.length;
    twice += ring[i] * ring[n + 1] - ring[n] * ring[i + 1];
  }
  return twice / 2;
}

/** Douglas and Peucker, "Algorithms for the reduction of the number of points", 1973, from the two corners that lie farthest apart. */
function simplified(ring: readonly number[]): number[] {
  const count = ring.length / 2;
  const far = (from: number) => {
    let [best, at] = [-1, 0];
    for (let i = 0; i < count; i++) {
      const d = (ring[i * 2] - ring[from * 2]) ** 2 + (ring[i * 2 + 1] - ring[from * 2 + 1]) ** 2;
      if (d > best) [best, at] = [d, i];
    }
    return at;
  };
  const a = far(0);
  const b = far(a);
  const keep = new Set([a, b]);
  const spans: [number, number][] = [
    [a, b],
    [b, a],
  ];
  for (let span = spans.pop(); span; span = spans.pop()) {
    const [from, to] = span;
    const [x0, y0, x1, y1] = [ring[from * 2], ring[from * 2 + 1], ring[to * 2], ring[to * 2 + 1]];
    const length = Math.sqrt((x1 - x0) ** 2 + (y1 - y0) ** 2) || 1;
    let [most, at] = [FLAT, -1];
    for (let i = (from + 1) % count; i !== to; i = (i + 1) % count) {
      const off = Math.abs((x1 - x0) * (y0 - ring[i * 2 + 1]) - (x0 - ring[i * 2]) * (y1 - y0)) / length;
      if (off > most) [most, at] = [off, i];
    }
    if (at < 0) continue;
    keep.add(at);
    spans.push([from, at], [at, to]);
  }
  return [...keep].sort((m, n) => m - n).flatMap((i) => [ring[i * 2], ring[i * 2 + 1]]);
}
