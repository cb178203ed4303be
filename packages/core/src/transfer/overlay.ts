/** Lays one model over another: its axes, place and size are found. */
import type { Subject } from '../livery/template.ts';
import { paintedOf } from '../projectors/projection.ts';
import { Closest } from '../surface/closest.ts';
import { byValue, eigenOf, type Eigen } from '../surface/eigen.ts';
import { scatter, STEPS as EVENLY, type Scattered } from '../surface/scatter.ts';
import { cornersOfTriangle } from '../surface/triangles.ts';
import { cross, long, minus } from '../surface/vectors.ts';
import { solveLinear } from '../surface/solveLinear.ts';
import { angleOf, applied, NO_TURN, times, transposed, turnAbout, turnOf, type Turn } from './linear.ts';

/** Where the old model's places lie on the new one: `scale` times their turn, and `shift` metres. */
export interface Overlay {
  turn: Turn;
  scale: number;
  shift: readonly [number, number, number];
}

export const onNew = ({ turn, scale, shift }: Overlay, p: ArrayLike<number>, o = 0): [number, number, number] => {
  const [x, y, z] = applied(turn, p, o);
  return [x * scale + shift[0], y * scale + shift[1], z * scale + shift[2]];
};

export function inverseOf({ turn, scale, shift }: Overlay): Overlay {
  const back = transposed(turn);
  const [x, y, z] = applied(back, shift);
  return { turn: back, scale: 1 / scale, shift: [-x / scale, -y / scale, -z / scale] };
}

/** Looks of both models at each other, in points: to choose where to begin, to go on from there, and to settle. */
const LOOKS = { glance: 70, few: 250, many: 1500 };
type Looks = keyof typeof LOOKS;
/** How many of the ways to begin are followed up, and how far. */
const FOLLOWED = 6;
const STEPS = 12;
const LAST_STEPS = 40;
/** Shares of a model's size that are nothing. */
const NOTHING = 1e-6;
/** Surfaces are the same where they look the same way to within this, as a cosine. */
const AGREE = 0.3;
/** Farther apart than this, in sizes of the model, nothing says how far. */
const ASTRAY = 0.5;
/** The worst share of pairs is left out: what one model has and the other has not. */
const TRIMMED = 0.12;
/** Parts of one name that come to lie on each other say as much as this share of how well the surfaces do. */
const BY_NAME = 0.4;
/** Models come upright, bow forward: they stay so unless another way is so much better. */
const UPRIGHT = 0.75;
/** Turns within this of none are none, if nothing is lost, radians. */
const HAIR_TURN = 0.035;
const LOST = 1.3;
/** What differs by less than this share of a model's size is the same. */
const ROUNDED = 1e-5;
/** Steps nearer that are tried without a turn. */
const LEVEL_STEPS = 8;
/** Lengths of a body nearer to one another than this share have no order. */
const ALIKE = 0.04;

interface Side {
  subject: Subject;
  closest: Closest;
  points: Readonly<Record<Looks, Scattered>>;
  middle: [number, number, number];
  /** Greatest first. */
  axes: Eigen[];
  radius: number;
  /** Lower-case names of painted parts by triangle. */
  names: (string | null)[];
  /** All of them. */
  named: Set<string | null>;
}

/** The middle of a surface and how it is spread about it, exactly: the sum over its triangles of what each is of itself. */
function spreadOf({ mesh }: Subject, triangles: readonly number[]) {
  let whole = 0;
  const sum = [0, 0, 0];
  const squares = [0, 1, 2].map(() => [0, 0, 0]);
  for (const t of triangles) {
    const corners = cornersOfTriangle(mesh, t);
    const area = long(cross(minus(corners[1], corners[0]), minus(corners[2], corners[0]))) / 2;
    if (!(area > 0) || !Number.isFinite(area)) continue;
    whole += area;
    const m = [0, 1, 2].map((c) => (corners[0][c] + corners[1][c] + corners[2][c]) / 3);
    for (let i = 0; i < 3; i++) {
      sum[i] += area * m[i];
      for (let j = 0; j < 3; j++)
        squares[i][j] += (area / 12) * (9 * m[i] * m[j] + corners.reduce((of, p) => of + p[i] * p[j], 0));
    }
  }
  const middle = sum.map((v) => v / (whole || 1)) as [number, number, number];
  const about = squares.map((row, i) => row.map((v, j) => v / (whole || 1) - middle[i] * middle[j]));
  return { middle, about };
}

function sideOf(subject: Subject): Side {
  const painted = paintedOf(subject, undefined);
  const { middle, about } = spreadOf(subject, painted);
  const axes = eigenOf(about).sort(byValue);
  const names: (string | null)[] = [];
  const often = new Map<string, number>();
  for (const { name } of subject.parts) often.set(name.toLowerCase(), (often.get(name.toLowerCase()) ?? 0) + 1);
  for (const { first, count, name, sheet } of subject.parts)
    for (let t = first; t < first + count; t++)
      names[t] = sheet !== null && often.get(name.toLowerCase()) === 1 ? name.toLowerCase() : null;
  const wanted = new Set(painted);
  return {
    ...{ subject, middle, axes, names, named: new Set(names) },
    closest: new Closest(subject.mesh, (t) => wanted.has(t)),
    points: {
      glance: scatter(subject.mesh, painted, LOOKS.glance),
      few: scatter(subject.mesh, painted, LOOKS.few),
      many: scatter(subject.mesh, painted, LOOKS.many),
    },
    radius: Math.sqrt(Math.max(0, about[0][0] + about[1][1] + about[2][2])),
  };
}

/** The 24 turns that take the axes to each other. */
const QUARTERS: readonly Turn[] = (() => {
  const out: number[][] = [];
  for (const [i, j, k] of [
    [0, 1, 2],
    [1, 2, 0],
    [2, 0, 1],
    [0, 2, 1],
    [2, 1, 0],
    [1, 0, 2],
  ])
    for (let signs = 0; signs < 8; signs++) {
      const turn = new Array<number>(9).fill(0);
      [i, j, k].forEach((to, from) => (turn[to * 3 + from] = signs & (1 << from) ? -1 : 1));
      if (determinant(turn) > 0) out.push(turn);
    }
  return out;
})();

function determinant(a: Turn): number {
  return a[0] * (a[4] * a[8] - a[5] * a[7]) - a[1] * (a[3] * a[8] - a[5] * a[6]) + a[2] * (a[3] * a[7] - a[4] * a[6]);
}

/** Turns all over, evenly (Shoemake, "Uniform random rotations", 1992, by steps that fill the space). */
function allOver(many: number): Turn[] {
  return Array.from({ length: many }, (_, k) => {
    const [a, b, c] = [(k + 0.5) / many, (k * EVENLY[0]) % 1, (k * EVENLY[1]) % 1];
    const [r, s] = [Math.sqrt(1 - a), Math.sqrt(a)];
    const [p, q] = [2 * Math.PI * b, 2 * Math.PI * c];
    return turnOf([s * Math.cos(q), r * Math.sin(p), r * Math.cos(p), s * Math.sin(q)]);
  });
}

/** Turns by which the old model's own axes come to lie on the new one's, and steps about an axis where a body has no other of its own. */
function turnsToTry(old: Side, now: Side): Turn[] {
  const frame = ({ axes }: Side): number[] => {
    const [a, b] = axes.map(({ vector }) => vector);
    const c = cross(a as [number, number, number], b as [number, number, number]);
    // Columns.
    return [a[0], b[0], c[0], a[1], b[1], c[1], a[2], b[2], c[2]];
  };
  const [from, to] = [transposed(frame(old)), frame(now)];
  const out: Turn[] = [NO_TURN, ...QUARTERS];
  for (const quarter of QUARTERS) out.push(times(to, times(quarter, from)));
  const [first, second, third] = now.axes.map(({ value }) => Math.sqrt(Math.max(0, value)));
  const alike = [first - second, second - third].map((by) => by < ALIKE * first);
  if (alike[0] && alike[1]) out.push(...allOver(400));
  else if (alike[0] || alike[1]) {
    const axis = now.axes[alike[0] ? 2 : 0].vector;
    for (const quarter of QUARTERS)
      for (let step = 1; step < 24; step++)
        out.push(times(turnAbout(axis, (step * Math.PI) / 12), times(to, times(quarter, from))));
  }
  return out;
}

/** A point of one model, and what it comes to lie on of the other. */
interface Look {
  /** From the new to the old, on the old model's side or on the new one's. */
  far: number;
  named: -1 | 0 | 1;
}

/** Mean distance of points that lie on the other model's surface, each side's as a share of its own size; less where names agree. */
function costOf(overlay: Overlay, old: Side, now: Side, points: Looks): number {
  const back = inverseOf(overlay);
  const looks: Look[] = [];
  const look = (from: Side, to: Side, by: Overlay) => {
    const { places, normals, triangles } = from.points[points];
    for (let k = 0; k < triangles.length; k++) {
      const [x, y, z] = onNew(by, places, k * 3);
      const n = applied(by.turn, normals, k * 3);
      const found = to.closest.find(x, y, z, n[0], n[1], n[2], AGREE, ASTRAY * to.radius);
      const far = found ? Math.sqrt(to.closest.far2) / to.radius : ASTRAY;
      const own = from.names[triangles[k]];
      const other = found ? to.names[to.closest.triangle] : null;
      const named = own === null || other === null || !to.named.has(own) ? 0 : own === other ? 1 : -1;
      looks.push({ far, named });
    }
  };
  look(old, now, overlay);
  look(now, old, back);
  looks.sort((a, b) => a.far - b.far);
  const kept = looks.slice(0, Math.ceil(looks.length * (1 - TRIMMED)));
  const mean = kept.reduce((sum, { far }) => sum + far, 0) / (kept.length || 1);
  const agree = looks.reduce((sum, { named }) => sum + named, 0) / (looks.length || 1);
  return mean * (1 - BY_NAME * agree);
}

/**
 * One step nearer: turn, size and shift by which the points of each lie nearest to the planes of the other's surface, linearly
 * (Chen and Medioni, "Object modelling by registration of multiple range images", 1992, with a size).
 */
function nearer(overlay: Overlay, old: Side, now: Side, points: Looks): Overlay | null {
  interface Pair {
    /** The old model's point as it lies on the new one, less the middle; the other's point less it; its plane's normal. */
    p: number[];
    by: number;
    n: number[];
    far2: number;
  }
  const pairs: Pair[] = [];
  const middle = onNew(overlay, old.middle);
  const add = (p: readonly number[], q: readonly number[], n: readonly number[]) => {
    const gap = [0, 1, 2].map((c) => q[c] - p[c]);
    pairs.push({
      p: [0, 1, 2].map((c) => p[c] - middle[c]),
      by: gap[0] * n[0] + gap[1] * n[1] + gap[2] * n[2],
      n: [...n],
      far2: gap[0] ** 2 + gap[1] ** 2 + gap[2] ** 2,
    });
  };
  const back = inverseOf(overlay);
  const spot = ({ subject: { mesh }, closest }: Side): number[] => {
    const [a, b, c] = cornersOfTriangle(mesh, closest.triangle);
    const { second: p, third: q } = closest;
    return [0, 1, 2].map((k) => a[k] * (1 - p - q) + b[k] * p + c[k] * q);
  };
  {
    const { places, normals, triangles } = old.points[points];
    for (let k = 0; k < triangles.length; k++) {
      const at = onNew(overlay, places, k * 3);
      const n = applied(overlay.turn, normals, k * 3);
      if (now.closest.find(...at, ...n, AGREE, ASTRAY * now.radius)) add(at, spot(now), n);
    }
  }
  {
    const { places, normals, triangles } = now.points[points];
    for (let k = 0; k < triangles.length; k++) {
      const n = applied(back.turn, normals, k * 3);
      if (old.closest.find(...onNew(back, places, k * 3), ...n, AGREE, ASTRAY * old.radius))
        add(onNew(overlay, spot(old)), [...places.subarray(k * 3, k * 3 + 3)], [...normals.subarray(k * 3, k * 3 + 3)]);
    }
  }
  pairs.sort((a, b) => a.far2 - b.far2);
  pairs.length = Math.ceil(pairs.length * (1 - TRIMMED));
  if (pairs.length < 12) return null;
  // Lengths in the model's own size: what is of an angle and what is of a length weigh alike.
  const size = now.radius || 1;
  const matrix = Array.from({ length: 7 }, () => new Array<number>(7).fill(0));
  const right = new Array<number>(7).fill(0);
  for (const { p, n, by } of pairs) {
    const row = [
      ...[(p[1] * n[2] - p[2] * n[1]) / size, (p[2] * n[0] - p[0] * n[2]) / size, (p[0] * n[1] - p[1] * n[0]) / size],
      ...[n[0], n[1], n[2], (p[0] * n[0] + p[1] * n[1] + p[2] * n[2]) / size],
    ];
    for (let i = 0; i < 7; i++) {
      right[i] += (row[i] * by) / size;
      for (let j = 0; j < 7; j++) matrix[i][j] += row[i] * row[j];
    }
  }
  // What nothing says stays as it is: a ball can be turned, a rod slid.
  for (let i = 0; i < 7; i++) matrix[i][i] += 1e-6 * pairs.length;
  const found = solveLinear(matrix, right);
  if (!found) return null;
  const [wx, wy, wz, tx, ty, tz, grow] = found;
  const angle = Math.min(0.5, Math.hypot(wx, wy, wz));
  const axis = angle > 0 ? [wx, wy, wz].map((v) => v / Math.hypot(wx, wy, wz)) : [1, 0, 0];
  const more = angle > 0 ? turnAbout(axis, angle) : [...NO_TURN];
  const scale = Math.min(1.25, Math.max(0.8, 1 + grow));
  // About the middle of the old model where it lies now.
  const shift = applied(
    more,
    [0, 1, 2].map((c) => overlay.shift[c] - middle[c]),
  );
  return {
    turn: times(more, overlay.turn),
    scale: overlay.scale * scale,
    shift: [0, 1, 2].map((c) => shift[c] * scale + middle[c] + [tx, ty, tz][c] * size) as [number, number, number],
  };
}

/** Goes nearer until it goes no further. */
function settled(overlay: Overlay, old: Side, now: Side, points: Looks, steps: number) {
  let best = { overlay, cost: costOf(overlay, old, now, points) };
  let at = overlay;
  let worse = 0;
  for (let step = 0; step < steps && worse < 3 && best.cost > NOTHING; step++) {
    const next = nearer(at, old, now, points);
    if (!next) break;
    at = next;
    const cost = costOf(at, old, now, points);
    worse = cost < best.cost * 0.999 ? 0 : worse + 1;
    if (cost < best.cost) best = { overlay: at, cost };
  }
  return best;
}

/**
 * Finds how one model lies over another, from their painted surfaces alone: whichever way they are turned, however large and wherever they are.
 * Both as they stand are preferred; so is what brings parts of one name together.
 * @returns null when one of them has no surface
 */
export function findOverlay(from: Subject, to: Subject): { overlay: Overlay; far: number } | null {
  const [old, now] = [sideOf(from), sideOf(to)];
  if (old.closest.empty || now.closest.empty || !(old.radius > 0) || !(now.radius > 0)) return null;
  const scale = now.radius / old.radius;
  const at = (turn: Turn): Overlay => {
    const [x, y, z] = applied(turn, old.middle);
    return {
      ...{ turn, scale },
      shift: [now.middle[0] - x * scale, now.middle[1] - y * scale, now.middle[2] - z * scale],
    };
  };
  let chosen = settled(at(NO_TURN), old, now, 'few', STEPS);
  if (chosen.cost > NOTHING) {
    const begun = turnsToTry(old, now)
      .map((turn) => ({ overlay: at(turn), cost: costOf(at(turn), old, now, 'glance') }))
      .sort((a, b) => a.cost - b.cost);
    for (const { overlay } of begun.slice(0, FOLLOWED)) {
      const other = settled(overlay, old, now, 'few', STEPS);
      const upright = angleOf(chosen.overlay.turn) < HAIR_TURN && angleOf(other.overlay.turn) >= HAIR_TURN;
      if (other.cost < chosen.cost * (upright ? UPRIGHT : 1)) chosen = other;
      if (chosen.cost <= NOTHING) break;
    }
  }
  let best = settled(chosen.overlay, old, now, 'many', LAST_STEPS);
  // As it stands, where that is as good.
  if (angleOf(best.overlay.turn) < HAIR_TURN) {
    const level = settledLevel(best.overlay, old, now);
    if (level.cost <= best.cost * LOST) best = level;
  }
  // Nothing that is rounding alone.
  const { turn, scale: size, shift } = best.overlay;
  const drifted = Math.max(angleOf(turn), Math.abs(size - 1), ...shift.map((v) => Math.abs(v) / now.radius));
  if (drifted > 0 && drifted < ROUNDED) {
    const same: Overlay = { turn: NO_TURN, scale: 1, shift: [0, 0, 0] };
    const cost = costOf(same, old, now, 'many');
    if (cost <= best.cost + ROUNDED) return { overlay: same, far: cost * now.radius };
  }
  return { overlay: best.overlay, far: best.cost * now.radius };
}

/** The same without any turn, as near as it comes so. */
function settledLevel(overlay: Overlay, old: Side, now: Side) {
  let best: { overlay: Overlay; cost: number } | null = null;
  let at: Overlay | null = overlay;
  for (let step = 0; at && step < LEVEL_STEPS; step++) {
    const middle = onNew(at, old.middle);
    const { scale }: Overlay = at;
    const shift = [0, 1, 2].map((c) => middle[c] - old.middle[c] * scale) as [number, number, number];
    const level: Overlay = { turn: NO_TURN, scale, shift };
    const cost = costOf(level, old, now, 'many');
    if (!best || cost < best.cost) best = { overlay: level, cost };
    at = nearer(level, old, now, 'many');
  }
  return best!;
}
