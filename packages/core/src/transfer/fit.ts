/** How one model goes onto another: how they lie over each other, which part comes from which, and by how much each is stretched. */
import { z } from 'zod';
import type { Subject, TemplatePart } from '../livery/template.ts';
import { planeBetween } from '../projectors/place.ts';
import { paintedOf } from '../projectors/projection.ts';
import { Closest, closestOfPart } from '../surface/closest.ts';
import { scatter } from '../surface/scatter.ts';
import type { SymmetryPlane } from '../surface/symmetryPlane.ts';
import { boxOfMesh, cornersOfTriangle, diagonalOf, type ModelBox } from '../surface/triangles.ts';
import { applied, degreesOf, turnOfDegrees } from './linear.ts';
import { findOverlay, inverseOf, type Overlay } from './overlay.ts';

const metres = z.number().min(-1e6).max(1e6);
const degrees = z.number().min(-360).max(360);

export const Fit = z.strictObject({
  /** The old model over the new one: degrees about x, then y, then z; how many times as large; moved by so many metres. */
  turn: z.tuple([degrees, degrees, degrees]),
  scale: z.number().min(1e-6).max(1e6),
  shift: z.tuple([metres, metres, metres]),
  /** `fitting`: what lies on a part keeps its place relative to it; `true`: as large as it was, in metres. */
  size: z.enum(['fitting', 'true']),
  /** Where places stay empty: left open, or taken from the other side of the new model. */
  gaps: z.enum(['open', 'mirrored']),
  /** For each painted part of the new model the part of the old one that it comes from; null: none. */
  pairs: z.record(z.string().max(60), z.string().max(60).nullable()),
});
export type Fit = z.infer<typeof Fit>;

export const overlayOf = ({ turn, scale, shift }: Pick<Fit, 'turn' | 'scale' | 'shift'>): Overlay => ({
  turn: turnOfDegrees(turn),
  scale,
  shift,
});

/** Points of a part that are looked at. */
const POINTS = 160;
/** Surfaces are the same where they look the same way to within this, as a cosine. */
export const AGREE = 0.25;
/** Farther from the old model than this share of its size, a part has nothing to do with it. */
const FAR = 0.1;
/** A part of one name is that one as soon as this much of it lies there, or it lies on nothing else as much. */
const BY_NAME = 0.05;
/** A part comes from one alone when so much of it does. */
const WHOLE = 0.95;
/** A stretch has to be so much better than none. */
const BETTER = 0.85;
/** Lengths change at most by this many times. */
const STRETCHED = 2.5;

/** Places of the new model to places of the old one: nine numbers row by row, and what is added. */
export interface Affine {
  turn: readonly number[];
  shift: readonly [number, number, number];
}

export const affinely = ({ turn, shift }: Affine, p: ArrayLike<number>, o = 0): [number, number, number] => {
  const [x, y, z] = applied(turn, p, o);
  return [x + shift[0], y + shift[1], z + shift[2]];
};

/** The new model over the old one, without any stretch. @param back the inverse of how the old one lies over the new one */
const liesBack = ({ turn, scale, shift }: Overlay): Affine => ({ turn: turn.map((v) => v * scale), shift });

/** The other way round. @returns one that is not finite where there is none */
export function affineBack({ turn: a, shift }: Affine): Affine {
  const det =
    a[0] * (a[4] * a[8] - a[5] * a[7]) - a[1] * (a[3] * a[8] - a[5] * a[6]) + a[2] * (a[3] * a[7] - a[4] * a[6]);
  const turn = [
    ...[a[4] * a[8] - a[5] * a[7], a[2] * a[7] - a[1] * a[8], a[1] * a[5] - a[2] * a[4]],
    ...[a[5] * a[6] - a[3] * a[8], a[0] * a[8] - a[2] * a[6], a[2] * a[3] - a[0] * a[5]],
    ...[a[3] * a[7] - a[4] * a[6], a[1] * a[6] - a[0] * a[7], a[0] * a[4] - a[1] * a[3]],
  ].map((v) => v / det);
  const [x, y, z] = applied(turn, shift);
  return { turn, shift: [-x, -y, -z] };
}

/** One part of the new model, and what it comes from. */
export interface Pair {
  part: TemplatePart;
  /** Null: nothing. */
  from: TemplatePart | null;
  toOld: Affine;
  /** All of it comes from `from`, so that what keeps to the one keeps to the other. */
  whole: boolean;
  /** How it was stretched: not, as the whole model, or by itself. */
  by: 'as it lies' | 'the whole' | 'the part';
  /** Mean distance, as a share of the old model's size. */
  far: number;
}

const trianglesOf = ({ first, count }: TemplatePart): number[] => Array.from({ length: count }, (_, k) => first + k);

/** The box about some triangles. @param by where their corners are taken first */
const boxOf = ({ mesh }: Subject, triangles: readonly number[], by?: Affine): ModelBox => {
  const positions = triangles.flatMap((t) =>
    cornersOfTriangle(mesh, t).flatMap((corner) => (by ? affinely(by, corner) : corner)),
  );
  return boxOfMesh({ positions });
};

/** Both models and how the one goes onto the other, with all that is worked out of it. */
export class Fitting {
  readonly pairs: readonly Pair[];
  /** Diagonal of the old model, metres. */
  readonly size: number;
  /** The plane between the new model's sides, where places are looked up in the mirror. */
  readonly mirror: SymmetryPlane | null;
  /** Finds places of all of the old model. */
  readonly all: Closest;
  private readonly byPart = new Map<string, Closest>();
  private readonly partOf: Int32Array;

  constructor(
    readonly old: Subject,
    readonly now: Subject & { plane?: SymmetryPlane },
    readonly fit: Fit,
  ) {
    const painted = new Set(paintedOf(old, undefined));
    this.size = diagonalOf(old.mesh) || 1;
    this.all = new Closest(old.mesh, (t) => painted.has(t));
    this.partOf = new Int32Array(old.mesh.indices.length / 3).fill(-1);
    old.parts.forEach(({ first, count }, n) => this.partOf.fill(n, first, first + count));
    this.mirror = fit.gaps === 'mirrored' ? planeBetween(now) : null;
    this.pairs = this.pairUp();
  }

  /** What finds places of the old model's surface for a pair. */
  closestOf({ from, whole }: Pick<Pair, 'from' | 'whole'>): Closest {
    return from && whole ? this.partClosest(from) : this.all;
  }

  /** The old model's part of a triangle. */
  oldPart(triangle: number): TemplatePart {
    return this.old.parts[this.partOf[triangle]];
  }

  private partClosest(part: TemplatePart): Closest {
    const known = this.byPart.get(part.key) ?? closestOfPart(this.old.mesh, part);
    this.byPart.set(part.key, known);
    return known;
  }

  private pairUp(): Pair[] {
    const { old, now, fit } = this;
    const back = inverseOf(overlayOf(fit));
    const lies = liesBack(back);
    const [oldAll, nowAll] = [old, now].map((of) => paintedOf(of, undefined));
    const wholes = this.stretched(lies, oldAll, nowAll);
    interface Begun {
      part: TemplatePart;
      from: TemplatePart | null;
      own: number[];
      whole: boolean;
      /** No other part comes from the same one. */
      alone: boolean;
      theirs: number[];
    }
    const begun = now.parts.flatMap((part): Begun[] => {
      if (part.sheet === null) return [];
      const key = fit.pairs[part.key];
      const from = (key && old.parts.find((one) => one.key === key && one.sheet !== null)) || null;
      const own = trianglesOf(part);
      if (!from) return [{ part, from, own, whole: false, alone: false, theirs: oldAll }];
      // Whether what is left of the part as it lies would come from others as well.
      const whole = namesWhole(this.comesFrom(own, lies), from.key) || !this.sharesFrom(from, part);
      // All of the one against all of the other: not where several share it.
      const alone = whole && Object.values(fit.pairs).filter((one) => one === key).length === 1;
      return [{ part, from, own, whole, alone, theirs: alone ? trianglesOf(from) : oldAll }];
    });
    const apart = ({ from, whole, alone, theirs, own }: Begun, toOld: Affine) =>
      this.apart(toOld, whole ? from : null, alone ? theirs : [], own);
    const fars = (toOld: Affine) => begun.map((one) => (one.from ? apart(one, toOld) : 0));
    const sum = (of: readonly number[]) => of.reduce((all, far) => all + far, 0);
    const [straight, sized] = [fars(lies), wholes && fars(wholes)];
    // One for all, so that what lies beside one another stays so; a part by itself where that is much better.
    const bySize = wholes !== null && sized !== null && sum(sized) < sum(straight) * BETTER - 1e-6;
    return begun.map((one, n): Pair => {
      const { part, from, own, whole, alone, theirs } = one;
      if (!from) return { part, from, toOld: lies, whole, by: 'as it lies', far: Infinity };
      if (fit.size === 'true') {
        const toOld = this.asLarge(back.turn, theirs, alone ? own : nowAll);
        return { part, from, whole, toOld, by: 'the part', far: apart(one, toOld) };
      }
      const base: Pair = bySize
        ? { part, from, whole, toOld: wholes, by: 'the whole', far: sized[n] }
        : { part, from, whole, toOld: lies, by: 'as it lies', far: straight[n] };
      const toOld = alone ? this.stretched(lies, theirs, own) : null;
      const far = toOld ? apart(one, toOld) : Infinity;
      return toOld && far < base.far * BETTER - 1e-6 ? { ...base, toOld, by: 'the part', far } : base;
    });
  }

  /** Whether several parts of the old model go into one of the new one, so that it comes from no one alone. */
  private sharesFrom(from: TemplatePart, part: TemplatePart): boolean {
    const names = new Set(Object.values(this.fit.pairs));
    const left = this.old.parts.filter(({ key, sheet }) => sheet !== null && !names.has(key));
    return left.length > 0 && from.name.toLowerCase() !== part.name.toLowerCase();
  }

  /** Which parts of the old model some triangles of the new one lie on, and how much on each. */
  comesFrom(triangles: readonly number[], toOld: Affine): { key: string; share: number; far: number }[] {
    const { places, normals } = scatter(this.now.mesh, triangles, POINTS);
    const found = new Map<string, { many: number; far: number }>();
    const many = places.length / 3;
    for (let k = 0; k < many; k++) {
      const [x, y, z] = affinely(toOld, places, k * 3);
      const n = directed(toOld, normals, k * 3);
      if (!this.all.find(x, y, z, ...n, AGREE)) continue;
      const { key } = this.oldPart(this.all.triangle);
      const one = found.get(key) ?? { many: 0, far: 0 };
      one.many++;
      one.far += Math.sqrt(this.all.far2) / this.size;
      found.set(key, one);
    }
    return [...found]
      .map(([key, of]) => ({ key, share: of.many / (many || 1), far: of.far / of.many }))
      .sort((a, b) => b.share - a.share);
  }

  /** The box of the new triangles onto that of the old ones, along the old model's axes; null where that would be too much. */
  private stretched(lies: Affine, old: readonly number[], now: readonly number[]): Affine | null {
    const to = boxOf(this.old, old);
    const from = boxOf(this.now, now, lies);
    const thin = 1e-3 * this.size;
    const by = [0, 1, 2].map((c) => {
      const [a, b] = [to.high[c] - to.low[c], from.high[c] - from.low[c]];
      return a < thin || b < thin ? 1 : a / b;
    });
    if (!by.every((times) => times >= 1 / STRETCHED && times <= STRETCHED)) return null;
    const shift = [0, 1, 2].map((c) => {
      const middle = (to.low[c] + to.high[c]) / 2;
      return middle + (lies.shift[c] - (from.low[c] + from.high[c]) / 2) * by[c];
    });
    return { turn: lies.turn.map((v, k) => v * by[Math.floor(k / 3)]), shift: shift as [number, number, number] };
  }

  /** As large as it is, the middles of both boxes on each other. */
  private asLarge(turn: readonly number[], old: readonly number[], now: readonly number[]): Affine {
    const level: Affine = { turn: [...turn], shift: [0, 0, 0] };
    const to = boxOf(this.old, old);
    const from = boxOf(this.now, now, level);
    const shift = [0, 1, 2].map((c) => (to.low[c] + to.high[c] - from.low[c] - from.high[c]) / 2);
    return { ...level, shift: shift as [number, number, number] };
  }

  /** Mean distance of both surfaces, each looked at from the other, as a share of the old model's size. */
  private apart(toOld: Affine, from: TemplatePart | null, old: readonly number[], now: readonly number[]): number {
    const closest = from ? this.partClosest(from) : this.all;
    let sum = 0;
    let many = 0;
    const look = (to: Closest, by: Affine, points: ReturnType<typeof scatter>, scale: number) => {
      for (let k = 0; k < points.triangles.length; k++) {
        const [x, y, z] = affinely(by, points.places, k * 3);
        const found = to.find(x, y, z, ...directed(by, points.normals, k * 3), AGREE);
        sum += found ? Math.min(1, (Math.sqrt(to.far2) * scale) / this.size) : 1;
        many++;
      }
    };
    look(closest, toOld, scatter(this.now.mesh, now, POINTS), 1);
    if (old.length > 0) {
      const own = new Set(now);
      const back = affineBack(toOld);
      const times =
        Math.cbrt(Math.abs(back.turn[0] * (back.turn[4] * back.turn[8] - back.turn[5] * back.turn[7]))) || 1;
      look(new Closest(this.now.mesh, (t) => own.has(t)), back, scatter(this.old.mesh, old, POINTS), 1 / times);
    }
    return many > 0 ? sum / many : Infinity;
  }
}

const namesWhole = (from: readonly { key: string; share: number }[], key: string): boolean =>
  from.some((one) => one.key === key && one.share >= WHOLE);

/** Where a direction out of the new surface goes, of length 1: what is stretched turns it little. */
export function directed({ turn }: Affine, n: ArrayLike<number>, o = 0): [number, number, number] {
  const [x, y, z] = applied(turn, n, o);
  const long = Math.sqrt(x * x + y * y + z * z) || 1;
  return [x / long, y / long, z / long];
}

/**
 * How a model goes onto another: how both lie over each other, and for each painted part of the new one the part that it comes from, by
 * name where there is one, else by place.
 * @returns null when one of them has no surface, or they differ in size beyond all measure
 */
export function proposeFit(old: Subject, now: Subject): Fit | null {
  const found = findOverlay(old, now);
  if (!found) return null;
  const { turn, scale, shift } = found.overlay;
  const fit: Fit = {
    turn: degreesOf(turn),
    ...{ scale, shift: [...shift] as [number, number, number], size: 'fitting', gaps: 'open', pairs: {} },
  };
  return Fit.safeParse(fit).success ? { ...fit, pairs: proposePairs(old, now, fit) } : null;
}

/** The part of the old model that each painted part of the new one comes from, both lying as a fit says. */
export function proposePairs(old: Subject, now: Subject, fit: Fit): Fit['pairs'] {
  const fitting = new Fitting(old, now, { ...fit, pairs: {} });
  const lies = liesBack(inverseOf(overlayOf(fit)));
  const pairs: Fit['pairs'] = {};
  for (const part of now.parts) {
    if (part.sheet === null) continue;
    const from = fitting.comesFrom(trianglesOf(part), lies);
    const named = old.parts.filter(({ name, sheet }) => sheet !== null && alike(name, part.name));
    const [first] = from;
    const there = named.find(({ key }) => from.some((one) => one.key === key && one.share >= BY_NAME));
    const near = first && first.far < FAR ? first.key : null;
    pairs[part.key] = there?.key ?? (named.length === 1 ? named[0].key : near);
  }
  return pairs;
}

/** Names that differ in how they are written alone. */
const alike = (a: string, b: string): boolean => {
  const bare = (name: string) => name.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '');
  return bare(a) === bare(b) && bare(a) !== '';
};
