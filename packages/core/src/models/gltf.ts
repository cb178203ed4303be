/** glTF 2.0 with its files beside it or inside, through the libraries of the glTF project: triangles as they stand in a scene. */
import { WebIO, type Accessor, type Primitive } from '@gltf-transform/core';
import { InputError } from '../errors.ts';
import {
  bufferBytes,
  isData,
  listOf,
  NeedsFiles,
  openGltf,
  pathOf,
  type Gltf,
  type GltfPrimitive,
  type TextureInfo,
} from './gltfFile.ts';
import { colourInfo, materialNames, texturesOf } from './gltfPictures.ts';
import { floats, instancesOf, placesOf, restPose, sceneNames, sceneOf } from './gltfScene.ts';
import { MAX_INDICES, MeshBuilder, times, type MeshChoices, type ReadMesh } from './mesh.ts';

/** Bytes that all accessors together may unpack to. */
const MOST_BYTES = 1024 * 1024 * 1024;

const COMPONENT_BYTES: Record<number, number> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };
const COMPONENTS: Record<string, number> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 };
/** Those that change how it looks, and no triangle. */
const HARMLESS =
  /^(KHR_(materials|techniques?|texture|lights|animation|xmp|audio)|EXT_(texture|lights|mesh_gpu_instancing)|MSFT_texture)/;
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
    const found = bufferBytes(json, i, binary, beside);
    if (!found && uri !== undefined && !isData(uri)) needs.push(pathOf(uri));
    // Padding behind a buffer is no part of it.
    return found && found.length >= byteLength ? found.subarray(0, byteLength) : null;
  });
  const readable = new Set(json.accessors.flatMap((_, i) => (isWhole(json, buffers, i) ? [i] : [])));
  const materials = materialNames(json);
  const textures = texturesOf(json, materials);
  const scene = sceneOf(json, choices.scene);
  const found = { textures, needs, scenes: sceneNames(json), scene: scene.index, oriented: true };

  for (const name of json.extensionsRequired ?? [])
    if (!GEOMETRY.includes(name) && !HARMLESS.test(name))
      build.said.push(
        `This file is made for readers of "${name}", which is not read here: what it changes is missing.`,
      );
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
      const draco = dracoView(primitive);
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

/** The view that holds a primitive packed by Draco. */
const dracoView = (primitive: GltfPrimitive): number | null => {
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
