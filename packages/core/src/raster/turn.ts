/**
 * Cosine and sine of an angle in degrees (clockwise on screen, since y points down), by our own series: the same on every engine.
 * @example
 * import { turnOf } from './raster/turn.ts';
 * turnOf(360); // { cos: 1, sin: 0 }
 */
export function turnOf(degrees: number): { cos: number; sin: number } {
  let angle = degrees % 360;
  if (angle < 0) angle += 360;
  const quarter = Math.floor((angle + 45) / 90);
  const r = ((angle - quarter * 90) * 3.141592653589793) / 180;
  const r2 = r * r;
  // Taylor series on |r| <= pi/4: the first term left out is below 2e-17.
  const sin =
    r *
    (1 -
      (r2 / 6) *
        (1 - (r2 / 20) * (1 - (r2 / 42) * (1 - (r2 / 72) * (1 - (r2 / 110) * (1 - (r2 / 156) * (1 - r2 / 210)))))));
  const cos =
    1 -
    (r2 / 2) *
      (1 -
        (r2 / 12) *
          (1 - (r2 / 30) * (1 - (r2 / 56) * (1 - (r2 / 90) * (1 - (r2 / 132) * (1 - (r2 / 182) * (1 - r2 / 240)))))));
  switch (quarter & 3) {
    case 0:
      return { cos, sin };
    case 1:
      return { cos: -sin, sin: cos };
    case 2:
      return { cos: -cos, sin: -sin };
    default:
      return { cos: sin, sin: -cos };
  }
}
