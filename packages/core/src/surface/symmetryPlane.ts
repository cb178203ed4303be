/** The plane across which a model is alike on both sides, and where it cuts the model on the flat sheets. */
import { type MeshData, sheetNamed, type Subject } from '../livery/template.ts';
import { faceOf, type Island } from './islands.ts';
import { eigenOf } from './eigen.ts';
import { eachScattered } from './scatter.ts';
import { cornersOfTriangle, triangleOnSheet } from './triangles.ts';
import { cross, dot, minus, mirroredPlace, unit } from './vectors.ts';
import { placeStep, reachOf } from './weld.ts';

export interface SymmetryPlane {
  /** Of length one. */
  normal: [number, number, number];
  /** Points of the plane have this distance along the normal, in the model's units. */
  offset: number;
}

type Vec = [number, number, number];

/** Points of the surface that are mirrored, and among which their partners are looked for. */
const [TRIED, HELD] = [1500, 24_000];
/** Share of the surface that must find its mirror image. */
const ENOUGH = 0.8;
/** How far apart mirror images may be, as a share of the model's diagonal. */
const NEAR = 0.01;

/**
 * Finds the plane across which most of the surface is alike: each point mirrored lies near another one that faces the mirrored way.
 * Tried through the middle of the box and of the area, across the axes and the main directions of the area; of about equal ones that
 * across x comes first, then z, then y.
 * @returns null when a fifth of the surface or more finds no partner
 */
export function symmetryPlane(mesh: MeshData): (SymmetryPlane & { share: number }) | null {
  const held = samples(mesh, HELD);
  if (!held) return null;
  const { points, area } = held;
  const low: Vec = [Infinity, Infinity, Infinity];
  const high: Vec = [-Infinity, -Infinity, -Infinity];
  const middle: Vec = [0, 0, 0];
  for (const { at } of points)
    for (let c = 0; c < 3; c++) {
      low[c] = Math.min(low[c], at[c]);
      high[c] = Math.max(high[c], at[c]);
      middle[c] += at[c] / points.length;
    }
  const diagonal = Math.hypot(high[0] - low[0], high[1] - low[1], high[2] - low[2]);
  if (!(diagonal > 0)) return null;
  // Points are as far apart as their number on that area makes them: nearer than that nothing can be told.
  const near = Math.min(0.03 * diagonal, Math.max(NEAR * diagonal, 1.2 * Math.sqrt(area / points.length)));
  const grid = new Grid(points, low, near);
  const step = Math.max(1, Math.floor(points.length / TRIED));
  const tried = points.filter((_, i) => i % step === 0);
  const shareOf = (normal: Vec, offset: number) => {
    let found = 0;
    for (const { at, facing } of tried) {
      const by = 2 * (dot(at, normal) - offset);
      const turn = 2 * dot(facing, normal);
      const image: Vec = [at[0] - by * normal[0], at[1] - by * normal[1], at[2] - by * normal[2]];
      const faces: Vec = [facing[0] - turn * normal[0], facing[1] - turn * normal[1], facing[2] - turn * normal[2]];
      if (grid.has(image, faces)) found++;
    }
    return found / tried.length;
  };
  const axes: Vec[] = [
    [1, 0, 0],
    [0, 0, 1],
    [0, 1, 0],
  ];
  const normals = [
    ...axes,
    ...mainDirections(points, middle).filter((v) => axes.every((a) => Math.abs(dot(a, v)) < 0.999)),
  ];
  const centre: Vec = [0, 1, 2].map((c) => (low[c] + high[c]) / 2) as Vec;
  let best: (SymmetryPlane & { share: number }) | null = null;
  for (const normal of normals) {
    let own = { offset: 0, share: -1 };
    for (const start of [centre, middle])
      for (const shift of [0, -1, 1, -2, 2]) {
        const offset = dot(start, normal) + (shift * near) / 2;
        const share = shareOf(normal, offset);
        if (share > own.share + 1e-9) own = { offset, share };
      }
    // Another direction must be clearly better than one before it.
    if (own.share >= ENOUGH && own.share > (best?.share ?? 0) + 0.04) best = { normal, ...own };
  }
  return best;
}

interface Sample {
  at: Vec;
  facing: Vec;
}

/** Points spread evenly over the area of a mesh, with the way the surface faces there. The same for the same mesh. */
function samples(mesh: MeshData, count: number): { points: Sample[]; area: number } | null {
  const triangles = Array.from({ length: mesh.indices.length / 3 }, (_, t) => t);
  const points: Sample[] = [];
  let [of, facing]: [number, Vec] = [-1, [0, 0, 0]];
  const area = eachScattered(mesh, triangles, count, (_k, t, u, v) => {
    const [a, b, c] = cornersOfTriangle(mesh, t);
    if (t !== of) [of, facing] = [t, unit(cross(minus(b, a), minus(c, a)))];
    points.push({ at: [0, 1, 2].map((k) => a[k] + u * (b[k] - a[k]) + v * (c[k] - a[k])) as Vec, facing });
  });
  return points.length > 0 ? { points, area: area / 2 } : null;
}

/** Points by the cells they lie in, as wide as what counts as near. */
class Grid {
  private readonly cells = new Map<number, Sample[]>();

  constructor(
    points: readonly Sample[],
    private readonly low: Vec,
    private readonly near: number,
  ) {
    for (const point of points) {
      const key = this.key(...this.cellOf(point.at));
      const known = this.cells.get(key);
      if (known) known.push(point);
      else this.cells.set(key, [point]);
    }
  }

  private cellOf(at: Vec): Vec {
    return [0, 1, 2].map((c) => Math.floor((at[c] - this.low[c]) / this.near)) as Vec;
  }
  private key = (x: number, y: number, z: number) => (x + 512) * 4_194_304 + (y + 512) * 2048 + (z + 512);

  /** Whether a point lies near that faces about the same way. */
  has(at: Vec, facing: Vec): boolean {
    const [x, y, z] = this.cellOf(at);
    for (let i = -1; i <= 1; i++)
      for (let j = -1; j <= 1; j++)
        for (let k = -1; k <= 1; k++)
          for (const other of this.cells.get(this.key(x + i, y + j, z + k)) ?? []) {
            const d = minus(other.at, at);
            if (dot(d, d) <= this.near * this.near && dot(other.facing, facing) > 0.5) return true;
          }
    return false;
  }
}

/** Directions in which the area spreads: eigenvectors of its covariance. */
function mainDirections(points: readonly Sample[], middle: Vec): Vec[] {
  const a = [0, 1, 2].map(() => [0, 0, 0]);
  for (const { at } of points)
    for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) a[i][j] += (at[i] - middle[i]) * (at[j] - middle[j]);
  return eigenOf(a).map(({ vector }) => vector as Vec);
}

/** Where a plane cuts the painted triangles of a model: for each piece its triangle, and both ends as a corner, another, and how far between. */
type Cut = readonly [triangle: number, ends: readonly (readonly [k: number, n: number, share: number])[]];

function* cutsBy(subject: Subject, { normal, offset }: SymmetryPlane, sheetKey: string | null): Generator<Cut> {
  const { mesh } = subject;
  const flat = placeStep(mesh);
  const distance = (v: number) => {
    const d = dot([mesh.positions[v * 3], mesh.positions[v * 3 + 1], mesh.positions[v * 3 + 2]], normal) - offset;
    return Math.abs(d) <= flat ? 0 : d;
  };
  for (const part of subject.parts) {
    if (part.sheet === null || (sheetKey !== null && part.sheet !== sheetKey)) continue;
    for (let t = part.first; t < part.first + part.count; t++) {
      const d = [0, 1, 2].map((k) => distance(mesh.indices[t * 3 + k]));
      if (d.every((value) => value > 0) || d.every((value) => value < 0) || d.every((value) => value === 0)) continue;
      const ends = [0, 1, 2].flatMap((k): [number, number, number][] => {
        const n = (k + 1) % 3;
        if (d[k] === 0) return [[k, k, 0]];
        return d[k] * d[n] < 0 ? [[k, n, d[k] / (d[k] - d[n])]] : [];
      });
      if (ends.length === 2) yield [t, ends];
    }
  }
}

/** Where the plane cuts a sheet's triangles: x1, y1, x2, y2 a piece, in texels. Edges that lie in the plane come once. */
export function planeTrace(subject: Subject, plane: SymmetryPlane, sheetKey: string): number[] {
  const sheet = sheetNamed(subject, sheetKey);
  const out: number[] = [];
  const edges = new Set<string>();
  for (const [t, cut] of cutsBy(subject, plane, sheetKey)) {
    const c = triangleOnSheet(subject.mesh, t, sheet.width, sheet.height);
    const ends = cut.flatMap(([k, n, share]) =>
      [0, 1].map((i) => c[k * 2 + i] + (c[n * 2 + i] - c[k * 2 + i]) * share),
    );
    const [a, b] = [ends.slice(0, 2), ends.slice(2)].map((p) => p.map((value) => Math.round(value * 16)).join());
    const key = a < b ? `${a} ${b}` : `${b} ${a}`;
    if (edges.has(key)) continue;
    edges.add(key);
    out.push(...ends);
  }
  return out;
}

/** The same on the model: x1, y1, z1, x2, y2, z2 a piece. @param lift how far off the surface, in the model's units */
export function planeCut(subject: Subject, plane: SymmetryPlane, lift: number): number[] {
  const { positions, normals, indices } = subject.mesh;
  const out: number[] = [];
  for (const [t, cut] of cutsBy(subject, plane, null))
    for (const [k, n, share] of cut)
      for (let c = 0; c < 3; c++) {
        const [from, to] = [indices[t * 3 + k] * 3 + c, indices[t * 3 + n] * 3 + c];
        const at = positions[from] + (positions[to] - positions[from]) * share;
        out.push(at + lift * (normals[from] + (normals[to] - normals[from]) * share));
      }
  return out;
}

/** Upright and level lines of a sheet on which the plane lies for at least so many texels. */
export function straightTraces(trace: readonly number[], least = 24): { axis: 'x' | 'y'; at: number }[] {
  const found: { axis: 'x' | 'y'; at: number; length: number }[] = [];
  for (let i = 0; i < trace.length; i += 4) {
    const [x1, y1, x2, y2] = trace.slice(i, i + 4);
    const [dx, dy] = [Math.abs(x2 - x1), Math.abs(y2 - y1)];
    const axis = dx <= 0.02 * dy + 0.05 ? 'x' : dy <= 0.02 * dx + 0.05 ? 'y' : null;
    if (!axis) continue;
    const at = axis === 'x' ? (x1 + x2) / 2 : (y1 + y2) / 2;
    const known = found.find((line) => line.axis === axis && Math.abs(line.at - at) < 0.75);
    const length = Math.max(dx, dy);
    if (known) {
      known.at = (known.at * known.length + at * length) / (known.length + length);
      known.length += length;
    } else found.push({ axis, at, length });
  }
  return found.filter(({ length }) => length >= least).map(({ axis, at }) => ({ axis, at }));
}

/** Pairs of islands of about the same size whose middles lie across the plane from each other, both ways. */
export function partnersOf(
  mesh: MeshData,
  islands: readonly Pick<Island, 'number' | 'triangles' | 'surface'>[],
  plane: SymmetryPlane,
): Map<number, number> {
  const middles = islands.map(({ triangles }) => middleOf(mesh, triangles));
  const reach = reachOf(mesh);
  const nearest = islands.map((island, i) => {
    const image = mirroredPlace(middles[i], plane.normal, plane.offset);
    let best = -1;
    let least = reach * 0.02;
    islands.forEach((other, k) => {
      const away = Math.hypot(...minus(middles[k], image));
      const alike = Math.abs(other.surface - island.surface) <= 0.1 * Math.max(other.surface, island.surface);
      if (alike && away < least) [best, least] = [k, away];
    });
    return best;
  });
  return new Map(
    nearest.flatMap((k, i) =>
      k >= 0 && k !== i && nearest[k] === i ? [[islands[i].number, islands[k].number] as const] : [],
    ),
  );
}

/** Middle of some triangles by their area. */
function middleOf(mesh: MeshData, triangles: readonly number[]): Vec {
  const sum: Vec = [0, 0, 0];
  let area = 0;
  for (const t of triangles) {
    const size = Math.hypot(...faceOf(mesh, t)) || 1e-12;
    area += size;
    for (let k = 0; k < 3; k++)
      for (let c = 0; c < 3; c++) sum[c] += (size * mesh.positions[mesh.indices[t * 3 + k] * 3 + c]) / 3;
  }
  return area > 0 ? (sum.map((value) => value / area) as Vec) : sum;
}
