/** The document of a glTF 2.0 file, as far as a mesh needs it. Source: the glTF 2.0 specification, Khronos Group 2021. */
import { z } from 'zod';
import { InputError } from '../errors.ts';

const index = z.number().int().min(0);
const numbers = z.array(z.number());
const TextureInfo = z.looseObject({
  index,
  texCoord: index.optional(),
  extensions: z
    .looseObject({
      KHR_texture_transform: z
        .looseObject({
          offset: numbers.length(2).optional(),
          rotation: z.number().optional(),
          scale: numbers.length(2).optional(),
          texCoord: index.optional(),
        })
        .optional(),
    })
    .optional(),
});
export type TextureInfo = z.infer<typeof TextureInfo>;
const Info = TextureInfo.optional().catch(undefined);

/** What is not as it should be is passed over where a mesh does not need it. */
const name = z.string().optional().catch(undefined);
const Named = z.looseObject({ name });

const Primitive = z.looseObject({
  attributes: z.record(z.string(), index),
  indices: index.optional(),
  material: index.optional(),
  mode: z.number().int().optional(),
  targets: z.array(z.record(z.string(), index)).optional(),
  extensions: z.record(z.string(), z.unknown()).optional(),
});
export type GltfPrimitive = z.infer<typeof Primitive>;

const Node = z.looseObject({
  name,
  mesh: index.optional(),
  skin: index.optional(),
  children: z.array(index).optional(),
  matrix: numbers.length(16).optional(),
  translation: numbers.length(3).optional(),
  rotation: numbers.length(4).optional(),
  scale: numbers.length(3).optional(),
  weights: numbers.optional(),
  extensions: z
    .looseObject({ EXT_mesh_gpu_instancing: z.looseObject({ attributes: z.record(z.string(), index) }).optional() })
    .optional(),
});
export type GltfNode = z.infer<typeof Node>;

export const Gltf = z.looseObject({
  asset: z.looseObject({ version: z.string() }),
  extensionsRequired: z.array(z.string()).optional(),
  buffers: z.array(z.looseObject({ uri: z.string().optional(), byteLength: index })).default([]),
  bufferViews: z
    .array(
      z.looseObject({
        buffer: index,
        byteOffset: index.default(0),
        byteLength: index,
        byteStride: index.optional(),
        extensions: z.record(z.string(), z.unknown()).optional(),
      }),
    )
    .default([]),
  accessors: z
    .array(
      z.looseObject({
        bufferView: index.optional(),
        byteOffset: index.default(0),
        componentType: z.number().int(),
        normalized: z.boolean().optional(),
        count: index,
        type: z.string(),
        sparse: z
          .looseObject({
            count: index,
            indices: z.looseObject({ bufferView: index }),
            values: z.looseObject({ bufferView: index }),
          })
          .optional(),
      }),
    )
    .default([]),
  meshes: z.array(Named.extend({ primitives: z.array(Primitive), weights: numbers.optional() })).default([]),
  nodes: z.array(Node).default([]),
  scene: index.optional().catch(undefined),
  scenes: z.array(Named.extend({ nodes: z.array(index).optional() })).default([]),
  skins: z.array(z.looseObject({ inverseBindMatrices: index.optional(), joints: z.array(index) })).default([]),
  materials: z
    .array(
      Named.extend({
        pbrMetallicRoughness: z
          .looseObject({ baseColorTexture: Info, metallicRoughnessTexture: Info })
          .optional()
          .catch(undefined),
        normalTexture: Info,
        occlusionTexture: Info,
        emissiveTexture: Info,
        extensions: z.record(z.string(), z.unknown()).optional(),
      }),
    )
    .default([]),
  textures: z
    .array(z.looseObject({ source: index.optional(), extensions: z.record(z.string(), z.unknown()).optional() }))
    .default([]),
  images: z
    .array(Named.extend({ uri: z.string().optional(), bufferView: index.optional(), mimeType: z.string().optional() }))
    .default([]),
});
export type Gltf = z.infer<typeof Gltf>;

export const isGlb = (bytes: Uint8Array): boolean => String.fromCharCode(...bytes.subarray(0, 4)) === 'glTF';

/** Document and binary chunk of a .glb or a .gltf. @throws InputError when it is neither, or not version 2 */
export function openGltf(bytes: Uint8Array): { json: Gltf; binary: Uint8Array | null } {
  let text: Uint8Array = bytes;
  let binary: Uint8Array | null = null;
  if (isGlb(bytes)) {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    if (bytes.length < 20) throw new InputError('This GLB file is cut off.');
    if (view.getUint32(4, true) !== 2)
      throw new InputError(`This is glTF of version ${view.getUint32(4, true)}; version 2 can be read.`);
    // Chunks: length, type, content. 12.: the header.
    const chunks = new Map<number, Uint8Array>();
    for (let at = 12; at + 8 <= bytes.length;) {
      const length = view.getUint32(at, true);
      const kind = view.getUint32(at + 4, true);
      if (at + 8 + length > bytes.length) throw new InputError('This GLB file is cut off.');
      if (!chunks.has(kind)) chunks.set(kind, bytes.subarray(at + 8, at + 8 + length));
      at += 8 + length;
    }
    const json = chunks.get(0x4e4f534a);
    if (!json) throw new InputError('This GLB file is damaged: it has no document.');
    text = json;
    binary = chunks.get(0x004e4942) ?? null;
  }
  let value: unknown;
  try {
    value = JSON.parse(new TextDecoder().decode(text));
  } catch {
    throw new InputError('The document of this glTF file is no JSON: it is damaged.');
  }
  const version = (value as { asset?: { version?: unknown } } | null)?.asset?.version;
  if (typeof version === 'string' && !version.startsWith('2'))
    throw new InputError(`This is glTF of version ${version.slice(0, 8)}; version 2 can be read.`);
  const read = Gltf.safeParse(value);
  if (!read.success) {
    const [issue] = read.error.issues;
    throw new InputError(`The document of this glTF file is damaged at ${issue.path.join('.') || 'its head'}.`);
  }
  return { json: read.data, binary };
}

/** Files beside the model that it names, buffers first: paths as it writes them, decoded. */
export function filesNamed(json: Gltf): { buffers: string[]; pictures: string[] } {
  const outside = (list: readonly { uri?: string }[]) => [
    ...new Set(list.flatMap(({ uri }) => (uri !== undefined && !isData(uri) ? [pathOf(uri)] : []))),
  ];
  return { buffers: outside(json.buffers), pictures: outside(json.images) };
}

export const isData = (uri: string): boolean => /^data:/i.test(uri);

/** A path as people see it. */
export function pathOf(uri: string): string {
  try {
    return decodeURIComponent(uri).replaceAll('\\', '/');
  } catch {
    return uri.replaceAll('\\', '/');
  }
}

/** Bytes of a data URI. @returns null when it is none that can be read (RFC 2397) */
export function dataOf(uri: string): Uint8Array | null {
  const match = /^data:[^,]*?(;base64)?,/i.exec(uri);
  if (!match) return null;
  const rest = uri.slice(match[0].length);
  try {
    if (!match[1]) return new TextEncoder().encode(decodeURIComponent(rest));
    const text = atob(decodeURIComponent(rest).replace(/\s/g, ''));
    const bytes = new Uint8Array(text.length);
    for (let i = 0; i < text.length; i++) bytes[i] = text.charCodeAt(i);
    return bytes;
  } catch {
    return null;
  }
}

/** Bytes of a buffer: of the binary chunk, a data URI, or a file beside the model; null: they are not here. */
export function bufferBytes(
  json: Gltf,
  i: number,
  binary: Uint8Array | null,
  beside: ReadonlyMap<string, Uint8Array>,
): Uint8Array | null {
  const { uri } = json.buffers[i];
  if (uri === undefined) return i === 0 ? binary : null;
  return isData(uri) ? dataOf(uri) : (beside.get(pathOf(uri)) ?? null);
}

export const listOf = (names: readonly string[]): string =>
  names.length > 3 ? `${names.slice(0, 2).join(', ')} and ${names.length - 2} more files` : names.join(' and ');

/** A model of which nothing can be shown before other files come. */
export class NeedsFiles extends InputError {
  constructor(readonly needs: readonly string[]) {
    const one = needs.length === 1;
    super(
      `This model needs ${listOf(needs)}, which ${one ? 'is' : 'are'} not among the files; bring ${one ? 'it' : 'them'} too.`,
    );
  }
}
