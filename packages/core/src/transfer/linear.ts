/** Small dense linear algebra: what laying two models over one another takes. */

/** Nine numbers, row by row. */
export type Turn = readonly number[];

export const NO_TURN: Turn = [1, 0, 0, 0, 1, 0, 0, 0, 1];

export const times = (a: Turn, b: Turn): number[] =>
  Array.from({ length: 9 }, (_, k) => {
    const [i, j] = [Math.floor(k / 3) * 3, k % 3];
    return a[i] * b[j] + a[i + 1] * b[j + 3] + a[i + 2] * b[j + 6];
  });

export const transposed = (a: Turn): number[] => [a[0], a[3], a[6], a[1], a[4], a[7], a[2], a[5], a[8]];

export const applied = (a: Turn, p: ArrayLike<number>, o = 0): [number, number, number] => [
  a[0] * p[o] + a[1] * p[o + 1] + a[2] * p[o + 2],
  a[3] * p[o] + a[4] * p[o + 1] + a[5] * p[o + 2],
  a[6] * p[o] + a[7] * p[o + 1] + a[8] * p[o + 2],
];

/** The turn of a quaternion w, x, y, z of any length but 0. */
export function turnOf([w, x, y, z]: readonly number[]): number[] {
  const s = 2 / (w * w + x * x + y * y + z * z);
  return [
    ...[1 - s * (y * y + z * z), s * (x * y - w * z), s * (x * z + w * y)],
    ...[s * (x * y + w * z), 1 - s * (x * x + z * z), s * (y * z - w * x)],
    ...[s * (x * z - w * y), s * (y * z + w * x), 1 - s * (x * x + y * y)],
  ];
}

/** About an axis of length 1, radians. */
export const turnAbout = (axis: readonly number[], angle: number): number[] =>
  turnOf([Math.cos(angle / 2), ...axis.map((v) => v * Math.sin(angle / 2))]);

/** How far a turn goes, radians. */
export const angleOf = (a: Turn): number => Math.acos(Math.max(-1, Math.min(1, (a[0] + a[4] + a[8] - 1) / 2)));

/** Degrees about the model's own z, then y, then x, as three numbers for x, y and z; see turnOfDegrees. */
export function degreesOf(a: Turn): [number, number, number] {
  const by = 180 / Math.PI;
  const y = Math.asin(Math.max(-1, Math.min(1, -a[6])));
  const steep = Math.abs(a[6]) > 1 - 1e-12;
  const x = steep ? 0 : Math.atan2(a[7], a[8]);
  const z = steep ? Math.atan2(-a[1], a[4]) : Math.atan2(a[3], a[0]);
  return [x * by || 0, y * by || 0, z * by || 0];
}

/** The turn by so many degrees about x, then y, then z, all as they stand. */
export function turnOfDegrees([x, y, z]: readonly number[]): number[] {
  const about = (axis: number[], degrees: number) => turnAbout(axis, (degrees * Math.PI) / 180);
  return times(about([0, 0, 1], z), times(about([0, 1, 0], y), about([1, 0, 0], x)));
}
