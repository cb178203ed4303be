/** Three numbers: a place on a model, or a direction, in its axes. */
export type Vec = readonly [number, number, number];

export const dot = (a: Vec, b: Vec): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

export const cross = (a: Vec, b: Vec): [number, number, number] => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

export const minus = (a: Vec, b: Vec): [number, number, number] => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];

/** `a` and so many times `b`. */
export const plus = (a: Vec, b: Vec, times = 1): [number, number, number] => [
  a[0] + b[0] * times,
  a[1] + b[1] * times,
  a[2] + b[2] * times,
];

export const long = (a: Vec): number => Math.sqrt(dot(a, a));

/** The same direction at length 1; one without length stays as it is. */
export function unit(a: Vec): [number, number, number] {
  const by = long(a);
  return by > 0 ? [a[0] / by, a[1] / by, a[2] / by] : [a[0], a[1], a[2]];
}

/** What of `a` is at right angles to a direction of length 1, at length 1; where nothing is, any direction at right angles. */
export function upright(a: Vec, across: Vec): [number, number, number] {
  const flat = plus(a, across, -dot(a, across));
  if (long(flat) > 1e-6 * Math.max(1, long(a))) return unit(flat);
  const other: Vec = Math.abs(across[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0];
  return unit(plus(other, across, -dot(other, across)));
}

/** A direction in the mirror of a plane whose normal has length 1. */
export const mirroredDirection = (a: Vec, normal: Vec): [number, number, number] =>
  plus(a, normal, -2 * dot(a, normal));

/** A place in the mirror of a plane: points of it have the offset along its normal, of length 1. */
export const mirroredPlace = (a: Vec, normal: Vec, offset: number): [number, number, number] =>
  plus(a, normal, 2 * (offset - dot(a, normal)));
