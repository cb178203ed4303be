/** What lies together on a model: places, and the edges between them. Seams and hard edges have several vertices in one place. */
import type { MeshData } from '../livery/template.ts';

/** Positions are the same within this share of the model's longest side. */
const SAME_PLACE = 1e-5;

/** Positions that round to the same multiple of this are one place on the model. */
export const placeStep = (mesh: MeshData): number => reachOf(mesh) * SAME_PLACE || 1;

/** The largest coordinate of a mesh. */
export function reachOf({ positions }: MeshData): number {
  let reach = 0;
  for (const value of positions) reach = Math.max(reach, Math.abs(value));
  return reach;
}

/**
 * Vertices that lie in one place as one.
 * @param step those within it, in units of the model, are in one place
 * @returns for each vertex the number of its place, 0, 1, 2 ..., and how many there are
 */
export function weld(mesh: MeshData, step = placeStep(mesh)): { of: Int32Array; count: number } {
  const { positions } = mesh;
  const many = positions.length / 3;
  const of = new Int32Array(many);
  // A table of places by three whole numbers: of each its first vertex; free where it is -1.
  let room = 16;
  while (room < many * 2) room *= 2;
  const table = new Int32Array(room).fill(-1);
  const cells = new Float64Array(many * 3);
  let count = 0;
  for (let v = 0; v < many; v++) {
    const [x, y, z] = [
      Math.round(positions[v * 3] / step),
      Math.round(positions[v * 3 + 1] / step),
      Math.round(positions[v * 3 + 2] / step),
    ];
    cells[v * 3] = x;
    cells[v * 3 + 1] = y;
    cells[v * 3 + 2] = z;
    let slot = (Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) & (room - 1);
    for (;;) {
      const first = table[slot];
      if (first < 0) {
        table[slot] = v;
        of[v] = count++;
        break;
      }
      if (cells[first * 3] === x && cells[first * 3 + 1] === y && cells[first * 3 + 2] === z) {
        of[v] = of[first];
        break;
      }
      slot = (slot + 1) & (room - 1);
    }
  }
  return { of, count };
}

/** More numbers than a mesh has of anything. */
const MANY = 2 ** 26;

/** An edge between two numbers, the same whichever comes first. */
export const edgeOf = (a: number, b: number): number => (a < b ? a * MANY + b : b * MANY + a);

/** The numbers at the ends of an edge, the smaller one first. */
export const endsOf = (edge: number): [number, number] => [Math.floor(edge / MANY), edge % MANY];
