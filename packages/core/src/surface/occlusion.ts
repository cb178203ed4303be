/** Ambient occlusion of a sheet, baked from the mesh: how much of the sky above each texel is open. */
import { type MeshData, sheetNamed, type Subject } from '../livery/template.ts';
import type { Image8 } from '../raster/image.ts';
import { nearestInside } from '../raster/nearest.ts';
import { acrossNormal } from './across.ts';
import { occluded, type Bvh } from './bvh.ts';
import { fieldsIn, type SurfaceFields } from './fields.ts';
import { faceOf } from './islands.ts';
import { SheetSurface } from './surface.ts';

/** Rows of a sheet that are worked out together. */
const ROWS = 64;

/** A sheet at a size of its own, as it is baked at. */
export function fieldsAt(subject: Subject, sheetKey: string, width: number, height: number): SurfaceFields {
  const surface = new SheetSurface(subject, sheetKey, { width, height });
  return fieldsIn(surface, { left: 0, top: 0, right: width, bottom: height });
}

/** `count` directions over a half sphere around +z, denser towards the pole by the cosine (Malley's method on a Hammersley set). */
function directions(count: number): Float64Array {
  const out = new Float64Array(count * 3);
  for (let i = 0; i < count; i++) {
    let bits = i;
    let inverse = 0;
    for (let k = 0.5; bits > 0; k /= 2, bits >>= 1) if (bits & 1) inverse += k;
    const radius = Math.sqrt((i + 0.5) / count);
    const angle = 2 * Math.PI * inverse;
    out[i * 3] = radius * Math.cos(angle);
    out[i * 3 + 1] = radius * Math.sin(angle);
    out[i * 3 + 2] = Math.sqrt(Math.max(0, 1 - radius * radius));
  }
  return out;
}

/**
 * Casts `rays` rays from each texel of some rows. Where normals are smoothed over flat triangles, part of the half sphere lies below the
 * triangle itself: those rays tell nothing of the surroundings and are left out.
 * @param mesh of the map @param reach how far away something still darkens, in units of the model
 * @param out open share, 0..1, for every texel of the map; rows outside from..to and texels without island are left as they are
 */
export function bakeRows(
  mesh: MeshData,
  map: SurfaceFields,
  bvh: Bvh,
  { rays, reach }: { rays: number; reach: number },
  from: number,
  to: number,
  out: Float32Array,
): void {
  const set = directions(rays);
  // Off the surface by a little of the model's size, so that a texel is not darkened by its own triangle.
  const [x0, y0, z0, x1, y1, z1] = bvh.boxes;
  const bias = Math.max(x1 - x0, y1 - y0, z1 - z0) * 2e-5;
  const width = map.window.right;
  for (let y = from; y < to; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!map.centred[i]) continue;
      const [px, py, pz] = [map.position[i * 3], map.position[i * 3 + 1], map.position[i * 3 + 2]];
      const [nx, ny, nz] = [map.normal[i * 3], map.normal[i * 3 + 1], map.normal[i * 3 + 2]];
      // Turned by a number of the texel's own, so that the error is grain and no banding.
      const [ux, uy, uz, vx, vy, vz] = acrossNormal(nx, ny, nz);
      const turn = ((Math.imul(x, 0x9e3779b1) ^ Math.imul(y, 0x85ebca6b)) >>> 8) / 0x1000000;
      const [cos, sin] = [Math.cos(2 * Math.PI * turn), Math.sin(2 * Math.PI * turn)];
      let [fx, fy, fz] = faceOf(mesh, map.triangle[i]);
      // Some meshes wind their triangles against their normals.
      if (fx * nx + fy * ny + fz * nz < 0) [fx, fy, fz] = [-fx, -fy, -fz];
      let open = 0;
      let cast = 0;
      for (let k = 0; k < rays; k++) {
        const s = set[k * 3] * cos - set[k * 3 + 1] * sin;
        const t = set[k * 3] * sin + set[k * 3 + 1] * cos;
        const n = set[k * 3 + 2];
        const dx = ux * s + vx * t + nx * n;
        const dy = uy * s + vy * t + ny * n;
        const dz = uz * s + vz * t + nz * n;
        if (dx * fx + dy * fy + dz * fz <= 0) continue;
        cast++;
        if (!occluded(bvh, px + nx * bias, py + ny * bias, pz + nz * bias, dx, dy, dz, bias, reach)) open++;
      }
      out[i] = cast > 0 ? open / cast : 1;
    }
  }
}

/**
 * Smooths a bake and brings it to the sheet's size: each texel takes from the nine baked ones around it those that lie near it on the
 * model and face the same way (joint bilateral upsampling, Kopf and others, 2007). Gutters take their nearest texel.
 * @returns grey, opaque: white is open; what belongs to no island is white
 */
export function finishBake(
  subject: Subject,
  sheetKey: string,
  coarse: SurfaceFields,
  open: Float32Array,
  rows?: (done: number) => void,
): Image8 {
  const sheet = sheetNamed(subject, sheetKey);
  const { width, height } = sheet;
  const data = new Uint8Array(width * height * 4).fill(255);
  const inside = new Uint8Array(width * height);
  const surface = new SheetSurface(subject, sheetKey);
  const { right: bakedAcross, bottom: bakedDown } = coarse.window;
  const [sx, sy] = [bakedAcross / width, bakedDown / height];
  // Two baked texels apart on the model, by the mean over the sheet.
  const near = 2 * stepOf(coarse);
  const spread = 1 / (2 * near * near);
  let fine = fieldsIn(surface, { left: 0, top: 0, right: 0, bottom: 0 });
  for (let y = 0; y < height; y++) {
    if (y % ROWS === 0) fine = fieldsIn(surface, { left: 0, top: y, right: width, bottom: Math.min(height, y + ROWS) });
    for (let x = 0; x < width; x++) {
      const texel = y * width + x;
      const own = (y % ROWS) * width + x;
      if (!fine.centred[own]) continue;
      const i = own * 3;
      const cx = Math.floor((x + 0.5) * sx);
      const cy = Math.floor((y + 0.5) * sy);
      let sum = 0;
      let weights = 0;
      for (let row = Math.max(0, cy - 1); row <= Math.min(bakedDown - 1, cy + 1); row++) {
        for (let column = Math.max(0, cx - 1); column <= Math.min(bakedAcross - 1, cx + 1); column++) {
          const j = (row * bakedAcross + column) * 3;
          if (!coarse.centred[j / 3]) continue;
          let apart = 0;
          let facing = 0;
          for (let c = 0; c < 3; c++) {
            const d = coarse.position[j + c] - fine.position[i + c];
            apart += d * d;
            facing += coarse.normal[j + c] * fine.normal[i + c];
          }
          if (facing <= 0) continue;
          const w = (facing * facing * facing * facing) / (1 + apart * spread * 4);
          sum += w * open[j / 3];
          weights += w;
        }
      }
      if (weights <= 0) continue;
      inside[texel] = 1;
      const value = Math.round((255 * sum) / weights);
      data.fill(value, texel * 4, texel * 4 + 3);
    }
    if ((y & 63) === 63) rows?.((y + 1) / height);
  }
  const nearest = nearestInside(inside, width, height);
  for (let i = 0; i < inside.length; i++) {
    if (inside[i] || nearest[i] < 0) continue;
    const dx = (i % width) - (nearest[i] % width);
    const dy = Math.floor(i / width) - Math.floor(nearest[i] / width);
    if (dx * dx + dy * dy > 32 * 32) continue;
    data.copyWithin(i * 4, nearest[i] * 4, nearest[i] * 4 + 3);
  }
  return { width, height, data };
}

/** Mean distance on the model from a texel to the next one in its row. */
function stepOf({ window: { right: width, bottom: height }, centred, position }: SurfaceFields): number {
  let sum = 0;
  let n = 0;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x + 1 < width; x++) {
      const texel = y * width + x;
      if (!centred[texel] || !centred[texel + 1]) continue;
      const i = texel * 3;
      const d = [0, 1, 2].map((c) => position[i + c] - position[i + 3 + c]);
      sum += Math.sqrt(d[0] * d[0] + d[1] * d[1] + d[2] * d[2]);
      n++;
    }
  }
  return n > 0 ? sum / n : 1;
}
