/**
 * Exact-area coverage of polygons, and coverage of strokes and half-planes. Coverage is 0..1 per texel, row by row from the top.
 * Coordinates are in texels of the region: texel (i, j) is the square from (i, j) to (i + 1, j + 1).
 */

/** A closed outline: x0, y0, x1, y1, ... ; the last point joins the first. */
export type Contour = Float64Array;

/** The box around outlines; of none, one that nothing lies in. */
export function boxOfOutlines(outlines: readonly Contour[]): {
  left: number;
  top: number;
  right: number;
  bottom: number;
} {
  const box = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity };
  for (const outline of outlines) {
    for (let i = 0; i < outline.length; i += 2) {
      box.left = Math.min(box.left, outline[i]);
      box.right = Math.max(box.right, outline[i]);
      box.top = Math.min(box.top, outline[i + 1]);
      box.bottom = Math.max(box.bottom, outline[i + 1]);
    }
  }
  return box;
}

/** Adds the signed area to the right of one edge to the accumulation buffer (rows of `width + 1`). */
function addEdge(
  acc: Float64Array,
  width: number,
  height: number,
  ax: number,
  ay: number,
  bx: number,
  by: number,
): void {
  if (ay === by) return;
  const dir = ay < by ? 1 : -1;
  let [x0, y0, x1, y1] = dir > 0 ? [ax, ay, bx, by] : [bx, by, ax, ay];
  if (y1 <= 0 || y0 >= height) return;
  const dxdy = (x1 - x0) / (y1 - y0);
  if (y0 < 0) {
    x0 -= y0 * dxdy;
    y0 = 0;
  }
  if (y1 > height) {
    x1 -= (y1 - height) * dxdy;
    y1 = height;
  }
  // Split where the edge crosses the left or right border: left of it only the height counts, right of it nothing does.
  let from = y0;
  let fromX = x0;
  const cutLeft = dxdy === 0 ? y1 : y0 + (0 - x0) / dxdy;
  const cutRight = dxdy === 0 ? y1 : y0 + (width - x0) / dxdy;
  const first = cutLeft < cutRight ? cutLeft : cutRight;
  const second = cutLeft < cutRight ? cutRight : cutLeft;
  for (let piece = 0; piece < 3 && from < y1; piece++) {
    const cut = piece === 0 ? first : piece === 1 ? second : y1;
    const to = cut < y1 ? cut : y1;
    if (to <= from) continue;
    const toX = to === y1 ? x1 : x0 + (to - y0) * dxdy;
    const middle = (fromX + toX) / 2;
    if (middle <= 0) addInside(acc, width, dir, 0, from, 0, to);
    else if (middle < width) addInside(acc, width, dir, clamp(fromX, width), from, clamp(toX, width), to);
    from = to;
    fromX = toX;
  }
}

function clamp(x: number, width: number): number {
  return x < 0 ? 0 : x > width ? width : x;
}

/** One piece of an edge, top to bottom, with 0 <= x <= width throughout. */
function addInside(
  acc: Float64Array,
  width: number,
  dir: number,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
): void {
  const dxdy = (x1 - x0) / (y1 - y0);
  let x = x0;
  const last = Math.ceil(y1);
  for (let row = Math.floor(y0); row < last; row++) {
    const top = row > y0 ? row : y0;
    const bottom = row + 1 < y1 ? row + 1 : y1;
    const dy = bottom - top;
    const next = clamp(x + dxdy * dy, width);
    const d = dy * dir;
    const line = row * (width + 1);
    const left = x < next ? x : next;
    const right = x < next ? next : x;
    x = next;
    const first = Math.floor(left);
    const end = Math.ceil(right);
    if (end <= first + 1) {
      const middle = 0.5 * (left + right) - first;
      acc[line + first] += d * (1 - middle);
      if (first < width) acc[line + first + 1] += d * middle;
      continue;
    }
    // The edge passes over several texels of this row: each is covered by what lies left of it and half of what lies in it.
    const slope = 1 / (right - left);
    let passed = 0;
    let previous = 0;
    for (let i = first; i < end; i++) {
      const a = left > i ? left : i;
      const b = right < i + 1 ? right : i + 1;
      const share = slope * (b - a);
      const covered = passed + share * (i + 1 - (a + b) / 2);
      acc[line + i] += d * (covered - previous);
      previous = covered;
      passed += share;
    }
    acc[line + end] += d * (1 - previous);
  }
}

/** Coverage of a set of closed outlines; overlaps of one direction count once, opposite directions cut holes. */
export function fillCoverage(contours: readonly Contour[], width: number, height: number): Float64Array {
  const acc = new Float64Array((width + 1) * height);
  for (const c of contours) {
    const n = c.length;
    if (n < 6) continue;
    for (let i = 0; i < n; i += 2) {
      const j = i + 2 === n ? 0 : i + 2;
      addEdge(acc, width, height, c[i], c[i + 1], c[j], c[j + 1]);
    }
  }
  const out = new Float64Array(width * height);
  for (let y = 0; y < height; y++) {
    let sum = 0;
    for (let x = 0; x < width; x++) {
      sum += acc[y * (width + 1) + x];
      const area = sum < 0 ? -sum : sum;
      out[y * width + x] = area > 1 ? 1 : area < 1e-9 ? 0 : area;
    }
  }
  return out;
}

/** Coverage of the band within `radius` of closed outlines (round joins), antialiased over one texel. */
export function strokeCoverage(
  contours: readonly Contour[],
  radius: number,
  width: number,
  height: number,
): Float64Array {
  const reach = radius + 1;
  const nearest = new Float64Array(width * height).fill(reach * reach);
  for (const c of contours) {
    for (let i = 0; i < c.length; i += 2) {
      const j = i + 2 === c.length ? 0 : i + 2;
      const [ax, ay, bx, by] = [c[i], c[i + 1], c[j], c[j + 1]];
      const left = Math.max(0, Math.floor(Math.min(ax, bx) - reach));
      const right = Math.min(width, Math.ceil(Math.max(ax, bx) + reach));
      const top = Math.max(0, Math.floor(Math.min(ay, by) - reach));
      const bottom = Math.min(height, Math.ceil(Math.max(ay, by) + reach));
      const dx = bx - ax;
      const dy = by - ay;
      const squared = dx * dx + dy * dy;
      for (let y = top; y < bottom; y++) {
        for (let x = left; x < right; x++) {
          const px = x + 0.5 - ax;
          const py = y + 0.5 - ay;
          let t = squared > 0 ? (px * dx + py * dy) / squared : 0;
          t = t < 0 ? 0 : t > 1 ? 1 : t;
          const ex = px - t * dx;
          const ey = py - t * dy;
          const d = ex * ex + ey * ey;
          if (d < nearest[y * width + x]) nearest[y * width + x] = d;
        }
      }
    }
  }
  for (let i = 0; i < nearest.length; i++) {
    const c = radius + 0.5 - Math.sqrt(nearest[i]);
    nearest[i] = c <= 0 ? 0 : c >= 1 ? 1 : c;
  }
  return nearest;
}

/**
 * Exact share of a unit texel inside a half-plane.
 * @param distance signed distance of the texel's centre from the edge, positive inside
 * @param a,b the absolute components of the edge's unit normal
 * @example
 * import { halfPlaneCoverage } from './shapes/coverage.ts';
 * halfPlaneCoverage(0.25, 0, 1); // 0.75
 */
export function halfPlaneCoverage(distance: number, a: number, b: number): number {
  const wide = a > b ? a : b;
  const narrow = a > b ? b : a;
  const sum = wide + narrow;
  const u = distance + sum / 2;
  if (u <= 0) return 0;
  if (u >= sum) return 1;
  if (u < narrow) return (u * u) / (2 * wide * narrow);
  if (u <= wide) return (u - narrow / 2) / wide;
  const v = sum - u;
  return narrow > 0 ? 1 - (v * v) / (2 * wide * narrow) : 1;
}
