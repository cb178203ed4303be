import type { Subject } from '../packages/core/src/livery/template.ts';

/** Of its sheet, texels. */
export const SIDE = 4096;

/** A ball of so many triangles, its sheet in strips with gaps between, as a layout has them. */
export function ball(triangles: number): Subject {
  const islands = 16;
  const wide = Math.round(Math.sqrt(triangles) / islands);
  const columns = wide * islands;
  const rows = Math.round(triangles / 2 / columns);
  const mesh: Subject['mesh'] = { positions: [], normals: [], uvs: [], indices: [] };
  for (let island = 0; island < islands; island++) {
    for (let y = 0; y <= rows; y++)
      for (let x = 0; x <= wide; x++) {
        const [u, v] = [(island * wide + x) / columns, y / rows];
        const [a, b] = [u * 2 * Math.PI, v * Math.PI];
        const n = [Math.sin(b) * Math.cos(a), Math.cos(b), Math.sin(b) * Math.sin(a)];
        mesh.positions.push(...n);
        mesh.normals.push(...n);
        mesh.uvs.push((island + 0.06 + (x / wide) * 0.88) / islands, 0.02 + v * 0.96);
      }
    const first = island * (rows + 1) * (wide + 1);
    for (let y = 0; y < rows; y++)
      for (let x = 0; x < wide; x++) {
        const at = first + y * (wide + 1) + x;
        mesh.indices.push(at, at + 1, at + wide + 1, at + 1, at + wide + 2, at + wide + 1);
      }
  }
  return {
    sheets: [{ key: 's', name: 's', width: SIDE, height: SIDE, alpha: 'none', axis: null }],
    parts: [{ key: 'ball', name: 'ball', sheet: 's', first: 0, count: mesh.indices.length / 3, hex: null }],
    mesh,
  };
}
