/** Where the model goes on over a seam: the same place of it on two islands. */
import { sheetNamed, type Template } from '../livery/template.ts';
import { neighboursOf } from './edges.ts';
import { partOfTriangle } from './locate.ts';
import { placeOf, triangleOnSheet } from './triangles.ts';
import { long, minus, plus } from './vectors.ts';

/** A place of a seam: what a triangle's side of it is on its sheet, a little inside. */
export interface SeamSide {
  sheet: string;
  /** Key of the part. */
  part: string;
  /** Texels. */
  x: number;
  y: number;
}

export interface SeamSample {
  place: [number, number, number];
  /** What of the seam it stands for, metres. */
  length: number;
  sides: readonly [SeamSide, SeamSide];
}

/** Nearer than this the two sides of an edge are one place of the sheet, texels. */
const ONE_PLACE = 0.75;

/**
 * Places along all seams of a model whose two sides are both painted, evenly spread.
 * @param most how many at the most, about @param inside how far from the edge each side is looked at, texels
 */
export function seamSamples(template: Template, most: number, inside: number): SeamSample[] {
  const { mesh } = template;
  const { across, of } = neighboursOf(mesh);
  const size = mesh.indices.length / 3;
  const corner = (t: number, k: number) => mesh.indices[t * 3 + (k % 3)];
  const seams: { t: number; k: number; other: number; l: number; length: number }[] = [];
  let all = 0;
  for (let t = 0; t < size; t++)
    for (let k = 0; k < 3; k++) {
      const other = across[t * 3 + k];
      if (other <= t) continue;
      const [a, b] = [of[corner(t, k)], of[corner(t, k + 1)]];
      const l = [0, 1, 2].find((e) => of[corner(other, e)] === b && of[corner(other, e + 1)] === a);
      if (l === undefined || !parted(template, t, k, other, l)) continue;
      const length = long(minus(placeOf(mesh, corner(t, k + 1)), placeOf(mesh, corner(t, k))));
      all += length;
      seams.push({ t, k, other, l, length });
    }
  if (!(all > 0)) return [];
  const step = all / most;
  return seams.flatMap(({ t, k, other, l, length }) => {
    const many = Math.max(1, Math.round(length / step));
    return Array.from({ length: many }, (_, i): SeamSample => {
      const share = (i + 0.5) / many;
      const [from, to] = [placeOf(mesh, corner(t, k)), placeOf(mesh, corner(t, k + 1))];
      return {
        place: plus(from, minus(to, from), share),
        length: length / many,
        sides: [sideOf(template, t, k, share, inside), sideOf(template, other, l, 1 - share, inside)],
      };
    });
  });
}

/** Whether an edge lies on two places of the sheets, both painted. */
function parted(template: Template, t: number, k: number, other: number, l: number): boolean {
  const [one, two] = [partOfTriangle(template, t), partOfTriangle(template, other)];
  if (!one || !two || one.sheet === null || two.sheet === null) return false;
  if (one.sheet !== two.sheet) return true;
  const [a, b] = [sideOf(template, t, k, 0, 0), sideOf(template, t, k, 1, 0)];
  const [c, d] = [sideOf(template, other, l, 1, 0), sideOf(template, other, l, 0, 0)];
  return Math.hypot(a.x - c.x, a.y - c.y) > ONE_PLACE || Math.hypot(b.x - d.x, b.y - d.y) > ONE_PLACE;
}

function sideOf(template: Template, t: number, k: number, share: number, inside: number): SeamSide {
  const part = partOfTriangle(template, t)!;
  const { width, height } = sheetNamed(template, part.sheet!);
  const c = triangleOnSheet(template.mesh, t, width, height);
  const at = (e: number): [number, number] => [c[(e % 3) * 2], c[(e % 3) * 2 + 1]];
  const [[ax, ay], [bx, by], [ox, oy]] = [at(k), at(k + 1), at(k + 2)];
  const [x, y] = [ax + (bx - ax) * share, ay + (by - ay) * share];
  // Towards the third corner, straight off the edge.
  const long = Math.hypot(bx - ax, by - ay) || 1;
  const [nx, ny] = [-(by - ay) / long, (bx - ax) / long];
  const rise = (ox - ax) * nx + (oy - ay) * ny;
  const by2 = Math.sign(rise) * Math.min(inside, Math.abs(rise) / 2);
  return { sheet: part.sheet!, part: part.key, x: x + nx * by2, y: y + ny * by2 };
}
