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
  const known = new Map<string, number>();
  const of = new Int32Array(positions.length / 3);
  for (let v = 0; v < of.length; v++) {
    const name = [0, 1, 2].map((c) => Math.round(positions[v * 3 + c] / step)).join();
    let place = known.get(name);
    if (place === undefined) known.set(name, (place = known.size));
    of[v] = place;
  }
  return { of, count: known.size };
}

/** More numbers than a mesh has of anything. */
const MANY = 2 ** 26;

/** An edge between two numbers, the same whichever comes first. */
export const edgeOf = (a: number, b: number): number => (a < b ? a * MANY + b : b * MANY + a);

/** The numbers at the ends of an edge, the smaller one first. */
export const endsOf = (edge: number): [number, number] => [Math.floor(edge / MANY), edge % MANY];
