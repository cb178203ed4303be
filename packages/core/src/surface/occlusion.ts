/** Ambient occlusion of a sheet, baked from the mesh: how much of the sky above each texel is open. */
import type { MeshData, Subject } from '../livery/template.ts';
import type { Image8 } from '../raster/image.ts';
import { occluded, type Bvh } from './bvh.ts';
import { faceOf } from './islands.ts';
import { nearestInside, triangleOnSheet } from './surface.ts';

/** Where each texel of a sheet lies on the model; NaN where no island is. */
export interface TexelMap {
  readonly width: number;
  readonly height: number;
  /** Three numbers a texel. */
  readonly position: Float32Array;
  readonly normal: Float32Array;
  /** Triangle of the mesh; -1 where no island is. */
  readonly triangle: Int32Array;
}

/** Positions and normals of a sheet's texels at a size of its own; where islands overlap the first part has the texel. */
export function texelMap(subject: Subject, sheetKey: string, width: number, height: number): TexelMap {
  const { mesh } = subject;
  const position = new Float32Array(width * height * 3).fill(NaN);
  const normal = new Float32Array(width * height * 3);
  const triangle = new Int32Array(width * height).fill(-1);
  for (const part of subject.parts) {
    if (part.sheet !== sheetKey) continue;
    for (let t = part.first; t < part.first + part.count; t++) {
      const [ax, ay, bx, by, cx, cy] = triangleOnSheet(mesh, t, width, height);
      const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
      if (area === 0) continue;
      const x0 = Math.max(0, Math.floor(Math.min(ax, bx, cx) - 0.5));
      const x1 = Math.min(width - 1, Math.ceil(Math.max(ax, bx, cx) - 0.5));
      const y0 = Math.max(0, Math.floor(Math.min(ay, by, cy) - 0.5));
      const y1 = Math.min(height - 1, Math.ceil(Math.max(ay, by, cy) - 0.5));
      for (let y = y0; y <= y1; y++) {
        for (let x = x0; x <= x1; x++) {
          const i = (y * width + x) * 3;
          if (!Number.isNaN(position[i])) continue;
          const [px, py] = [x + 0.5, y + 0.5];
          const v = ((px - ax) * (cy - ay) - (py - ay) * (cx - ax)) / area;
          const w = ((bx - ax) * (py - ay) - (by - ay) * (px - ax)) / area;
          const u = 1 - v - w;
          if (u < -1e-6 || v < -1e-6 || w < -1e-6) continue;
          triangle[i / 3] = t;
          const share = [u, v, w];
          let length = 0;
          for (let c = 0; c < 3; c++) {
            let [p, n] = [0, 0];
            for (let k = 0; k < 3; k++) {
              const at = mesh.indices[t * 3 + k] * 3 + c;
              p += share[k] * mesh.positions[at];
              n += share[k] * mesh.normals[at];
            }
            position[i + c] = p;
            normal[i + c] = n;
            length += n * n;
          }
          const inverse = length > 0 ? 1 / Math.sqrt(length) : 0;
          for (let c = 0; c < 3; c++) normal[i + c] *= inverse;
        }
      }
    }
  }
  return { width, height, position, normal, triangle };
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
  map: TexelMap,
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
  for (let y = from; y < to; y++) {
    for (let x = 0; x < map.width; x++) {
      const i = y * map.width + x;
      const [px, py, pz] = [map.position[i * 3], map.position[i * 3 + 1], map.position[i * 3 + 2]];
      if (Number.isNaN(px)) continue;
      const [nx, ny, nz] = [map.normal[i * 3], map.normal[i * 3 + 1], map.normal[i * 3 + 2]];
      // Two directions across the normal (Duff and others, "Building an orthonormal basis, revisited", 2017), turned by a number of the
      // texel's own, so that the error is grain and no banding.
      const sign = nz >= 0 ? 1 : -1;
      const a = -1 / (sign + nz);
      const b = nx * ny * a;
      const [ux, uy, uz] = [1 + sign * nx * nx * a, sign * b, -sign * nx];
      const [vx, vy, vz] = [b, sign + ny * ny * a, -ny];
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
  coarse: TexelMap,
  open: Float32Array,
  rows?: (done: number) => void,
): Image8 {
  const sheet = subject.sheets.find((s) => s.key === sheetKey)!;
  const { width, height } = sheet;
  const data = new Uint8Array(width * height * 4).fill(255);
  const inside = new Uint8Array(width * height);
  const fine = texelMap(subject, sheetKey, width, height);
  const [sx, sy] = [coarse.width / width, coarse.height / height];
  // Two baked texels apart on the model, by the mean over the sheet.
  const near = 2 * stepOf(coarse);
  const spread = 1 / (2 * near * near);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = (y * width + x) * 3;
      if (Number.isNaN(fine.position[i])) continue;
      const cx = Math.floor((x + 0.5) * sx);
      const cy = Math.floor((y + 0.5) * sy);
      let sum = 0;
      let weights = 0;
      for (let row = Math.max(0, cy - 1); row <= Math.min(coarse.height - 1, cy + 1); row++) {
        for (let column = Math.max(0, cx - 1); column <= Math.min(coarse.width - 1, cx + 1); column++) {
          const j = (row * coarse.width + column) * 3;
          if (Number.isNaN(coarse.position[j])) continue;
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
      inside[i / 3] = 1;
      const value = Math.round((255 * sum) / weights);
      data.fill(value, (i / 3) * 4, (i / 3) * 4 + 3);
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
function stepOf({ width, height, position }: TexelMap): number {
  let sum = 0;
  let n = 0;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x + 1 < width; x++) {
      const i = (y * width + x) * 3;
      if (Number.isNaN(position[i]) || Number.isNaN(position[i + 3])) continue;
      const d = [0, 1, 2].map((c) => position[i + c] - position[i + 3 + c]);
      const length = Math.sqrt(d[0] * d[0] + d[1] * d[1] + d[2] * d[2]);
      sum += length;
      n++;
    }
  }
  return n > 0 ? sum / n : 1;
}
