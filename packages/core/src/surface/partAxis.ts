import type { Subject } from '../livery/template.ts';
import { triangleOnSheet } from './triangles.ts';

/** A line along a part. */
export interface PartAxis {
  /** Where the part begins along it, texels. */
  x: number;
  y: number;
  /** Degrees clockwise from the right, -90..90: it runs to the right, or down. */
  angle: number;
  /** From one end of the part to the other, texels. */
  length: number;
}

/**
 * The long axis of a part on its sheet: through the middle of its area, in the direction in which that spreads most (the first principal
 * axis of the second moments of area), from where the part begins to where it ends.
 * @returns null when the part is not there or has no area
 */
export function partAxis(template: Subject, sheetKey: string, partKey: string): PartAxis | null {
  const sheet = template.sheets.find(({ key }) => key === sheetKey);
  const part = template.parts.find(({ key, sheet: on }) => key === partKey && on === sheetKey);
  if (!sheet || !part) return null;
  const triangles = Array.from({ length: part.count }, (_, k) =>
    triangleOnSheet(template.mesh, part.first + k, sheet.width, sheet.height),
  );
  let [area, mx, my, xx, xy, yy] = [0, 0, 0, 0, 0, 0];
  for (const [ax, ay, bx, by, cx, cy] of triangles) {
    const own = Math.abs((bx - ax) * (cy - ay) - (by - ay) * (cx - ax)) / 2;
    const [gx, gy] = [(ax + bx + cx) / 3, (ay + by + cy) / 3];
    area += own;
    mx += own * gx;
    my += own * gy;
    // Second moments of a triangle about the origin: from its corners and its middle.
    xx += (own / 12) * (ax * ax + bx * bx + cx * cx + 9 * gx * gx);
    xy += (own / 12) * (ax * ay + bx * by + cx * cy + 9 * gx * gy);
    yy += (own / 12) * (ay * ay + by * by + cy * cy + 9 * gy * gy);
  }
  if (!(area > 0)) return null;
  [mx, my] = [mx / area, my / area];
  const [sxx, sxy, syy] = [xx / area - mx * mx, xy / area - mx * my, yy / area - my * my];
  const turn = 0.5 * Math.atan2(2 * sxy, sxx - syy);
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  let [from, to] = [Infinity, -Infinity];
  for (const corners of triangles) {
    for (let k = 0; k < 6; k += 2) {
      const along = (corners[k] - mx) * cos + (corners[k + 1] - my) * sin;
      from = Math.min(from, along);
      to = Math.max(to, along);
    }
  }
  return { x: mx + from * cos, y: my + from * sin, angle: (turn * 180) / Math.PI, length: to - from };
}
