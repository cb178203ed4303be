/** The camera that a photo of the thing was taken with, from places of the model and where the photo shows them. */
import { solveLinear } from './solveLinear.ts';
import { cross, dot, long, minus, plus, unit, type Vec } from './vectors.ts';

/** A place of the model and where a picture shows it: shares of its width and its height, 0..1, y down. */
export interface CameraPair {
  place: Vec;
  x: number;
  y: number;
}

/** Square pixels, the middle of the picture straight ahead. */
export interface MatchedCamera {
  eye: Vec;
  /** Where it looks, and what is up in the picture; of length 1 and at right angles. */
  ahead: Vec;
  up: Vec;
  /** Degrees from the picture's foot to its head. */
  fov: number;
  /** How far the places lie from where the picture shows them: root of the mean square, shares of its height. */
  off: number;
}

/** Fewer do not tell where it was taken from and how long the lens was. */
export const FEWEST_PAIRS = 4;
/** Angles of view that are tried first, and the one that is kept to where the places do not tell, degrees. */
const FIRST_FOVS = [18, 35, 60];
const LIKELY_FOV = 35;
/** How little that counts beside the places. */
const LIKELY = 2e-4;
const [ROUNDS, LEAST_FOV, MOST_FOV] = [60, 2, 130];

/** Three of a rotation vector, three of the eye, and the logarithm of the focal length in heights of the picture. */
type Params = number[];

/** Rotation by rows: to the right, up and back, of a vector along its axis as long as its angle (Rodrigues). */
function axesOf([a, b, c]: readonly number[]): readonly [Vec, Vec, Vec] {
  const angle = Math.sqrt(a * a + b * b + c * c);
  const [x, y, z] = angle > 1e-12 ? [a / angle, b / angle, c / angle] : [0, 0, 1];
  const [s, k] = [Math.sin(angle), 1 - Math.cos(angle)];
  return [
    [1 - k * (y * y + z * z), k * x * y - s * z, k * x * z + s * y],
    [k * x * y + s * z, 1 - k * (x * x + z * z), k * y * z - s * x],
    [k * x * z - s * y, k * y * z + s * x, 1 - k * (x * x + y * y)],
  ];
}

/** The rotation vector of three axes by rows. */
function vectorOf([r, u, b]: readonly [Vec, Vec, Vec]): [number, number, number] {
  const angle = Math.acos(Math.min(1, Math.max(-1, (r[0] + u[1] + b[2] - 1) / 2)));
  const axis: Vec = [b[1] - u[2], r[2] - b[0], u[0] - r[1]];
  const size = long(axis);
  if (size > 1e-6) return [(axis[0] / size) * angle, (axis[1] / size) * angle, (axis[2] / size) * angle];
  if (angle < 1) return [0, 0, 0];
  // Half a turn: the axis is what the rotation leaves as it is.
  const diagonal = [r[0], u[1], b[2]].map((v) => Math.sqrt(Math.max(0, (v + 1) / 2)));
  const [x, y, z] = diagonal;
  const signs =
    x >= y && x >= z
      ? [1, Math.sign(r[1] || 1), Math.sign(r[2] || 1)]
      : y >= z
        ? [Math.sign(r[1] || 1), 1, Math.sign(u[2] || 1)]
        : [Math.sign(r[2] || 1), Math.sign(u[2] || 1), 1];
  return [x * signs[0] * Math.PI, y * signs[1] * Math.PI, z * signs[2] * Math.PI];
}

/** How far each place lies from where the picture shows it, heights of the picture, across and down in turn; null: one lies behind. */
function offsOf(p: Params, pairs: readonly CameraPair[], ratio: number): number[] | null {
  const [right, up, back] = axesOf(p);
  const eye: Vec = [p[3], p[4], p[5]];
  const focal = Math.exp(p[6]);
  const out: number[] = [];
  for (const { place, x, y } of pairs) {
    const at = minus(place, eye);
    const deep = -dot(at, back);
    if (!(deep > 1e-9)) return null;
    out.push((focal * dot(at, right)) / deep - (x - 0.5) * ratio, -(focal * dot(at, up)) / deep - (y - 0.5));
  }
  out.push(LIKELY * (p[6] - focalOf(LIKELY_FOV)));
  return out;
}

const focalOf = (fov: number): number => Math.log(0.5 / Math.tan((fov * Math.PI) / 360));
const fovOf = (logFocal: number): number => (360 / Math.PI) * Math.atan(0.5 / Math.exp(logFocal));
const squares = (all: readonly number[]): number => all.reduce((sum, v) => sum + v * v, 0);

/** Betters a guess (Levenberg, "A method for the solution of certain non-linear problems in least squares", 1944; Marquardt, 1963). */
function bettered(
  from: Params,
  pairs: readonly CameraPair[],
  ratio: number,
  size: number,
): { p: Params; off: number } | null {
  let p = from;
  let offs = offsOf(p, pairs, ratio);
  if (!offs) return null;
  let sum = squares(offs);
  let damp = 1e-2;
  // The eye's numbers are of the model's size.
  const steps = [1e-6, 1e-6, 1e-6, 1e-6 * size, 1e-6 * size, 1e-6 * size, 1e-6];
  for (let round = 0; round < ROUNDS && damp < 1e12; round++) {
    const now = offs;
    const slopes: number[][] = [];
    for (let k = 0; k < 7; k++) {
      const moved = offsOf(
        p.map((v, i) => (i === k ? v + steps[k] : v)),
        pairs,
        ratio,
      );
      if (!moved) return { p, off: sum };
      slopes.push(moved.map((v, i) => (v - now[i]) / steps[k]));
    }
    const normal = slopes.map((a) => slopes.map((b) => a.reduce((s, v, i) => s + v * b[i], 0)));
    const right = slopes.map((a) => -a.reduce((s, v, i) => s + v * now[i], 0));
    let better = false;
    while (!better && damp < 1e12) {
      const step = solveLinear(
        normal.map((row, i) => row.map((v, j) => (i === j ? v * (1 + damp) + 1e-15 : v))),
        [...right],
      );
      const next = step && p.map((v, i) => v + step[i]);
      const fov = next ? fovOf(next[6]) : 0;
      const there = next && fov > LEAST_FOV && fov < MOST_FOV ? offsOf(next, pairs, ratio) : null;
      const less = there ? squares(there) : Infinity;
      if (less < sum) {
        better = true;
        const gain = sum - less;
        [p, offs, sum] = [next!, there!, less];
        damp = Math.max(1e-12, damp / 10);
        if (gain < 1e-16) return { p, off: sum };
      } else damp *= 10;
    }
  }
  return { p, off: sum };
}

/** Directions all about, for first guesses. */
const ABOUT: readonly Vec[] = [-0.6, 0.1, 0.35, 0.8].flatMap((y) =>
  Array.from({ length: 10 }, (_, k): Vec => {
    const turn = (2 * Math.PI * k) / 10;
    return unit([Math.cos(turn), y, Math.sin(turn)]);
  }),
);

/**
 * Finds the camera. Where fewer places tell it than there is to know (four in a plane that is looked at straight on), its lens is taken as an
 * ordinary one.
 * @param ratio width of the picture by its height
 * @returns null: fewer than four pairs, or no camera shows the places about there
 */
export function matchCamera(pairs: readonly CameraPair[], ratio: number): MatchedCamera | null {
  if (pairs.length < FEWEST_PAIRS || !(ratio > 0)) return null;
  const middle = pairs.reduce<Vec>((sum, { place }) => plus(sum, place, 1 / pairs.length), [0, 0, 0]);
  const size = Math.max(...pairs.map(({ place }) => long(minus(place, middle))));
  if (!(size > 0) || !Number.isFinite(size)) return null;
  const spread = Math.max(1e-3, ...pairs.map((a) => Math.hypot((a.x - 0.5) * ratio, a.y - 0.5)));
  let best: { p: Params; off: number } | null = null;
  for (const from of ABOUT)
    for (const fov of FIRST_FOVS) {
      const far = (size * Math.exp(focalOf(fov))) / spread + size;
      const back = from;
      const right = unit(cross([0, 1, 0], back));
      const up = cross(back, right);
      const eye = plus(middle, back, far);
      const begun = [...vectorOf([right, up, back]), ...eye, focalOf(fov)];
      const found = bettered(begun, pairs, ratio, size);
      if (found && (!best || found.off < best.off)) best = found;
    }
  if (!best) return null;
  const [, up, back] = axesOf(best.p);
  const offs = offsOf(best.p, pairs, ratio)!.slice(0, -1);
  const off = Math.sqrt(squares(offs) / pairs.length);
  const eye: Vec = [best.p[3], best.p[4], best.p[5]];
  return { eye, ahead: [-back[0], -back[1], -back[2]], up, fov: fovOf(best.p[6]), off };
}
