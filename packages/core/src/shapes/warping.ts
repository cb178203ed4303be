/** Where a warped picture's texels come from. Everything in shares of the mark's box; only + - * and / , which every engine does alike. */
import { boxOfOutlines } from './coverage.ts';

/** A place in shares of a mark's box: 0, 0 its top left, 1, 1 its bottom right. */
export interface WarpPoint {
  x: number;
  y: number;
}

/** Where the corners of a box go (top left, top right, bottom right, bottom left), or the points of a square net, row by row. */
export interface Warp {
  kind: 'perspective' | 'bent';
  points: readonly WarpPoint[];
}

/** Pieces a side that a bent surface is drawn in, and one more all round: a picture fades out just beyond its edge. */
const PIECES = 24;
const MESH = PIECES + 3;

/** The rows of a projective map: x' = (a x + b y + c) / (g x + h y + i), y' = (d x + e y + f) / (g x + h y + i). */
export type Projection = readonly [
  a: number,
  b: number,
  c: number,
  d: number,
  e: number,
  f: number,
  g: number,
  h: number,
  i: number,
];

/**
 * The map that takes the unit square's corners to four points (Heckbert, "Fundamentals of Texture Mapping and Image Warping", 1989,
 * section 2.2.3).
 */
export function projectionTo([p0, p1, p2, p3]: readonly WarpPoint[]): Projection {
  const dx1 = p1.x - p2.x;
  const dx2 = p3.x - p2.x;
  const dy1 = p1.y - p2.y;
  const dy2 = p3.y - p2.y;
  const sx = p0.x - p1.x + p2.x - p3.x;
  const sy = p0.y - p1.y + p2.y - p3.y;
  const det = dx1 * dy2 - dx2 * dy1;
  const g = (sx * dy2 - dx2 * sy) / det;
  const h = (dx1 * sy - sx * dy1) / det;
  return [
    p1.x - p0.x + g * p1.x,
    p3.x - p0.x + h * p3.x,
    p0.x,
    p1.y - p0.y + g * p1.y,
    p3.y - p0.y + h * p3.y,
    p0.y,
    g,
    h,
    1,
  ];
}

/** The map back, but for a common factor. */
export function inverseOf([a, b, c, d, e, f, g, h, i]: Projection): Projection {
  return [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ];
}

/** Weights of four points in a row at a share t (0..1) between the second and the third (Catmull and Rom, 1974). */
const weights = (t: number): [number, number, number, number] => [
  ((-0.5 * t + 1) * t - 0.5) * t,
  (1.5 * t - 2.5) * t * t + 1,
  ((-1.5 * t + 2) * t + 0.5) * t,
  (0.5 * t - 0.5) * t * t,
];

/** Where a place of a bent surface lies: through all points of its net, straight on beyond its edges. */
function bentAt(points: readonly WarpPoint[], u: number, v: number): WarpPoint {
  const side = Math.sqrt(points.length);
  const [along, down] = [u, v].map((share) => {
    const at = share * (side - 1);
    const k = Math.max(0, Math.min(side - 2, Math.floor(at)));
    return { k, w: weights(at - k) };
  });
  /** A point of the net; beyond it, as far on as the last step went. */
  const net = (column: number, row: number, axis: 'x' | 'y'): number => {
    if (column < 0) return 2 * net(0, row, axis) - net(1, row, axis);
    if (column >= side) return 2 * net(side - 1, row, axis) - net(side - 2, row, axis);
    if (row < 0) return 2 * net(column, 0, axis) - net(column, 1, axis);
    if (row >= side) return 2 * net(column, side - 1, axis) - net(column, side - 2, axis);
    return points[row * side + column][axis];
  };
  const sum = (axis: 'x' | 'y') => {
    let total = 0;
    for (let j = 0; j < 4; j++)
      for (let i = 0; i < 4; i++) total += along.w[i] * down.w[j] * net(along.k + i - 1, down.k + j - 1, axis);
    return total;
  };
  return { x: sum('x'), y: sum('y') };
}

const meshes = new WeakMap<Warp['points'], Float64Array>();

/** A bent surface as MESH x MESH places, row by row: x, y, x, y, ... */
function meshOf(points: Warp['points']): Float64Array {
  const known = meshes.get(points);
  if (known) return known;
  const mesh = new Float64Array(MESH * MESH * 2);
  for (let j = 0, o = 0; j < MESH; j++) {
    for (let i = 0; i < MESH; i++, o += 2) {
      const { x, y } = bentAt(points, (i - 1) / PIECES, (j - 1) / PIECES);
      mesh[o] = x;
      mesh[o + 1] = y;
    }
  }
  meshes.set(points, mesh);
  return mesh;
}

/** The box around a warped mark. */
export function warpBox({ kind, points }: Warp): { left: number; top: number; right: number; bottom: number } {
  return boxOfOutlines([kind === 'bent' ? meshOf(points) : Float64Array.from(points.flatMap(({ x, y }) => [x, y]))]);
}

/** A grid of places over a mark's box: place (i, j) is `x + i * dx[0] + j * dx[1]`, and so on for y. */
export interface WarpGrid {
  x: number;
  y: number;
  /** What one place further along and one further down add. */
  along: WarpPoint;
  down: WarpPoint;
  width: number;
  height: number;
}

/**
 * Where in the picture each place of a grid comes from: u and v, 0..1 within it, NaN where the mark does not reach. Where a bent
 * surface folds over itself, what is later in its net is on top.
 */
export function sourcesOf(warp: Warp, grid: WarpGrid): { u: Float64Array; v: Float64Array } {
  const count = grid.width * grid.height;
  const out = { u: new Float64Array(count).fill(NaN), v: new Float64Array(count).fill(NaN) };
  if (warp.kind === 'perspective') fillProjected(warp.points, grid, out);
  else fillBent(meshOf(warp.points), grid, out);
  return out;
}

type Found = ReturnType<typeof sourcesOf>;

function fillProjected(points: readonly WarpPoint[], grid: WarpGrid, { u, v }: Found): void {
  const [a, b, c, d, e, f, g, h, i] = inverseOf(projectionTo(points));
  // In front of the viewer is the side on which the corners lie.
  const front = g * points[0].x + h * points[0].y + i > 0;
  for (let row = 0, o = 0; row < grid.height; row++) {
    for (let column = 0; column < grid.width; column++, o++) {
      const x = grid.x + column * grid.along.x + row * grid.down.x;
      const y = grid.y + column * grid.along.y + row * grid.down.y;
      const w = g * x + h * y + i;
      if (w > 0 !== front) continue;
      u[o] = (a * x + b * y + c) / w;
      v[o] = (d * x + e * y + f) / w;
    }
  }
}

function fillBent(mesh: Float64Array, grid: WarpGrid, found: Found): void {
  // The mesh in places of the grid.
  const { along, down } = grid;
  const det = along.x * down.y - along.y * down.x;
  const at = new Float64Array(mesh.length);
  for (let i = 0; i < mesh.length; i += 2) {
    const [x, y] = [mesh[i] - grid.x, mesh[i + 1] - grid.y];
    at[i] = (x * down.y - y * down.x) / det;
    at[i + 1] = (y * along.x - x * along.y) / det;
  }
  for (let j = 0; j < MESH - 1; j++) {
    for (let i = 0; i < MESH - 1; i++) {
      const [a, b] = [j * MESH + i, (j + 1) * MESH + i];
      fillTriangle(at, a, a + 1, b, grid, found);
      fillTriangle(at, b + 1, b, a + 1, grid, found);
    }
  }
}

/** One triangle of the mesh; its edges count as inside, so that no place between two of them is missed. */
function fillTriangle(at: Float64Array, p: number, q: number, r: number, grid: WarpGrid, { u, v }: Found): void {
  const [ax, ay, bx, by, cx, cy] = [at[p * 2], at[p * 2 + 1], at[q * 2], at[q * 2 + 1], at[r * 2], at[r * 2 + 1]];
  const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  if (area === 0) return;
  const left = Math.max(0, Math.ceil(Math.min(ax, bx, cx)));
  const right = Math.min(grid.width - 1, Math.floor(Math.max(ax, bx, cx)));
  const top = Math.max(0, Math.ceil(Math.min(ay, by, cy)));
  const bottom = Math.min(grid.height - 1, Math.floor(Math.max(ay, by, cy)));
  const [pu, pv, qu, qv, ru, rv] = [p, q, r].flatMap((n) => [
    ((n % MESH) - 1) / PIECES,
    (Math.floor(n / MESH) - 1) / PIECES,
  ]);
  for (let y = top; y <= bottom; y++) {
    for (let x = left; x <= right; x++) {
      const s = ((x - ax) * (cy - ay) - (y - ay) * (cx - ax)) / area;
      const t = ((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / area;
      if (s < -1e-9 || t < -1e-9 || s + t > 1 + 1e-9) continue;
      const o = y * grid.width + x;
      u[o] = pu + s * (qu - pu) + t * (ru - pu);
      v[o] = pv + s * (qv - pv) + t * (rv - pv);
    }
  }
}
