/** Curves and bodies that the subjects of the demo world are made of. Metres; x forward, y up, z starboard. */
import type { Patch, Vec } from './patches.ts';

export type Curve = (t: number) => number;

const lerp = (a: number, b: number, t: number) => a + (b - a) * t;
const clamp = (t: number) => Math.max(0, Math.min(1, t));
const mix = (a: Vec, b: Vec, t: number): Vec => [lerp(a[0], b[0], t), lerp(a[1], b[1], t), lerp(a[2], b[2], t)];

/** A smooth curve through points, `t` rising, that never overshoots (monotone cubic; Fritsch and Carlson, 1980). */
export function through(...points: readonly (readonly [t: number, value: number])[]): Curve {
  const slopes = points.slice(1).map(([t, v], i) => (v - points[i][1]) / (t - points[i][0]));
  const tangents = points.map((_, i) => {
    const [before, after] = [slopes[i - 1], slopes[i]];
    if (before === undefined || after === undefined) return before ?? after;
    return before * after <= 0 ? 0 : (2 * before * after) / (before + after);
  });
  return (t) => {
    if (t <= points[0][0]) return points[0][1];
    const i = Math.min(
      points.length - 2,
      points.findLastIndex(([at]) => at <= t),
    );
    const [[t0, v0], [t1, v1]] = [points[i], points[i + 1]];
    const wide = t1 - t0;
    const s = clamp((t - t0) / wide);
    const [m0, m1] = [tangents[i] * wide, tangents[i + 1] * wide];
    return v0 * (1 + 2 * s) * (1 - s) ** 2 + m0 * s * (1 - s) ** 2 + v1 * s * s * (3 - 2 * s) + m1 * s * s * (s - 1);
  };
}

/** Rounder than a box, squarer than an ellipse. @param turn 0 is straight up, a quarter is starboard. @returns [up, aside] */
function ring(wide: number, high: number, power: number, turn: number): [number, number] {
  const [c, s] = [Math.cos(2 * Math.PI * turn), Math.sin(2 * Math.PI * turn)];
  const bend = (v: number) => Math.sign(v) * Math.abs(v) ** (2 / power);
  return [bend(c) * high, bend(s) * wide];
}

export interface Body {
  /** Half widths and half heights, and the middle's height, by x. */
  wide: Curve;
  high: Curve;
  middle: Curve;
  /** 2 is an ellipse, more is squarer. */
  power?: Curve;
}

/** A point on a body that lies along x. @param out metres above its skin */
export function onBody({ wide, high, middle, power = () => 2 }: Body, x: number, turn: number, out = 0): Vec {
  const [up, aside] = ring(wide(x) + out, high(x) + out, power(x), turn);
  return [x, middle(x) + up, aside];
}

const minus = (a: Vec, b: Vec): Vec => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const cross = (a: Vec, b: Vec): Vec => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const unit = (a: Vec): Vec => {
  const long = Math.hypot(...a) || 1;
  return [a[0] / long, a[1] / long, a[2] / long];
};

/** Along a smooth line through points, by length; the line itself and where it heads. */
function along(points: readonly Vec[]): (t: number) => { at: Vec; towards: Vec } {
  const lengths = [0];
  for (let i = 1; i < points.length; i++) lengths.push(lengths[i - 1] + Math.hypot(...minus(points[i], points[i - 1])));
  const whole = lengths.at(-1)!;
  const axes = [0, 1, 2].map((k) => through(...points.map((p, i) => [lengths[i] / whole, p[k]] as const)));
  const at = (t: number) => axes.map((axis) => axis(t)) as unknown as Vec;
  return (t) => ({ at: at(t), towards: unit(minus(at(Math.min(1, t + 0.004)), at(Math.max(0, t - 0.004)))) });
}

/**
 * A tube along a line through points: u runs around, v along; seen from outside.
 * @param radius by how far along; @param flat how much less it is across `level`
 */
export function sweep(
  points: readonly Vec[],
  radius: number | Curve,
  { level = [0, 1, 0] as Vec, flat = 1 }: { level?: Vec; flat?: number } = {},
): Patch['at'] {
  const line = along(points);
  const r = typeof radius === 'number' ? () => radius : radius;
  return (u, v) => {
    const { at, towards } = line(v);
    const aside = unit(
      cross(
        towards,
        Math.abs(towards[0] * level[0] + towards[1] * level[1] + towards[2] * level[2]) > 0.98 ? [1, 0, 0] : level,
      ),
    );
    const over = cross(aside, towards);
    const [c, s] = [Math.cos(2 * Math.PI * u) * r(v), Math.sin(2 * Math.PI * u) * r(v) * flat];
    return [0, 1, 2].map((k) => at[k] + aside[k] * c + over[k] * s) as unknown as Vec;
  };
}

/** A ball, or an egg of three half axes; u runs around its y axis, v from the top down. */
export const ball =
  (middle: Vec, half: number | Vec, from = 0.001, to = 0.999): Patch['at'] =>
  (u, v) => {
    const [x, y, z] = typeof half === 'number' ? [half, half, half] : half;
    const [turn, fall] = [2 * Math.PI * u, Math.PI * lerp(from, to, v)];
    return [
      middle[0] + x * Math.sin(fall) * Math.cos(turn),
      middle[1] + y * Math.cos(fall),
      middle[2] - z * Math.sin(fall) * Math.sin(turn),
    ];
  };

/** A round plate that faces along an axis; u runs around, v from its middle out. */
export const plate =
  (middle: Vec, facing: Vec, radius: number, dome = 0): Patch['at'] =>
  (u, v) => {
    const n = unit(facing);
    const aside = unit(cross(n, Math.abs(n[1]) > 0.9 ? [1, 0, 0] : [0, 1, 0]));
    const over = cross(aside, n);
    const [c, s] = [Math.cos(2 * Math.PI * u) * radius * v, Math.sin(2 * Math.PI * u) * radius * v];
    return [0, 1, 2].map((k) => middle[k] + n[k] * dome * (1 - v * v) - aside[k] * c + over[k] * s) as unknown as Vec;
  };

/** A box of metres with rounded edges: u runs around its y axis, v from the middle of its top to the middle of its foot. */
export const block =
  (middle: Vec, half: Vec, power = 6): Patch['at'] =>
  (u, v) => {
    const [turn, fall] = [2 * Math.PI * u, Math.PI * lerp(0.001, 0.999, v)];
    const bend = (value: number) => Math.sign(value) * Math.abs(value) ** (2 / power);
    const out = bend(Math.sin(fall));
    return [
      middle[0] + half[0] * out * bend(Math.cos(turn)),
      middle[1] + half[1] * bend(Math.cos(fall)),
      middle[2] - half[2] * out * bend(Math.sin(turn)),
    ];
  };

/** The other side's: mirrored over the plane z = 0. */
export const otherSide =
  (at: Patch['at']): Patch['at'] =>
  (u, v) => {
    const [x, y, z] = at(1 - u, v);
    return [x, y, -z];
  };

/** A sheet with a camber between two lines that run along `u`. */
export const between =
  (
    first: (u: number) => Vec,
    second: (u: number) => Vec,
    camber: (u: number, v: number) => Vec = () => [0, 0, 0],
  ): Patch['at'] =>
  (u, v) => {
    const [p, c] = [mix(first(u), second(u), v), camber(u, v)];
    return [p[0] + c[0], p[1] + c[1], p[2] + c[2]];
  };
