import type { Subject } from '../livery/template.ts';
import { triangleOnSheet } from './triangles.ts';

/** Below this share of a full rise a part lies so flat that its height says nothing of which way it faces. */
const FLAT = 0.2;

/**
 * Which way up a part lies on its sheet: the direction on the sheet in which the model rises, or, on a part that lies flat, in which it
 * runs to the front. Heights are y of the model and its front is at +z, as glTF 2.0 has them (3.4, "Coordinate System and Units").
 * @returns degrees clockwise that turn the sheet so that this direction points upwards, -180..180; null when the part has no such direction
 */
export function partUp(template: Subject, sheetKey: string, partKey: string): number | null {
  const sheet = template.sheets.find(({ key }) => key === sheetKey);
  const part = template.parts.find(({ key, sheet: on }) => key === partKey && on === sheetKey);
  if (!sheet || !part) return null;
  const { positions, indices } = template.mesh;
  const [rise, front] = [1, 2].map((axis) => {
    let [gx, gy, whole] = [0, 0, 0];
    for (let t = part.first; t < part.first + part.count; t++) {
      const c = triangleOnSheet(template.mesh, t, sheet.width, sheet.height);
      const [ax, ay, bx, by] = [c[2] - c[0], c[3] - c[1], c[4] - c[0], c[5] - c[1]];
      const area = ax * by - ay * bx;
      if (Math.abs(area) < 1e-9) continue;
      const at = (k: number, of = axis) => positions[indices[t * 3 + k] * 3 + of];
      const [da, db] = [at(1) - at(0), at(2) - at(0)];
      // The gradient over the sheet, and beside it how far a texel goes on the model at most.
      const [x, y] = [(da * by - db * ay) / area, (db * ax - da * bx) / area];
      const long = (k: number) => Math.hypot(...[0, 1, 2].map((of) => at(k, of) - at(0, of)));
      const texel = Math.max(long(1) / Math.hypot(ax, ay), long(2) / Math.hypot(bx, by));
      const weight = Math.abs(area);
      gx += x * weight;
      gy += y * weight;
      whole += texel * weight;
    }
    return { x: gx, y: gy, share: whole > 0 ? Math.hypot(gx, gy) / whole : 0 };
  });
  const way = rise.share >= FLAT ? rise : front;
  if (way.share < FLAT / 4) return null;
  const turn = -90 - (Math.atan2(way.y, way.x) * 180) / Math.PI;
  return ((((turn + 180) % 360) + 360) % 360) - 180;
}
