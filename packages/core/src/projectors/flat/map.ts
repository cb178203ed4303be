import type { ProjectorOf } from '../../livery/projector.ts';
import { diagonalOf } from '../../surface/triangles.ts';
import { cross, dot, unit, upright, type Vec } from '../../surface/vectors.ts';
import { eachPainted, noBoxes, type Footprint, type Project } from '../projection.ts';
import { Cover } from './cover.ts';

/** Where within a texel it is looked whether something hides it: a turned square, shares of a texel. */
const LOOKS = [-0.125, -0.375, 0.375, -0.125, 0.125, 0.375, -0.375, 0.125] as const;

/** Distances along the direction within this share of the model's size are the same. */
const HAIR = 1e-4;

const cosOf = (degrees: number) => Math.cos((degrees * Math.PI) / 180);

/**
 * Every point goes straight along `facing` onto the plane: evenly over a triangle, so that the footprint of a texel is exact.
 * Units of the model in, units of the plane out.
 */
export const project: Project<ProjectorOf<'flat'>> = (projector, subject, hand) => {
  const { scale, depth } = projector;
  const { mesh } = subject;
  const facing = unit(projector.facing);
  const up = upright(projector.up, facing);
  const across = cross(up, facing);
  const right: Vec = hand < 0 ? [-across[0], -across[1], -across[2]] : across;
  const [atU, atV, atD] = [dot(projector.at, right), dot(projector.at, up), dot(projector.at, facing)];
  // The angle is told by its cosine; what runs out goes from none to all around the limit.
  const half = projector.soft / 2;
  const [none, all] = [cosOf(Math.min(90, projector.limit + half)), cosOf(Math.max(0, projector.limit - half))];
  const reach = depth ?? Infinity;

  const { positions, normals, indices } = mesh;
  const many = positions.length / 3;
  const us = new Float64Array(many);
  const vs = new Float64Array(many);
  const ds = new Float64Array(many);
  const faces = new Float64Array(many);
  const [rx, ry, rz] = right;
  const [ux, uy, uz] = up;
  const [fx, fy, fz] = facing;
  for (let i = 0, o = 0; i < many; i++, o += 3) {
    const x = positions[o];
    const y = positions[o + 1];
    const z = positions[o + 2];
    us[i] = (x * rx + y * ry + z * rz - atU) / scale;
    vs[i] = -(x * ux + y * uy + z * uz - atV) / scale;
    ds[i] = x * fx + y * fy + z * fz - atD;
    const nx = normals[o];
    const ny = normals[o + 1];
    const nz = normals[o + 2];
    faces[i] = (nx * fx + ny * fy + nz * fz) / (Math.sqrt(nx * nx + ny * ny + nz * nz) || 1);
  }
  const boxes = noBoxes(indices.length / 3);
  eachPainted(subject, projector.not, (t) => {
    const a = indices[t * 3];
    const b = indices[t * 3 + 1];
    const c = indices[t * 3 + 2];
    if (Math.max(faces[a], faces[b], faces[c]) <= none) return;
    if (Math.min(ds[a], ds[b], ds[c]) > reach || Math.max(ds[a], ds[b], ds[c]) < -reach) return;
    // What lies edge on, or looks away though its corners do not, has no place on the plane.
    const turned = (us[b] - us[a]) * (vs[c] - vs[a]) - (vs[b] - vs[a]) * (us[c] - us[a]);
    if (Math.abs(turned) < 1e-12) return;
    boxes[t * 4] = Math.min(us[a], us[b], us[c]);
    boxes[t * 4 + 1] = Math.min(vs[a], vs[b], vs[c]);
    boxes[t * 4 + 2] = Math.max(us[a], us[b], us[c]);
    boxes[t * 4 + 3] = Math.max(vs[a], vs[b], vs[c]);
  });
  const cover = projector.through ? null : new Cover(subject, projector.not, { us, vs, ds }, HAIR * diagonalOf(mesh));

  // Of the triangle at hand: the plane's u, v and depth and the normal, each at the sheet's origin, to the right and down.
  const of = new Float64Array(18);
  let [lit, shallow] = [true, true];
  let over: Int32Array | null = null;
  return {
    boxes,
    onto(t, plane) {
      const ways = [plane.origin, plane.right, plane.down];
      for (let k = 0; k < 3; k++) {
        const w = ways[k];
        of[k] = w[0] * rx + w[1] * ry + w[2] * rz;
        of[3 + k] = w[0] * ux + w[1] * uy + w[2] * uz;
        of[6 + k] = w[0] * fx + w[1] * fy + w[2] * fz;
        of[9 + k] = w[3];
        of[12 + k] = w[4];
        of[15 + k] = w[5];
      }
      of[0] -= atU;
      of[3] -= atV;
      of[6] -= atD;
      for (let k = 0; k < 3; k++) {
        of[k] /= scale;
        of[3 + k] /= -scale;
      }
      const a = indices[t * 3];
      const b = indices[t * 3 + 1];
      const c = indices[t * 3 + 2];
      lit = Math.min(faces[a], faces[b], faces[c]) >= all;
      shallow = Math.max(Math.abs(ds[a]), Math.abs(ds[b]), Math.abs(ds[c])) <= reach;
      over = cover?.over(t) ?? null;
      return lit && shallow && !over;
    },
    at(x, y, out) {
      const u = of[0] + of[1] * x + of[2] * y;
      const v = of[3] + of[4] * x + of[5] * y;
      put(out, u, v, of);
      let share = 1;
      if (!shallow && Math.abs(of[6] + of[7] * x + of[8] * y) > reach) return 0;
      if (!lit) {
        const nx = of[9] + of[10] * x + of[11] * y;
        const ny = of[12] + of[13] * x + of[14] * y;
        const nz = of[15] + of[16] * x + of[17] * y;
        const size = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
        const face = (nx * facing[0] + ny * facing[1] + nz * facing[2]) / size;
        if (face <= none) return 0;
        if (face < all) share = (face - none) / (all - none);
      }
      if (!over || !cover) return share;
      let seen = 0;
      for (let k = 0; k < 8; k += 2) {
        const [px, py] = [x + LOOKS[k], y + LOOKS[k + 1]];
        const hidden = cover.hides(
          over,
          of[0] + of[1] * px + of[2] * py,
          of[3] + of[4] * px + of[5] * py,
          of[6] + of[7] * px + of[8] * py,
        );
        if (!hidden) seen += 0.25;
      }
      return share * seen;
    },
  };
};

function put(out: Footprint, u: number, v: number, of: Float64Array): void {
  out.u = u;
  out.v = v;
  out.rightU = of[1];
  out.downU = of[2];
  out.rightV = of[4];
  out.downV = of[5];
}
