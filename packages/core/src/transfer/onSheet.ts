/** Layers of a sheet on another sheet: turned, mirrored and sized as the islands there lie. */
import { scaledBy } from '../livery/arrange.ts';
import { dataOf, type Layer } from '../livery/layer.ts';
import { turnedWithin } from '../layers/data.ts';
import type { Vec } from '../surface/vectors.ts';
import type { NewPlace } from './points.ts';

/** A place of an old sheet, and where it goes. */
export interface Step {
  /** Texels of the old sheet. */
  x: number;
  y: number;
  /** On the old model. */
  place: Vec;
  /** 1, or -1 where the old sheet is laid out mirrored. */
  hand: number;
  /** Null: nothing comes from it. */
  to: NewPlace | null;
}
type Went = Pick<Step, 'x' | 'y' | 'hand'> & { to: Pick<NewPlace, 'x' | 'y' | 'hand'> };

/** Texels of one sheet to those of another: mirrored in x first where `mirrored`, then turned, sized and moved. */
export interface Similarity {
  mirrored: boolean;
  /** Degrees clockwise as the sheet is seen. */
  turn: number;
  scale: number;
  /** Where (0, 0) goes. */
  x: number;
  y: number;
  /** How far off the worst place comes to lie, and how large all of them are together, texels of the new sheet. */
  off: number;
  size: number;
}

/**
 * The similarity by which places lie best (least squares; as complex numbers a * z + b, with z as it is or mirrored).
 * @param held a place that has to come to lie where it goes
 */
export function similarityOf(steps: readonly Went[], held: Went | null): Similarity | null {
  if (steps.length < 1) return null;
  const mean = (of: (step: Went) => number) => steps.reduce((sum, step) => sum + of(step), 0) / steps.length;
  const [cx, cy] = held ? [held.x, held.y] : [mean(({ x }) => x), mean(({ y }) => y)];
  const [tx, ty] = held ? [held.to.x, held.to.y] : [mean(({ to }) => to.x), mean(({ to }) => to.y)];
  // Places along a line say nothing of it: the islands do.
  const mirrored = steps.reduce((sum, { hand, to }) => sum + hand * to.hand, 0) < 0;
  let [re, im, all] = [0, 0, 0];
  for (const { x, y, to } of steps) {
    const [p, q] = [mirrored ? cx - x : x - cx, y - cy];
    const [u, v] = [to.x - tx, to.y - ty];
    re += p * u + q * v;
    im += p * v - q * u;
    all += p * p + q * q;
  }
  if (!(all > 0)) return null;
  const [a, b] = [re / all, im / all];
  const scale = tidied(Math.hypot(a, b), 1e-6);
  if (!(scale > 1e-6)) return null;
  let [off, size] = [0, 0];
  for (const { x, y, to } of steps) {
    const [p, q] = [mirrored ? cx - x : x - cx, y - cy];
    off = Math.max(off, Math.hypot(a * p - b * q + tx - to.x, b * p + a * q + ty - to.y));
    size = Math.max(size, Math.hypot(to.x - tx, to.y - ty));
  }
  const first = mirrored ? cx : -cx;
  return {
    ...{ mirrored, scale, off, size: size * 2, turn: (Math.atan2(b, a) * 180) / Math.PI },
    x: a * first + b * cy + tx,
    y: b * first - a * cy + ty,
  };
}

/** What turns a layer: whichever of these it has. */
const TURNS = ['turn', 'angle'] as const;

/** The layer where a similarity takes it. @returns null for layers that have no place */
export function laidLike(layer: Layer, { mirrored, turn, scale, x, y }: Similarity): Layer | null {
  if (!('x' in layer)) return null;
  const data = dataOf(layer);
  if (mirrored && !data.mirrored) return null;
  const hand = mirrored ? { x: -layer.x, ...data.mirrored?.(layer, { across: 'x', readable: false }) } : {};
  const sized = scaledBy({ ...layer, ...hand } as Layer & { x: number; y: number }, scale);
  const angle = (turn * Math.PI) / 180;
  // Whole quarters are exact.
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)].map((v) =>
    Math.abs(v - Math.round(v)) < 1e-12 ? Math.round(v) : v,
  );
  const out = {
    ...sized,
    x: tidy(sized.x * cos - sized.y * sin + x),
    y: tidy(sized.x * sin + sized.y * cos + y),
  } as Layer & Record<string, unknown>;
  for (const key of TURNS) if (typeof out[key] === 'number') out[key] = tidy(turnedWithin(out[key] + turn));
  if (out.kind === 'shape' && Math.abs(turn) > 1e-9)
    out.paths = out.paths.map((path) => ({
      ...path,
      knots: path.knots.map((knot) => ({ ...knot, x: knot.x * cos - knot.y * sin, y: knot.x * sin + knot.y * cos })),
    }));
  return out;
}

/** What differs from a tidy number by less than anybody sees is that number. */
const tidied = (v: number, hair: number): number => {
  const near = Math.round(v * 1000) / 1000;
  return Math.abs(near - v) < hair ? near : v;
};
const tidy = (v: number): number => tidied(v, 1e-4);
