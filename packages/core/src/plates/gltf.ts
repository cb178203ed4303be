/** Plates as a glTF 2.0 document of their own (Khronos, "glTF 2.0 Specification"): metres, y up, as the model is. */
import { joined } from '../bytes.ts';
import type { Livery } from '../livery/livery.ts';
import type { Plate } from '../livery/plate.ts';
import type { Template } from '../livery/template.ts';
import { dot, minus, type Vec } from '../surface/vectors.ts';
import { meshOfPlate, standingPlates } from './panel.ts';
import { otherKey, plateKeys, quaternion, type PlateFile } from './placement.ts';

const FLOAT = 5126;
const UINT16 = 5123;
const VERTICES = 34962;
const INDICES = 34963;

/**
 * One node a plate, placed and turned, with its triangles in its own axes; a material for each texture, blended by its alpha.
 * @param files what each plate's picture is in; plates without one stay at home
 */
export function platesGltf(livery: Livery, template: Template, files: ReadonlyMap<Plate, PlateFile>): object {
  const keys = plateKeys(livery);
  const textures = [...new Set([...files.values()].map(({ name }) => name))];
  const nodes: object[] = [];
  const meshes: object[] = [];
  const accessors: object[] = [];
  const views: object[] = [];
  const parts: Uint8Array[] = [];
  let length = 0;
  const put = (values: Float32Array | Uint16Array, type: string, target: number, least?: number[], most?: number[]) => {
    const raw = new Uint8Array(values.buffer);
    views.push({ buffer: 0, byteOffset: length, byteLength: raw.length, target });
    // The next one begins at a multiple of four.
    parts.push(raw, new Uint8Array(-raw.length & 3));
    length += raw.length + (-raw.length & 3);
    accessors.push({
      bufferView: views.length - 1,
      componentType: values instanceof Float32Array ? FLOAT : UINT16,
      count: values.length / { VEC3: 3, VEC2: 2, SCALAR: 1 }[type]!,
      type,
      ...(least && { min: least, max: most }),
    });
    return accessors.length - 1;
  };
  for (const stands of standingPlates(livery)) {
    const { plate, partner, at, axes } = stands;
    const file = files.get(plate);
    if (!file) continue;
    const mesh = meshOfPlate(stands, template);
    const sheet = template.sheets.find(({ key }) => key === plate.sheet)!;
    const inOwn = (d: Vec): number[] => [dot(d, axes.right), dot(d, axes.up), dot(d, axes.out)];
    const positions: number[] = [];
    const normals: number[] = [];
    const uvs: number[] = [];
    for (let i = 0; i < mesh.positions.length; i += 3) {
      const place: Vec = [mesh.positions[i], mesh.positions[i + 1], mesh.positions[i + 2]];
      positions.push(...inOwn(minus(place, at)));
      normals.push(...inOwn([mesh.normals[i], mesh.normals[i + 1], mesh.normals[i + 2]]));
      const [u, v] = [mesh.uvs[(i / 3) * 2], mesh.uvs[(i / 3) * 2 + 1]];
      if (file.own)
        uvs.push((u * sheet.width - plate.left) / plate.width, (v * sheet.height - plate.top) / plate.height);
      else uvs.push(u, v);
    }
    const stored = Float32Array.from(positions);
    const bound = (of: (...values: number[]) => number) =>
      [0, 1, 2].map((k) => of(...stored.filter((_, i) => i % 3 === k)));
    meshes.push({
      primitives: [
        {
          attributes: {
            POSITION: put(stored, 'VEC3', VERTICES, bound(Math.min), bound(Math.max)),
            NORMAL: put(Float32Array.from(normals), 'VEC3', VERTICES),
            TEXCOORD_0: put(Float32Array.from(uvs), 'VEC2', VERTICES),
          },
          indices: put(Uint16Array.from(mesh.indices), 'SCALAR', INDICES),
          material: textures.indexOf(file.name),
        },
      ],
    });
    const key = keys.get(plate)!;
    nodes.push({
      name: partner ? otherKey(key) : key,
      mesh: meshes.length - 1,
      translation: at,
      rotation: quaternion([axes.right, axes.up, axes.out]),
    });
  }
  if (nodes.length === 0) return { asset: { version: '2.0' }, scene: 0, scenes: [{ nodes: [] }] };
  return {
    asset: { version: '2.0' },
    scene: 0,
    scenes: [{ nodes: nodes.map((_, i) => i) }],
    nodes,
    meshes,
    materials: textures.map((_, i) => ({
      name: textures[i],
      alphaMode: 'BLEND',
      pbrMetallicRoughness: { baseColorTexture: { index: i }, metallicFactor: 0 },
    })),
    textures: textures.map((_, i) => ({ source: i })),
    images: textures.map((uri) => ({ uri })),
    accessors,
    bufferViews: views,
    buffers: [{ byteLength: length, uri: `data:application/octet-stream;base64,${inBase64(joined(parts))}` }],
  };
}

/** Bytes that go through a call at a time. */
const CALL = 0x8000;

function inBase64(bytes: Uint8Array): string {
  let text = '';
  for (let at = 0; at < bytes.length; at += CALL) text += String.fromCharCode(...bytes.subarray(at, at + CALL));
  return btoa(text);
}
