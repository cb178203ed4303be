/** Parts as people see them: from outside, upright, whichever way they lie on their sheets. */
import type { Face } from '../livery/parcel.ts';
import type { Subject, Template, TemplatePart, TemplateSheet } from '../livery/template.ts';
import { handOf } from '../surface/islands.ts';
import { partUp } from '../surface/partUp.ts';
import { triangleOnSheet } from '../surface/triangles.ts';
import { cross, minus, type Vec } from '../surface/vectors.ts';

/** Texels of a sheet as a face has them: right and down from its middle, upright. */
export function onFace({ x, y, turn, hand }: Pick<Face, 'x' | 'y' | 'turn' | 'hand'>, px: number, py: number) {
  const angle = (turn * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const [dx, dy] = [px - x, py - y];
  return { right: hand * (dx * cos - dy * sin), down: dx * sin + dy * cos };
}

/** The way back: a place of a face, in texels of its sheet. */
export function offFace({ x, y, turn, hand }: Pick<Face, 'x' | 'y' | 'turn' | 'hand'>, right: number, down: number) {
  const angle = (turn * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  return { x: x + hand * right * cos + down * sin, y: y - hand * right * sin + down * cos };
}

/** The faces of all painted parts, and after them the sheets as wholes: what stands on no model has those alone. */
export const facesOf = (template: Subject & Pick<Template, 'boards'>): Face[] => [
  ...(template.boards ? [] : template.parts.flatMap((part) => faceOf(template, part) ?? [])),
  ...template.sheets.map(wholeSheet),
];

/** A sheet as it lies. */
export const wholeSheet = ({
  key,
  name,
  width,
  height,
}: Pick<TemplateSheet, 'key' | 'name' | 'width' | 'height'>): Face => ({
  ...{ key: `sheet ${key}`, name: `all of ${name}`, sheet: key, x: width / 2, y: height / 2, width, height },
  ...{ turn: 0, hand: 1, looks: [0, 0, 0] },
});

/** @returns null for what is not painted, or covers nothing of its sheet */
export function faceOf(template: Subject, part: TemplatePart): Face | null {
  const sheet = template.sheets.find(({ key }) => key === part.sheet);
  if (!sheet) return null;
  const { mesh } = template;
  const turn = partUp(template, sheet.key, part.key) ?? 0;
  let [hands, nx, ny, nz] = [0, 0, 0, 0];
  const box = { left: Infinity, right: -Infinity, top: Infinity, bottom: -Infinity };
  for (let t = part.first; t < part.first + part.count; t++) {
    const c = triangleOnSheet(mesh, t, sheet.width, sheet.height);
    const area = Math.abs((c[2] - c[0]) * (c[5] - c[1]) - (c[4] - c[0]) * (c[3] - c[1]));
    if (!(area > 0) || !Number.isFinite(area)) continue;
    hands += area * handOf(mesh, t);
    const [x, y, z] = outward(template, t);
    nx += x;
    ny += y;
    nz += z;
    for (let k = 0; k < 6; k += 2) {
      const { right, down } = onFace({ x: 0, y: 0, turn, hand: 1 }, c[k], c[k + 1]);
      box.left = Math.min(box.left, right);
      box.right = Math.max(box.right, right);
      box.top = Math.min(box.top, down);
      box.bottom = Math.max(box.bottom, down);
    }
  }
  const [width, height] = [box.right - box.left, box.bottom - box.top];
  if (!(width > 0 && height > 0)) return null;
  const middle = offFace({ x: 0, y: 0, turn, hand: 1 }, (box.left + box.right) / 2, (box.top + box.bottom) / 2);
  const long = Math.hypot(nx, ny, nz);
  return {
    ...{ key: part.key, name: part.name, sheet: sheet.key, ...middle, width, height, turn },
    hand: hands < 0 ? -1 : 1,
    looks: long > 0 ? [nx / long, ny / long, nz / long] : [0, 0, 0],
  };
}

/** The way that a triangle looks, as long as twice its area; where normals point against its winding, they decide. */
function outward({ mesh: { positions, normals, indices } }: Subject, t: number): Vec {
  const at = (k: number): Vec => {
    const v = indices[t * 3 + k] * 3;
    return [positions[v], positions[v + 1], positions[v + 2]];
  };
  const face = cross(minus(at(1), at(0)), minus(at(2), at(0)));
  let along = 0;
  for (let k = 0; k < 3; k++)
    for (let axis = 0; axis < 3; axis++) along += face[axis] * normals[indices[t * 3 + k] * 3 + axis];
  return along < 0 ? [-face[0], -face[1], -face[2]] : face;
}
