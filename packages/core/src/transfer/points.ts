/** Places and directions of the old model on the new one. */
import type { Subject, TemplatePart } from '../livery/template.ts';
import { sheetNamed } from '../livery/template.ts';
import { closestOfPart, type Closest } from '../surface/closest.ts';
import { handOf } from '../surface/islands.ts';
import { faceNormal } from '../surface/edges.ts';
import { cornersOfTriangle, triangleOnSheet } from '../surface/triangles.ts';
import { long, type Vec } from '../surface/vectors.ts';
import { affineBack, affinely, AGREE, overlayOf, type Affine, type Fitting, type Pair } from './fit.ts';
import { applied } from './linear.ts';

/** A place on the new model. */
export interface NewPlace {
  pair: Pair;
  /** On its surface, metres. */
  place: [number, number, number];
  /** Where it would be if it kept its distance from the surface. */
  free: [number, number, number];
  normal: [number, number, number];
  /** On the sheet that wears it, texels. */
  sheet: string;
  x: number;
  y: number;
  /** 1, or -1 where that sheet is laid out mirrored. */
  hand: number;
}

/** On the old surface is what lies within this share of its size of it. */
const ON_SURFACE = 2e-3;

/** Finds where things of the old model go. */
export class Points {
  private readonly backs = new Map<Pair, Affine>();
  private readonly closest = new Map<string, Closest>();

  constructor(readonly fitting: Fitting) {}

  get now(): Subject {
    return this.fitting.now;
  }

  /** The parts of the new model that come from one of the old one. */
  from(part: TemplatePart): Pair[] {
    return this.fitting.pairs.filter(({ from }) => from?.key === part.key);
  }

  /** Whether everything of a pair stays where it is. */
  stays({ toOld: { turn, shift } }: Pair): boolean {
    return turn.every((v, k) => v === (k % 4 === 0 ? 1 : 0)) && shift.every((v) => v === 0);
  }

  back(pair: Pair): Affine {
    const known = this.backs.get(pair) ?? affineBack(pair.toOld);
    this.backs.set(pair, known);
    return known;
  }

  /** A direction as both models lie over each other. */
  direction(d: Vec): [number, number, number] {
    return applied(overlayOf(this.fitting.fit).turn, d);
  }

  /** How many times as long something along a direction of the old model is on the new one. */
  longer(pair: Pair, d: Vec): number {
    return long(applied(this.back(pair).turn, d)) / (long(d) || 1);
  }

  /** Where a place of the old surface goes. @param normal out of it there; null: whichever way @returns null where nothing comes from its part */
  place(at: Vec, normal: Vec | null, part: TemplatePart): NewPlace | null {
    let best: {
      pair: Pair;
      free: [number, number, number];
      far2: number;
      triangle: number;
      p: number;
      q: number;
    } | null = null;
    const out: Vec = normal ? this.direction(normal) : [0, 0, 0];
    for (const pair of this.from(part)) {
      const free = affinely(this.back(pair), at);
      const closest = this.closestOf(pair.part);
      if (!closest.find(...free, ...out, normal ? AGREE : -1)) continue;
      if (best && closest.far2 >= best.far2) continue;
      best = { pair, free, far2: closest.far2, triangle: closest.triangle, p: closest.second, q: closest.third };
    }
    if (!best) return null;
    const { pair, free, triangle, p, q } = best;
    const sheet = pair.part.sheet ?? '';
    const { width, height } = sheetNamed(this.now, sheet);
    const [ax, ay, bx, by, cx, cy] = triangleOnSheet(this.now.mesh, triangle, width, height);
    const [a, b, c] = cornersOfTriangle(this.now.mesh, triangle);
    const mix = (k: 0 | 1 | 2) => a[k] * (1 - p - q) + b[k] * p + c[k] * q;
    return {
      ...{
        pair,
        free,
        sheet,
        place: [mix(0), mix(1), mix(2)],
        normal: faceNormal(this.now.mesh, triangle) ?? [0, 1, 0],
      },
      hand: handOf(this.now.mesh, triangle),
      x: ax * (1 - p - q) + bx * p + cx * q,
      y: ay * (1 - p - q) + by * p + cy * q,
    };
  }

  /**
   * Where a place of the old model goes that belongs to whatever part is nearest to it: on the surface when it lies there, else as far from it.
   * @param facing out of the surface; null: whichever way
   */
  anchor(at: Vec, facing: Vec | null): { at: [number, number, number]; pair: Pair } | null {
    const { all, size } = this.fitting;
    const n: Vec = facing ?? [0, 0, 0];
    if (!all.find(...at, ...n, facing ? 0 : -1) && !all.find(...at, 0, 0, 0, -1)) return null;
    const on = Math.sqrt(all.far2) < ON_SURFACE * size;
    const part = this.fitting.oldPart(all.triangle);
    const found = this.place(at, facing, part) ?? this.place(at, null, part);
    if (!found) return null;
    return { at: this.stays(found.pair) ? [...at] : on ? found.place : found.free, pair: found.pair };
  }

  private closestOf(part: TemplatePart): Closest {
    const known = this.closest.get(part.key) ?? closestOfPart(this.now.mesh, part);
    this.closest.set(part.key, known);
    return known;
  }
}
