/** Curves through knots, and the outlines of lines along them. */
import type { Contour } from './coverage.ts';

export interface Knot {
  x: number;
  y: number;
  smooth: boolean;
}

/** Points of a path: straight between corners, a Catmull-Rom spline through smooth knots, in pieces of about `step` texels. */
export function pathPoints(knots: readonly Knot[], closed: boolean, step = 2): Float64Array {
  const n = knots.length;
  const points: number[] = [];
  const at = (i: number) => knots[closed ? (i + n) % n : i < 0 ? 0 : i >= n ? n - 1 : i];
  const pieces = closed ? n : n - 1;
  for (let i = 0; i < pieces; i++) {
    const [a, b] = [at(i), at(i + 1)];
    points.push(a.x, a.y);
    if (!a.smooth && !b.smooth) continue;
    // Tangents: half the way between the neighbours at smooth knots, towards the other end at corners.
    const tangent = (k: Knot, before: Knot, after: Knot) =>
      k.smooth ? [(after.x - before.x) / 2, (after.y - before.y) / 2] : [b.x - a.x, b.y - a.y];
    const [ax, ay] = tangent(a, at(i - 1), b);
    const [bx, by] = tangent(b, a, at(i + 2));
    const reach = Math.abs(b.x - a.x) + Math.abs(b.y - a.y);
    const count = Math.max(2, Math.min(400, Math.ceil(reach / step)));
    for (let k = 1; k < count; k++) {
      const t = k / count;
      const [t2, t3] = [t * t, t * t * t];
      const [h1, h2, h3, h4] = [2 * t3 - 3 * t2 + 1, t3 - 2 * t2 + t, 3 * t2 - 2 * t3, t3 - t2];
      points.push(h1 * a.x + h2 * ax + h3 * b.x + h4 * bx, h1 * a.y + h2 * ay + h3 * b.y + h4 * by);
    }
  }
  if (!closed && n > 0) points.push(knots[n - 1].x, knots[n - 1].y);
  return Float64Array.from(points);
}

/**
 * Outlines of a line along points, its width running from one end to the other; `offset` moves it sideways. Each piece is an outline of its own,
 * so that tight bends stay whole: overlaps of one direction count once.
 */
export function lineOutlines(
  points: Float64Array,
  width: number,
  endWidth: number,
  offset: number,
  closed: boolean,
): Contour[] {
  const count = points.length / 2;
  if (count < 2) return [];
  let total = 0;
  const lengths: number[] = [0];
  for (let i = 1; i < count; i++) {
    const [dx, dy] = [points[2 * i] - points[2 * i - 2], points[2 * i + 1] - points[2 * i - 1]];
    lengths.push((total += Math.sqrt(dx * dx + dy * dy)));
  }
  if (total === 0) return [];
  const left: number[] = [];
  const right: number[] = [];
  for (let i = 0; i < count; i++) {
    const before = closed ? (i - 1 + count) % count : Math.max(0, i - 1);
    const after = closed ? (i + 1) % count : Math.min(count - 1, i + 1);
    const [nx, ny, stretch] = normalAt(points, before, i, after);
    const half = (width + ((endWidth - width) * lengths[i]) / total) / 2;
    const [x, y] = [points[2 * i], points[2 * i + 1]];
    left.push(x + nx * (offset - half) * stretch, y + ny * (offset - half) * stretch);
    right.push(x + nx * (offset + half) * stretch, y + ny * (offset + half) * stretch);
  }
  // One quadrilateral a piece: their shared edges cancel out, and none of them can turn inside out as a whole.
  const outlines: Contour[] = [];
  for (let i = 0; i + 1 < count + (closed ? 1 : 0); i++) {
    const j = (i + 1) % count;
    outlines.push(
      turnedRight(
        Float64Array.of(
          left[2 * i],
          left[2 * i + 1],
          left[2 * j],
          left[2 * j + 1],
          right[2 * j],
          right[2 * j + 1],
          right[2 * i],
          right[2 * i + 1],
        ),
      ),
    );
  }
  return outlines;
}

/** Unit normal at a point, and how much longer a mitre is there (at most 2.5). */
function normalAt(points: Float64Array, before: number, at: number, after: number): [number, number, number] {
  const unit = (i: number, j: number) => {
    const [dx, dy] = [points[2 * j] - points[2 * i], points[2 * j + 1] - points[2 * i + 1]];
    const d = Math.sqrt(dx * dx + dy * dy);
    return d > 0 ? [dx / d, dy / d] : null;
  };
  const a = unit(before, at) ?? unit(at, after) ?? [1, 0];
  const b = unit(at, after) ?? a;
  const [sx, sy] = [a[0] + b[0], a[1] + b[1]];
  const d = Math.sqrt(sx * sx + sy * sy);
  if (d < 1e-6) return [-a[1], a[0], 1];
  const [nx, ny] = [-sy / d, sx / d];
  return [nx, ny, Math.min(2.5, 1 / Math.max(0.4, nx * -a[1] + ny * a[0]))];
}

/** The same outline, running so that its area counts positive. */
function turnedRight(c: Contour): Contour {
  let area = 0;
  for (let i = 0; i < c.length; i += 2) {
    const j = (i + 2) % c.length;
    area += c[i] * c[j + 1] - c[j] * c[i + 1];
  }
  if (area >= 0) return c;
  const out = new Float64Array(c.length);
  for (let i = 0; i < c.length; i += 2) {
    out[i] = c[c.length - 2 - i];
    out[i + 1] = c[c.length - 1 - i];
  }
  return out;
}
