/** Which way is up in a model that does not say, and how long it is. */
import { boxOfMesh } from '../surface/triangles.ts';
import type { MeshData } from '../livery/template.ts';

export type UpAxis = 'x' | 'y' | 'z';

/** How a model is stood up: turned, mirrored, scaled. */
export interface Stance {
  /** The axis of the file that points up. */
  up: UpAxis;
  /** Metres that a unit of the file is. */
  unit: number;
  /** Left and right are exchanged: the file is left-handed. */
  mirrored: boolean;
}

export interface UpGuess {
  up: UpAxis;
  reason: string;
  /** 0..1. */
  sure: number;
}

const AXES = ['x', 'y', 'z'] as const;
/** Vertices that are looked at, at most. */
const SAMPLES = 20_000;
/** Share of the height, from below, in which a thing stands on the ground. */
const GROUND = 0.03;

/**
 * Looks which of the two axes that files have upwards is: what stands has a broad foot, and is alike on both sides of an upright plane.
 * Common practice, no source: Y is up in most interchange files, Z in those of drawing and building programs.
 */
export function guessUp(mesh: Pick<MeshData, 'positions'>): UpGuess {
  const points = sampled(mesh.positions);
  const sides = AXES.map((_, axis) => alike(points, axis));
  const [feet, soles] = [1, 2].map((axis) => footOf(points, axis));
  // Left and right are alike: what that leads across is not up.
  const across = sides.indexOf(Math.max(...sides));
  const clear = sides[across] > 0.8 && sides.filter((share) => share > sides[across] - 0.15).length === 1;
  if (clear && across === 1)
    return { up: 'z', reason: 'its two sides are alike along y, so y leads across', sure: 0.9 };
  if (clear && across === 2)
    return { up: 'y', reason: 'its two sides are alike along z, so z leads across', sure: 0.9 };
  if (soles > feet * 1.4 + 0.05)
    return { up: 'z', reason: 'it has its broad foot along z', sure: Math.min(0.9, 0.4 + soles - feet) };
  return {
    up: 'y',
    reason: feet > soles * 1.4 + 0.05 ? 'it has its broad foot along y' : 'most files have y upwards',
    sure: feet > soles ? 0.8 : 0.5,
  };
}

function sampled(positions: readonly number[]): [number[], number[], number[]] {
  const step = Math.max(1, Math.ceil(positions.length / 3 / SAMPLES));
  const out: [number[], number[], number[]] = [[], [], []];
  for (let v = 0; v < positions.length / 3; v += step) for (let c = 0; c < 3; c++) out[c].push(positions[v * 3 + c]);
  return out;
}

/** Extents along x, y and z. */
export function sizeOfMesh(positions: readonly number[]): [number, number, number] {
  const { low, high } = boxOfMesh({ positions });
  return [high[0] - low[0], high[1] - low[1], high[2] - low[2]];
}

const rangeOf = (values: readonly number[]): [number, number] => {
  let [low, high] = [Infinity, -Infinity];
  for (const value of values) {
    if (value < low) low = value;
    if (value > high) high = value;
  }
  return [low, high];
};

/** Share of the points that find another one mirrored along an axis, within a hundredth of the longest side. */
function alike(points: readonly number[][], axis: number): number {
  const ranges = points.map(rangeOf);
  const cell = Math.max(...ranges.map(([low, high]) => high - low)) / 64 || 1;
  const key = (i: number, mirrored: boolean) =>
    points
      .map((values, c) => {
        const [low, high] = ranges[c];
        return Math.floor(((mirrored && c === axis ? low + high - values[i] : values[i]) - low) / cell);
      })
      .join();
  const filled = new Set(points[0].map((_, i) => key(i, false)));
  return points[0].filter((_, i) => filled.has(key(i, true))).length / points[0].length;
}

/** How broad a thing's foot is: the area that the lowest points span, as a share of what it covers seen from above, 0..1. */
function footOf(points: readonly number[][], axis: number): number {
  const [low, high] = rangeOf(points[axis]);
  const [a, b] = [0, 1, 2].filter((c) => c !== axis);
  const whole = area(points, a, b, () => true);
  return whole > 0 ? area(points, a, b, (i) => points[axis][i] <= low + (high - low) * GROUND) / whole : 0;
}

/** Area of the convex hull of some points in two of their coordinates (Andrew's monotone chain, 1979). */
function area(points: readonly number[][], a: number, b: number, is: (i: number) => boolean): number {
  const list = points[0].flatMap((_, i) => (is(i) ? [[points[a][i], points[b][i]]] : []));
  list.sort((p, q) => p[0] - q[0] || p[1] - q[1]);
  const half = (ordered: number[][]) => {
    const chain: number[][] = [];
    for (const p of ordered) {
      for (let q = chain.at(-1), r = chain.at(-2); q && r; q = chain.at(-1), r = chain.at(-2)) {
        if ((q[0] - r[0]) * (p[1] - r[1]) - (q[1] - r[1]) * (p[0] - r[0]) > 0) break;
        chain.pop();
      }
      chain.push(p);
    }
    return chain.slice(0, -1);
  };
  const hull = [...half(list), ...half(list.toReversed())];
  return (
    Math.abs(
      hull.reduce((sum, [x, y], i) => sum + x * hull[(i + 1) % hull.length][1] - hull[(i + 1) % hull.length][0] * y, 0),
    ) / 2
  );
}

/** A mesh stood up: y upwards, in metres, right-handed. The same object where nothing changes. */
export function stoodUp(mesh: MeshData, { up, unit, mirrored }: Stance): MeshData {
  if (up === 'y' && unit === 1 && !mirrored) return mesh;
  const turn = (values: readonly number[], scale: number) => {
    const out = new Array<number>(values.length);
    for (let i = 0; i < values.length; i += 3) {
      const [x, y, z] = [values[i], values[i + 1], values[i + 2]];
      const [tx, ty, tz] = up === 'z' ? [x, z, -y] : up === 'x' ? [-y, x, z] : [x, y, z];
      out[i] = (mirrored ? -tx : tx) * scale;
      out[i + 1] = ty * scale;
      out[i + 2] = tz * scale;
    }
    return out;
  };
  const indices = mirrored
    ? mesh.indices.map((_, i) => mesh.indices[i % 3 === 0 ? i : i % 3 === 1 ? i + 1 : i - 1])
    : mesh.indices;
  return { positions: turn(mesh.positions, unit), normals: turn(mesh.normals, 1), uvs: mesh.uvs, indices };
}
