import type { ProjectorOf } from '../../livery/projector.ts';
import { cross, dot, minus, unit, upright, type Vec } from '../../surface/vectors.ts';
import { eachPainted, noBoxes, widen, type Project } from '../projection.ts';

/**
 * About an axis: x is the arc from `facing`, y goes down the axis. With `radius` the arc of a cylinder of that size; without, that of the
 * circle on which a point lies. Only what looks away from the axis is painted.
 */
export const project: Project<ProjectorOf<'round'>> = (projector, subject, hand) => {
  const { scale, radius } = projector;
  const axis = unit(projector.axis);
  const front = upright(projector.facing, axis);
  // Seen from outside with the axis upwards, the arc goes to the right.
  const side = cross(axis, front);
  const right: Vec = hand < 0 ? [-side[0], -side[1], -side[2]] : side;
  const from = projector.at;
  const { positions, normals, indices } = subject.mesh;
  const boxes = noBoxes(indices.length / 3);
  eachPainted(subject, projector.not, (t) => {
    let outwards = -Infinity;
    const turns: number[] = [];
    let far = 0;
    const heights: number[] = [];
    for (let k = 0; k < 3; k++) {
      const o = indices[t * 3 + k] * 3;
      const p = minus([positions[o], positions[o + 1], positions[o + 2]], from);
      const [a, b] = [dot(p, front), dot(p, right)];
      const r = Math.hypot(a, b);
      outwards = Math.max(
        outwards,
        normals[o] * (a * front[0] + b * right[0]) +
          normals[o + 1] * (a * front[1] + b * right[1]) +
          normals[o + 2] * (a * front[2] + b * right[2]),
      );
      far = Math.max(far, radius ?? r);
      turns.push(Math.atan2(b, a));
      heights.push(-dot(p, axis) / scale);
    }
    if (outwards <= 0) return;
    // Where the arc ends at the back, or the axis goes through, a triangle lies at both ends of it.
    const [least, most] = [Math.min(...turns), Math.max(...turns)];
    const wraps = most - least > Math.PI;
    const ends = wraps ? [-Math.PI, Math.PI] : [least, most];
    for (const turn of ends) for (const v of heights) for (const r of [0, far]) widen(boxes, t, (turn * r) / scale, v);
  });

  const of = new Float64Array(18);
  return {
    boxes,
    onto(_t, plane) {
      of.set(plane.origin, 0);
      of.set(plane.right, 6);
      of.set(plane.down, 12);
      return false;
    },
    at(x, y, out) {
      const px = of[0] + of[6] * x + of[12] * y - from[0];
      const py = of[1] + of[7] * x + of[13] * y - from[1];
      const pz = of[2] + of[8] * x + of[14] * y - from[2];
      const a = px * front[0] + py * front[1] + pz * front[2];
      const b = px * right[0] + py * right[1] + pz * right[2];
      const r = Math.sqrt(a * a + b * b);
      if (r === 0) return 0;
      const nx = of[3] + of[9] * x + of[15] * y;
      const ny = of[4] + of[10] * x + of[16] * y;
      const nz = of[5] + of[11] * x + of[17] * y;
      const outwards =
        a * (nx * front[0] + ny * front[1] + nz * front[2]) + b * (nx * right[0] + ny * right[1] + nz * right[2]);
      if (outwards <= 0) return 0;
      const turn = Math.atan2(b, a);
      out.u = (turn * (radius ?? r)) / scale;
      out.v = -(px * axis[0] + py * axis[1] + pz * axis[2]) / scale;
      for (const k of [6, 12] as const) {
        const da = of[k] * front[0] + of[k + 1] * front[1] + of[k + 2] * front[2];
        const db = of[k] * right[0] + of[k + 1] * right[1] + of[k + 2] * right[2];
        const turned = (a * db - b * da) / (r * r);
        const wider = radius === undefined ? (turn * (a * da + b * db)) / r : 0;
        const u = (turned * (radius ?? r) + wider) / scale;
        const v = -(of[k] * axis[0] + of[k + 1] * axis[1] + of[k + 2] * axis[2]) / scale;
        if (k === 6) {
          out.rightU = u;
          out.rightV = v;
        } else {
          out.downU = u;
          out.downV = v;
        }
      }
      return 1;
    },
  };
};
