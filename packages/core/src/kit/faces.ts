/** Parts as people see them: from outside, upright, whichever way they lie on their sheets. */
import { Face } from '../livery/parcel.ts';
import type { Subject, Template, TemplatePart, TemplateSheet } from '../livery/template.ts';
import { faceNormal } from '../surface/edges.ts';
import { faceOf as faceOfTriangle, handOf } from '../surface/islands.ts';
import { partUp } from '../surface/partUp.ts';
import { triangleOnSheet } from '../surface/triangles.ts';
import { long, plus, unit, type Vec } from '../surface/vectors.ts';

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

/** @returns null for what is not painted, covers nothing of its sheet, or is beyond what a kit can say */
export function faceOf(template: Subject, part: TemplatePart): Face | null {
  const sheet = template.sheets.find(({ key }) => key === part.sheet);
  if (!sheet) return null;
  const { mesh } = template;
  const turn = partUp(template, sheet.key, part.key) ?? 0;
  let hands = 0;
  let looks: Vec = [0, 0, 0];
  const box = { left: Infinity, right: -Infinity, top: Infinity, bottom: -Infinity };
  for (let t = part.first; t < part.first + part.count; t++) {
    const c = triangleOnSheet(mesh, t, sheet.width, sheet.height);
    const area = Math.abs((c[2] - c[0]) * (c[5] - c[1]) - (c[4] - c[0]) * (c[3] - c[1]));
    if (!(area > 0) || !Number.isFinite(area)) continue;
    hands += area * handOf(mesh, t);
    const normal = faceNormal(mesh, t);
    const large = long(faceOfTriangle(mesh, t));
    if (normal) looks = plus(looks, normal, large);
    for (let k = 0; k < 6; k += 2) {
      const { right, down } = onFace({ x: 0, y: 0, turn, hand: 1 }, c[k], c[k + 1]);
      box.left = Math.min(box.left, right);
      box.right = Math.max(box.right, right);
      box.top = Math.min(box.top, down);
      box.bottom = Math.max(box.bottom, down);
    }
  }
  const [width, height] = [box.right - box.left, box.bottom - box.top];
  const middle = offFace({ x: 0, y: 0, turn, hand: 1 }, (box.left + box.right) / 2, (box.top + box.bottom) / 2);
  const face = {
    ...{ key: part.key, name: part.name, sheet: sheet.key, ...middle, width, height, turn },
    hand: hands < 0 ? -1 : 1,
    looks: long(looks) > 0 ? unit(looks) : [0, 0, 0],
  };
  return Face.safeParse(face).data ?? null;
}
