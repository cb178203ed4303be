/** glTF 2.0 with its files beside it or inside, through the libraries of the glTF project: triangles as they stand in a scene. */
import { Accessor, WebIO, type Primitive } from '@gltf-transform/core';
import { InputError } from '../errors.ts';
import {
  dataOf,
  isData,
  listOf,
  NeedsFiles,
  openGltf,
  pathOf,
  type Gltf,
  type GltfNode,
  type GltfPrimitive,
  type TextureInfo,
} from './gltfFile.ts';
import {
  MAX_INDICES,
  MeshBuilder,
  times,
  type Matrix,
  type MeshChoices,
  type NamedTexture,
  type ReadMesh,
} from './mesh.ts';

/** Bytes that all accessors together may unpack to. */
const MOST_BYTES = 1024 * 1024 * 1024;
/** Nodes that may be visited, instances and the like counted. */
const MOST_NODES = 200_000;
/** Pictures that are taken out of one model. */
const MOST_PICTURES = 500;

const COMPONENT_BYTES: Record<number, number> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };
const COMPONENTS: Record<string, number> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 };
/** Extensions without which triangles cannot be read, and which can be. */
const GEOMETRY = ['KHR_draco_mesh_compression', 'EXT_meshopt_compression', 'KHR_mesh_quantization'];

/**
 * Reads a .glb or a .gltf.
 * @param beside files beside it by their paths from its folder; those that are missing are said
 * @throws InputError in one sentence when nothing of it can be shown
 */
export async function readGltf(
  bytes: Uint8Array,
  beside: ReadonlyMap<string, Uint8Array> = new Map(),
  choices: MeshChoices = {},
): Promise<ReadMesh> {
  const { json, binary } = openGltf(bytes);
  const build = new MeshBuilder();
  const needs: string[] = [];
  const buffers = json.buffers.map(({ uri, byteLength }, i) => {
    const found =
      uri === undefined ? (i === 0 ? binary : null) : isData(uri) ? dataOf(uri) : (beside.get(pathOf(uri)) ?? null);
    if (!found && uri !== undefined && !isData(uri)) needs.push(pathOf(uri));
    // Padding behind a buffer is no part of it.
    return found && found.length >= byteLength ? found.subarray(0, byteLength) : null;
  });
  const readable = new Set(json.accessors.flatMap((_, i) => (isWhole(json, buffers, i) ? [i] : [])));
  const materials = materialNames(json);
  const textures = texturesOf(json, materials);
  const scene = sceneOf(json, choices.scene);
  const found = { textures, needs, scenes: sceneNames(json), scene: scene.index, oriented: true };

  const kept = keepPrimitives(json, readable, build);
  if (kept.length === 0) {
    if (needs.length > 0) throw new NeedsFiles(needs);
    return { ...build.done(), said: build.said, uvSets: {}, ...found };
  }
  const read = await parse(json, kept, buffers);
  const stands = placesOf(json, scene.nodes, build);
  const uvSets: ReadMesh['uvSets'] = {};
  const drawn = new Set<number>();
  for (const { node, matrix } of stands) {
    const { mesh: of, name = '', skin } = json.nodes[node];
    if (of === undefined || !json.meshes[of]) continue;
    drawn.add(of);
    const own = kept.filter(({ mesh }) => mesh === of);
    for (const { primitive, at } of own) {
      const source = read.primitives[at];
      const material = primitive.material === undefined ? '' : (materials[primitive.material] ?? '');
      const title = (name || json.meshes[of].name) ?? '';
      const sets = Object.keys(primitive.attributes).filter((key) => /^TEXCOORD_\d+$/.test(key)).length;
      const info = primitive.material === undefined ? undefined : colourInfo(json.materials[primitive.material]);
      const usual = info?.extensions?.KHR_texture_transform?.texCoord ?? info?.texCoord ?? 0;
      const taken = Math.min(choices.uvSets?.[material] ?? usual, Math.max(0, sets - 1));
      if (sets > 1) uvSets[material] = { sets: Math.max(sets, uvSets[material]?.sets ?? 0), taken };
      const uv = floats(source.getAttribute(`TEXCOORD_${taken}`));
      const positions = morphed(source, 'POSITION', json.nodes[node].weights ?? json.meshes[of].weights);
      if (!positions) continue;
      const part = {
        positions,
        normals: morphed(source, 'NORMAL', undefined),
        uvs: uv && (taken === usual ? transformed(uv, info) : uv),
        indices: triangleIndices(source.getIndices()?.getArray() ?? null, positions.length / 3, primitive.mode ?? 4),
      };
      const bent = skin === undefined ? null : restPose(json, read.accessors, skin, source, part, stands);
      for (const instance of instancesOf(json.nodes[node], read.accessors))
        build.add(title, material, bent ?? part, bent ? null : times(matrix, instance));
    }
  }
  for (const [i, { name }] of json.meshes.entries())
    if (!drawn.has(i) && json.scenes.length > 0)
      build.said.push(`"${name ?? `mesh ${i + 1}`}" is in no node of this scene.`);
  if (needs.length > 0) build.said.push(`Without ${listOf(needs)} some of it could not be read.`);
  return { ...build.done(), said: build.said, uvSets, ...found };
}

/** Whether all that an accessor reads is there. */
function isWhole(json: Gltf, buffers: readonly (Uint8Array | null)[], i: number): boolean {
  const accessor = json.accessors[i];
  const size = COMPONENT_BYTES[accessor.componentType] * COMPONENTS[accessor.type];
  if (!(size > 0) || accessor.count * size > MOST_BYTES) return false;
  const view = (at: number | undefined, offset: number, bytes: number, stride = 0, count = 1) => {
    const one = json.bufferViews[at ?? -1];
    if (!one) return false;
    const packed = one.extensions?.EXT_meshopt_compression as
      { buffer?: unknown; byteOffset?: unknown; byteLength?: unknown } | undefined;
    const needed = offset + (count > 0 ? (count - 1) * (stride || bytes) + bytes : 0);
    if (needed > one.byteLength) return false;
    const [from, length, buffer] = packed
      ? [Number(packed.byteOffset ?? 0), Number(packed.byteLength), Number(packed.buffer)]
      : [one.byteOffset, one.byteLength, one.buffer];
    const held = buffers[buffer];
    return held !== undefined && held !== null && from >= 0 && from + length <= held.length;
  };
  if (accessor.sparse) {
    const { indices, values } = accessor.sparse;
    if (!view(indices.bufferView, 0, 0) || !view(values.bufferView, 0, 0)) return false;
  }
  if (accessor.bufferView === undefined) return true;
  const stride = json.bufferViews[accessor.bufferView]?.byteStride ?? 0;
  return view(accessor.bufferView, accessor.byteOffset, size, stride, accessor.count);
}

interface Kept {
  mesh: number;
  primitive: GltfPrimitive;
  /** Its place among those that are kept. */
  at: number;
}

/** Primitives of triangles that can be read; the others are said. */
function keepPrimitives(json: Gltf, readable: ReadonlySet<number>, build: MeshBuilder): Kept[] {
  const kept: Kept[] = [];
  let bytes = 0;
  for (const [mesh, { name, primitives }] of json.meshes.entries()) {
    const title = name ?? `mesh ${mesh + 1}`;
    for (const primitive of primitives) {
      const { attributes, indices, mode = 4 } = primitive;
      if (mode < 4) {
        build.said.push(`The ${mode === 0 ? 'points' : 'lines'} of "${title}" are left out: they carry no paint.`);
        continue;
      }
      if (attributes.POSITION === undefined || mode > 6) {
        build.said.push(
          `"${title}" is left out: it ${mode > 6 ? 'is of a kind that glTF does not have' : 'has no positions'}.`,
        );
        continue;
      }
      const draco = draco_(primitive);
      const used = [...Object.values(attributes), ...(indices === undefined ? [] : [indices])];
      const view = draco === null ? null : json.bufferViews[draco];
      const whole = used.every((i) => readable.has(i)) && (draco === null || view !== undefined);
      if (!whole) {
        build.said.push(`"${title}" is left out: its vertices are not in the file.`);
        continue;
      }
      bytes += used.reduce((sum, i) => {
        const { count, type, componentType } = json.accessors[i];
        return sum + count * COMPONENTS[type] * COMPONENT_BYTES[componentType];
      }, 0);
      if (bytes > MOST_BYTES || json.accessors[indices ?? attributes.POSITION].count > MAX_INDICES)
        throw new InputError('This model has more than two million triangles.');
      kept.push({ mesh, primitive, at: kept.length });
    }
  }
  return kept;
}

const draco_ = (primitive: GltfPrimitive): number | null => {
  const found = primitive.extensions?.KHR_draco_mesh_compression as { bufferView?: unknown } | undefined;
  return found && typeof found.bufferView === 'number' ? found.bufferView : null;
};

interface Parsed {
  primitives: Primitive[];
  accessors: readonly Accessor[];
}

/** Has the library read those primitives, and nothing else of the file that could keep it from it. */
async function parse(json: Gltf, kept: readonly Kept[], buffers: readonly (Uint8Array | null)[]): Promise<Parsed> {
  const used = new Set(kept.flatMap(({ primitive }) => [...accessorsOf(primitive)]));
  for (const { inverseBindMatrices } of json.skins)
    if (inverseBindMatrices !== undefined) used.add(inverseBindMatrices);
  for (const node of json.nodes)
    for (const i of Object.values(node.extensions?.EXT_mesh_gpu_instancing?.attributes ?? {})) used.add(i);
  const small = { componentType: 5126, type: 'SCALAR', count: 1 };
  const resources: Record<string, Uint8Array<ArrayBuffer>> = {};
  buffers.forEach((buffer, i) => (resources[`buffer${i}`] = Uint8Array.from(buffer ?? [])));
  const isUsed = new Set(
    kept.flatMap(({ primitive }) =>
      Object.keys(primitive.extensions ?? {}).concat(
        [...accessorsOf(primitive)].flatMap((i) =>
          Object.keys(json.bufferViews[json.accessors[i]?.bufferView ?? -1]?.extensions ?? {}),
        ),
      ),
    ),
  );
  const extensions = GEOMETRY.filter((name) => isUsed.has(name) || name === 'KHR_mesh_quantization');
  const plain = {
    asset: { version: '2.0' },
    buffers: json.buffers.map(({ byteLength }, i) => ({
      byteLength: buffers[i]?.length ?? byteLength,
      uri: `buffer${i}`,
    })),
    bufferViews: json.bufferViews.map(({ extensions: own, ...view }) => {
      const meshopt = own?.EXT_meshopt_compression;
      return { ...view, ...(meshopt !== undefined && { extensions: { EXT_meshopt_compression: meshopt } }) };
    }),
    accessors: json.accessors.map((accessor, i) => (used.has(i) && isWhole(json, buffers, i) ? accessor : small)),
    meshes: kept.map(({ primitive }) => {
      const { attributes, indices, targets } = primitive;
      const packed = primitive.extensions?.KHR_draco_mesh_compression;
      const own = packed === undefined ? {} : { extensions: { KHR_draco_mesh_compression: packed } };
      return { primitives: [{ attributes, indices, targets, mode: 4, ...own }] };
    }),
    extensionsUsed: extensions,
    extensionsRequired: extensions,
  };
  const io = new WebIO();
  const { EXTMeshoptCompression, KHRDracoMeshCompression, KHRMeshQuantization } =
    await import('@gltf-transform/extensions');
  io.registerExtensions([KHRMeshQuantization]);
  if (isUsed.has('EXT_meshopt_compression')) {
    const { MeshoptDecoder } = await import('meshoptimizer');
    await MeshoptDecoder.ready;
    io.registerExtensions([EXTMeshoptCompression]).registerDependencies({ 'meshopt.decoder': MeshoptDecoder });
  }
  if (isUsed.has('KHR_draco_mesh_compression')) {
    const { default: draco } = await import('draco3dgltf');
    io.registerExtensions([KHRDracoMeshCompression]).registerDependencies({
      'draco3d.decoder': (await draco.createDecoderModule()) as never,
    });
  }
  try {
    const document = await io.readJSON({ json: plain as never, resources });
    const root = document.getRoot();
    return { primitives: root.listMeshes().map((mesh) => mesh.listPrimitives()[0]), accessors: root.listAccessors() };
  } catch {
    throw new InputError('The meshes of this glTF file are damaged.');
  }
}

const accessorsOf = ({ attributes, indices, targets = [] }: GltfPrimitive): number[] => [
  ...Object.values(attributes),
  ...(indices === undefined ? [] : [indices]),
  ...targets.flatMap((target) => Object.values(target)),
];

/** Values as numbers; integers that stand for 0..1 or -1..1 become that (3.6.2.2). */
function floats(accessor: Accessor | null): ArrayLike<number> | null {
  const array = accessor?.getArray();
  if (!accessor || !array) return null;
  if (array instanceof Float32Array) return array;
  if (!accessor.getNormalized()) return Float32Array.from(array);
  const most = { 5120: 127, 5121: 255, 5122: 32767, 5123: 65535 }[accessor.getComponentType() as number] ?? 1;
  return Float32Array.from(array as ArrayLike<number>, (value) => Math.max(value / most, -1));
}

/** An attribute with the morph targets that the file itself puts on. */
function morphed(
  source: Primitive,
  semantic: string,
  weights: readonly number[] | undefined,
): ArrayLike<number> | null {
  const base = floats(source.getAttribute(semantic));
  if (!base || !weights?.some((weight) => weight !== 0)) return base;
  const out = Float32Array.from(base);
  source.listTargets().forEach((target, i) => {
    const add = floats(target.getAttribute(semantic));
    if (add && weights[i]) for (let k = 0; k < out.length; k++) out[k] += add[k] * weights[i];
  });
  return out;
}

/** Strips and fans as separate triangles (3.7.2.1). @param mode 4 triangles, 5 strip, 6 fan */
function triangleIndices(indices: ArrayLike<number> | null, vertices: number, mode: number): ArrayLike<number> | null {
  if (mode === 4) return indices;
  const count = indices?.length ?? vertices;
  const at = (i: number) => (indices ? indices[i] : i);
  const out: number[] = [];
  for (let i = 0; i + 2 < count; i++)
    if (mode === 5) out.push(at(i), at(i + 1 + (i % 2)), at(i + 2 - (i % 2)));
    else out.push(at(i + 1), at(i + 2), at(0));
  return out;
}

/** UVs with the transform of the material's colour texture (KHR_texture_transform). */
function transformed(uvs: ArrayLike<number>, info: TextureInfo | undefined): ArrayLike<number> {
  const moved = info?.extensions?.KHR_texture_transform;
  if (!moved) return uvs;
  const [ox, oy] = moved.offset ?? [0, 0];
  const [sx, sy] = moved.scale ?? [1, 1];
  const [sin, cos] = [Math.sin(moved.rotation ?? 0), Math.cos(moved.rotation ?? 0)];
  const out = new Float32Array(uvs.length);
  for (let i = 0; i < uvs.length; i += 2) {
    const [u, v] = [uvs[i] * sx, uvs[i + 1] * sy];
    out[i] = cos * u + sin * v + ox;
    out[i + 1] = -sin * u + cos * v + oy;
  }
  return out;
}

interface Standing {
  node: number;
  /** To the scene. */
  matrix: number[];
}

/** Every node of a scene with where it stands; nodes that contain themselves are visited once. */
function placesOf(json: Gltf, roots: readonly number[], build: MeshBuilder): Standing[] {
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
function instancesOf(node: GltfNode, accessors: readonly Accessor[]): Matrix[] {
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
function restPose<P extends { positions: ArrayLike<number>; normals: ArrayLike<number> | null }>(
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

const colourInfo = (material: Gltf['materials'][number] | undefined): TextureInfo | undefined =>
  material?.pbrMetallicRoughness?.baseColorTexture ?? specularGlossiness(material)?.diffuseTexture;

const specularGlossiness = (material: Gltf['materials'][number] | undefined) =>
  material?.extensions?.KHR_materials_pbrSpecularGlossiness as
    { diffuseTexture?: TextureInfo; specularGlossinessTexture?: TextureInfo } | undefined;

/** Names of the materials, each its own; those of one name that wear the same picture are one. */
function materialNames(json: Gltf): string[] {
  const taken = new Map<string, number | undefined>();
  return json.materials.map((material, i) => {
    const picture = sourceOf(json, colourInfo(material));
    const plain = material.name?.trim() || `material ${i + 1}`;
    for (let n = 1; ; n++) {
      const name = n === 1 ? plain : `${plain} ${n}`;
      if (taken.has(name) && taken.get(name) !== picture) continue;
      taken.set(name, picture);
      return name;
    }
  });
}

/** The picture that a texture shows, also where it is one of an extension (WebP, Basis). */
function sourceOf(json: Gltf, info: TextureInfo | undefined): number | undefined {
  const texture = info && json.textures[info.index];
  if (!texture) return undefined;
  const other = Object.values(texture.extensions ?? {}).find(
    (one): one is { source: number } => typeof (one as { source?: unknown } | null)?.source === 'number',
  );
  return texture.source ?? other?.source;
}

function texturesOf(json: Gltf, names: readonly string[]): NamedTexture[] {
  return json.materials.flatMap((material, i) => {
    const kinds: [NamedTexture['map'], TextureInfo | undefined][] = [
      ['colour', colourInfo(material)],
      ['normal', material.normalTexture],
      ['packed', material.pbrMetallicRoughness?.metallicRoughnessTexture],
      ['occlusion', material.occlusionTexture],
      ['night', material.emissiveTexture],
      ['specular', specularGlossiness(material)?.specularGlossinessTexture],
    ];
    const taken = new Set<number>();
    return kinds.flatMap(([map, info]) => {
      const source = sourceOf(json, info);
      // Occlusion is often a channel of the packed map: one file is one map.
      if (source === undefined || !json.images[source] || taken.has(source)) return [];
      taken.add(source);
      return [{ material: names[i], map, file: pictureName(json, source) }];
    });
  });
}

const ENDINGS: Record<string, string> = {
  'image/png': 'png',
  'image/jpeg': 'jpg',
  'image/webp': 'webp',
  'image/ktx2': 'ktx2',
  'image/vnd-ms.dds': 'dds',
};

/** Path of a picture beside the model, or the name under which it is taken out of it. */
function pictureName(json: Gltf, i: number): string {
  const { uri, name, mimeType } = json.images[i];
  if (uri !== undefined && !isData(uri)) return pathOf(uri);
  const ending = ENDINGS[mimeType ?? /^data:([^;,]*)/i.exec(uri ?? '')?.[1] ?? ''] ?? 'png';
  const plain =
    (name ?? '')
      .replace(/[^\p{L}\p{N} ._-]/gu, '')
      .replace(/\.(png|jpe?g|webp)$/i, '')
      .trim() || `picture ${i + 1}`;
  const twice = json.images.some((other, k) => k < i && (other.name ?? '') === (name ?? '') && name !== undefined);
  return `${plain}${twice ? ` ${i + 1}` : ''}.${ending}`;
}

/** Pictures that a model holds inside itself. @throws InputError when it is damaged */
export function picturesIn(
  bytes: Uint8Array,
  beside: ReadonlyMap<string, Uint8Array> = new Map(),
): { name: string; bytes: Uint8Array }[] {
  const { json, binary } = openGltf(bytes);
  // Pictures that lie on one another would be more than there is.
  let left = bytes.length + [...beside.values()].reduce((sum, one) => sum + one.length, 0);
  const take = (name: string, picture: Uint8Array | null) => {
    left -= picture?.length ?? 0;
    return picture && left >= 0 ? [{ name, bytes: picture }] : [];
  };
  const buffers = new Map<number, Uint8Array | null>();
  const bufferOf = (i: number): Uint8Array | null => {
    const known = buffers.get(i);
    if (known !== undefined) return known;
    const { uri } = json.buffers[i];
    const found =
      uri === undefined ? (i === 0 ? binary : null) : isData(uri) ? dataOf(uri) : (beside.get(pathOf(uri)) ?? null);
    buffers.set(i, found);
    return found;
  };
  return json.images.slice(0, MOST_PICTURES).flatMap(({ uri, bufferView }, i) => {
    const name = pictureName(json, i);
    if (uri !== undefined) return take(name, isData(uri) ? dataOf(uri) : null);
    const view = json.bufferViews[bufferView ?? -1];
    if (!view || !json.buffers[view.buffer]) return [];
    const held = bufferOf(view.buffer);
    if (!held || view.byteOffset + view.byteLength > held.length) return [];
    return take(name, held.slice(view.byteOffset, view.byteOffset + view.byteLength));
  });
}

const sceneNames = (json: Gltf): string[] =>
  json.scenes.length > 1 ? json.scenes.map(({ name }, i) => name?.trim() || `scene ${i + 1}`) : [];

function sceneOf(json: Gltf, wanted: number | undefined): { index: number; nodes: readonly number[] } {
  const index = wanted ?? json.scene ?? 0;
  const scene = json.scenes[index] ?? json.scenes[0];
  if (scene?.nodes && scene.nodes.length > 0) return { index, nodes: scene.nodes };
  // Without a scene: every node that is no child of another.
  const children = new Set(json.nodes.flatMap(({ children: own = [] }) => own));
  const roots = json.nodes.flatMap((_, i) => (children.has(i) ? [] : [i]));
  return { index: 0, nodes: roots.length > 0 ? roots : json.nodes.length > 0 ? [0] : [] };
}
