/** Where the meshes of a glTF scene stand: nodes, instances and skins. */
import type { Accessor, Primitive } from '@gltf-transform/core';
import { InputError } from '../errors.ts';
import type { Gltf, GltfNode } from './gltfFile.ts';
import { times, type Matrix, type MeshBuilder } from './mesh.ts';

/** Nodes that may be visited, instances and the like counted. */
const MOST_NODES = 200_000;

/** Values as numbers; integers that stand for 0..1 or -1..1 become that (3.6.2.2). */
export function floats(accessor: Accessor | null): ArrayLike<number> | null {
  const array = accessor?.getArray();
  if (!accessor || !array) return null;
  if (array instanceof Float32Array) return array;
  if (!accessor.getNormalized()) return Float32Array.from(array);
  const most = { 5120: 127, 5121: 255, 5122: 32767, 5123: 65535 }[accessor.getComponentType() as number] ?? 1;
  return Float32Array.from(array as ArrayLike<number>, (value) => Math.max(value / most, -1));
}

/** A node of a scene. */
export interface Standing {
  node: number;
  /** To the scene. */
  matrix: number[];
}

/** Every node of a scene with where it stands; nodes that contain themselves are visited once. */
export function placesOf(json: Gltf, roots: readonly number[], build: MeshBuilder): Standing[] {
  const out: Standing[] = [];
  const seen = new Set<number>();
  const left = roots.map((node) => ({ node, parent: UNIT as Matrix }));
  // Grows on the way: children stand behind their parents.
  for (const { node, parent } of left) {
    const own = json.nodes[node];
    if (!own || seen.has(node)) {
      build.said.push(
        own
          ? `The node "${own.name ?? node}" is in the scene more than once.`
          : `The scene names a node that is not there.`,
      );
      continue;
    }
    seen.add(node);
    if (out.length >= MOST_NODES) throw new InputError('This model has more nodes than can be read.');
    const matrix = times(parent, own.matrix ?? fromTrs(own.translation, own.rotation, own.scale));
    out.push({ node, matrix });
    for (const child of own.children ?? []) left.push({ node: child, parent: matrix });
  }
  return out;
}

const UNIT = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

function fromTrs(
  t: readonly number[] = [0, 0, 0],
  q: readonly number[] = [0, 0, 0, 1],
  s: readonly number[] = [1, 1, 1],
): number[] {
  const length = Math.hypot(...q) || 1;
  const [x, y, z, w] = q.map((value) => value / length);
  return [
    (1 - 2 * (y * y + z * z)) * s[0],
    2 * (x * y + z * w) * s[0],
    2 * (x * z - y * w) * s[0],
    0,
    2 * (x * y - z * w) * s[1],
    (1 - 2 * (x * x + z * z)) * s[1],
    2 * (y * z + x * w) * s[1],
    0,
    2 * (x * z + y * w) * s[2],
    2 * (y * z - x * w) * s[2],
    (1 - 2 * (x * x + y * y)) * s[2],
    0,
    ...t,
    1,
  ];
}

/** Where a node's mesh stands in it, several times with EXT_mesh_gpu_instancing. */
export function instancesOf(node: GltfNode, accessors: readonly Accessor[]): Matrix[] {
  const attributes = node.extensions?.EXT_mesh_gpu_instancing?.attributes;
  if (!attributes) return [UNIT];
  const read = (key: string, values: number) => {
    const array = attributes[key] === undefined ? null : floats(accessors[attributes[key]] ?? null);
    return array && array.length % values === 0 ? array : null;
  };
  const [t, r, s] = [read('TRANSLATION', 3), read('ROTATION', 4), read('SCALE', 3)];
  const count = Math.min(...[t && t.length / 3, r && r.length / 4, s && s.length / 3].filter((n) => n !== null));
  if (!Number.isFinite(count)) return [UNIT];
  const slice = (array: ArrayLike<number> | null, i: number, n: number) =>
    array ? Array.from({ length: n }, (_, k) => array[i * n + k]) : undefined;
  return Array.from({ length: Math.min(count, MOST_NODES) }, (_, i) =>
    fromTrs(slice(t, i, 3), slice(r, i, 4), slice(s, i, 3)),
  );
}

/** A skinned mesh as its joints hold it (3.7.3.3): where they stand in the scene; the node's own place does not count. */
export function restPose<P extends { positions: ArrayLike<number>; normals: ArrayLike<number> | null }>(
  json: Gltf,
  accessors: readonly Accessor[],
  skin: number,
  source: Primitive,
  part: P,
  stands: readonly Standing[],
): P | null {
  const found = json.skins[skin];
  const joints = source.getAttribute('JOINTS_0')?.getArray();
  const weights = floats(source.getAttribute('WEIGHTS_0'));
  if (!found || !joints || !weights) return null;
  const inverse = found.inverseBindMatrices === undefined ? null : floats(accessors[found.inverseBindMatrices] ?? null);
  const matrices = found.joints.map((node, i) => {
    const stand = stands.find((one) => one.node === node)?.matrix ?? UNIT;
    return inverse && inverse.length >= (i + 1) * 16
      ? times(
          stand,
          Array.from({ length: 16 }, (_, k) => inverse[i * 16 + k]),
        )
      : stand;
  });
  const positions = Float32Array.from(part.positions);
  const normals = part.normals && Float32Array.from(part.normals);
  for (let v = 0; v < positions.length / 3; v++) {
    const sum = new Array<number>(16).fill(0);
    let weight = 0;
    for (let k = 0; k < 4; k++) {
      const matrix = matrices[joints[v * 4 + k]];
      const w = weights[v * 4 + k];
      if (!matrix || !(w > 0)) continue;
      weight += w;
      for (let i = 0; i < 16; i++) sum[i] += matrix[i] * w;
    }
    if (weight === 0) continue;
    const m = sum.map((value) => value / weight);
    const move = (array: Float32Array, at: number, whole: number) => {
      const [x, y, z] = [array[at], array[at + 1], array[at + 2]];
      for (let c = 0; c < 3; c++) array[at + c] = m[c] * x + m[c + 4] * y + m[c + 8] * z + m[c + 12] * whole;
    };
    move(positions, v * 3, 1);
    if (normals) move(normals, v * 3, 0);
  }
  return { ...part, positions, normals };
}

/** Names of the scenes, where there are several. */
export const sceneNames = (json: Gltf): string[] =>
  json.scenes.length > 1 ? json.scenes.map(({ name }, i) => name?.trim() || `scene ${i + 1}`) : [];

/** The nodes at the root of a scene: of the wanted one, else of the file's default. */
export function sceneOf(json: Gltf, wanted: number | undefined): { index: number; nodes: readonly number[] } {
  const index = wanted ?? json.scene ?? 0;
  const scene = json.scenes[index] ?? json.scenes[0];
  if (scene?.nodes && scene.nodes.length > 0) return { index, nodes: scene.nodes };
  // Without a scene: every node that is no child of another.
  const children = new Set(json.nodes.flatMap(({ children: own = [] }) => own));
  const roots = json.nodes.flatMap((_, i) => (children.has(i) ? [] : [i]));
  return { index: 0, nodes: roots.length > 0 ? roots : json.nodes.length > 0 ? [0] : [] };
}
