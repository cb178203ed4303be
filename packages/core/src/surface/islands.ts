/** Islands of a subject's UV layout: triangles that hang together on the flat sheet, without a fold between them. */
import { heldIn } from '../held.ts';
import { type MeshData, sheetNamed, type Subject } from '../livery/template.ts';
import { triangleOnSheet } from './triangles.ts';
import { edgeOf, placeStep } from './weld.ts';

/** Texels, right and bottom excluded. */
interface Box {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

export interface Island {
  readonly sheet: string;
  /** 1, 2, 3 ... through the whole subject: sheet by sheet, from the top of each, then from the left. */
  readonly number: number;
  /** Triangles of the mesh, in rising order. */
  readonly triangles: readonly number[];
  /** Keys of the parts that the triangles belong to, in the template's order. */
  readonly parts: readonly string[];
  /** Seen from outside the model, the art reads backwards. */
  readonly mirrored: boolean;
  /** Where it lies, in texels; can reach past the sheet. */
  readonly box: Box;
  /** On the flat sheet, in square texels. */
  readonly texels: number;
  /** On the model, in square units of the model (metres, when it has scale). */
  readonly surface: number;
}

/** UVs are the same within 1/64 texel. */
const SAME_UV = 64;

/**
 * Finds the islands of all sheets. Two triangles hang together when they share an edge on the model and on the flat sheet, and lie
 * the same way up there: a layout that is folded along a middle line is two islands, one of them mirrored.
 */
export function islandsOf(subject: Subject): Island[] {
  const found = subject.sheets.flatMap((sheet) => islandsOnSheet(subject, sheet.key));
  return found.map((island, i) => ({ ...island, number: i + 1 }));
}

function islandsOnSheet(subject: Subject, sheetKey: string): Omit<Island, 'number'>[] {
  const { mesh } = subject;
  const sheet = sheetNamed(subject, sheetKey);
  const parts = subject.parts.filter((part) => part.sheet === sheetKey);
  const triangles = parts.flatMap((part) => Array.from({ length: part.count }, (_, k) => part.first + k));
  const partOf = new Map(parts.flatMap((part, i) => Array.from({ length: part.count }, (_, k) => [part.first + k, i])));
  const corner = cornerNames(mesh, sheet.width, sheet.height);
  const turned = triangles.map((t) => handOf(mesh, t));

  // Union-find over the edges that two triangles share.
  const parent = Int32Array.from(triangles, (_, i) => i);
  const rootOf = (i: number): number => {
    while (parent[i] !== i) i = parent[i] = parent[parent[i]];
    return i;
  };
  const edges = new Map<number, number[]>();
  triangles.forEach((t, i) => {
    if (turned[i] === 0) return;
    for (let k = 0; k < 3; k++) {
      const a = corner[mesh.indices[t * 3 + k]];
      const b = corner[mesh.indices[t * 3 + ((k + 1) % 3)]];
      const key = edgeOf(a, b);
      const others = edges.get(key);
      if (!others) edges.set(key, [i]);
      else {
        for (const other of others) if (turned[other] === turned[i]) parent[rootOf(i)] = rootOf(other);
        others.push(i);
      }
    }
  });

  const groups = new Map<number, number[]>();
  triangles.forEach((_, i) => {
    if (turned[i] === 0) return;
    const root = rootOf(i);
    const group = groups.get(root);
    if (group) group.push(i);
    else groups.set(root, [i]);
  });
  return [...groups.values()]
    .map((group) => {
      const box = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity };
      let texels = 0;
      let surface = 0;
      for (const i of group) {
        const c = triangleOnSheet(mesh, triangles[i], sheet.width, sheet.height);
        for (let k = 0; k < 6; k += 2) {
          box.left = Math.min(box.left, c[k]);
          box.right = Math.max(box.right, c[k]);
          box.top = Math.min(box.top, c[k + 1]);
          box.bottom = Math.max(box.bottom, c[k + 1]);
        }
        texels += Math.abs((c[2] - c[0]) * (c[5] - c[1]) - (c[3] - c[1]) * (c[4] - c[0])) / 2;
        surface += lengthOf(faceOf(mesh, triangles[i])) / 2;
      }
      const named = new Set(group.map((i) => heldIn(partOf, triangles[i])));
      return {
        sheet: sheetKey,
        triangles: group.map((i) => triangles[i]).sort((a, b) => a - b),
        parts: [...named].sort((a, b) => a - b).map((i) => parts[i].key),
        mirrored: turned[group[0]] < 0,
        box,
        texels,
        surface,
      };
    })
    .sort((a, b) => a.box.top - b.box.top || a.box.left - b.box.left || a.triangles[0] - b.triangles[0]);
}

/** A number for each vertex, the same for vertices at one place on the model and on the sheet. */
function cornerNames(mesh: MeshData, width: number, height: number): Int32Array {
  const { positions, uvs } = mesh;
  const step = placeStep(mesh);
  const of = new Int32Array(positions.length / 3);
  const names = new Map<string, number>();
  for (let v = 0; v < of.length; v++) {
    const name = [
      Math.round(positions[v * 3] / step),
      Math.round(positions[v * 3 + 1] / step),
      Math.round(positions[v * 3 + 2] / step),
      Math.round(uvs[v * 2] * width * SAME_UV),
      Math.round(uvs[v * 2 + 1] * height * SAME_UV),
    ].join();
    const known = names.get(name);
    of[v] = known ?? names.size;
    if (known === undefined) names.set(name, of[v]);
  }
  return of;
}

/** Normal of a triangle by its winding (counter-clockwise seen from outside, glTF 2.0, 3.7.4); as long as twice its area. */
export function faceOf(mesh: MeshData, triangle: number): [number, number, number] {
  const [a, b, c] = [0, 1, 2].map((k) => mesh.indices[triangle * 3 + k] * 3);
  const p = mesh.positions;
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
}

const lengthOf = (v: readonly number[]) => Math.sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2]);

/**
 * Which way round a triangle lies on the sheet: 1 as it is seen from outside, -1 mirrored, 0 when it has no area there. Where the mesh
 * has normals that point against the winding, the normals decide what outside is.
 */
export function handOf(mesh: MeshData, triangle: number): -1 | 0 | 1 {
  const [ax, ay, bx, by, cx, cy] = triangleOnSheet(mesh, triangle, 1, 1);
  const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  if (area === 0) return 0;
  const face = faceOf(mesh, triangle);
  let along = 0;
  for (let k = 0; k < 3; k++) {
    const n = mesh.indices[triangle * 3 + k] * 3;
    for (let c = 0; c < 3; c++) along += face[c] * mesh.normals[n + c];
  }
  // v points down, so a triangle that is counter-clockwise to the eye has a negative area here.
  return area < 0 === along >= 0 ? 1 : -1;
}
