/** Materials of a glTF file and the pictures that they wear, beside it or inside. */
import { bufferBytes, dataOf, isData, openGltf, pathOf, type Gltf, type TextureInfo } from './gltfFile.ts';
import type { NamedTexture } from './mesh.ts';

/** Pictures that are taken out of one model. */
const MOST_PICTURES = 500;

/** The texture that a material's colour comes from. */
export const colourInfo = (material: Gltf['materials'][number] | undefined): TextureInfo | undefined =>
  material?.pbrMetallicRoughness?.baseColorTexture ?? specularGlossiness(material)?.diffuseTexture;

const specularGlossiness = (material: Gltf['materials'][number] | undefined) =>
  material?.extensions?.KHR_materials_pbrSpecularGlossiness as
    { diffuseTexture?: TextureInfo; specularGlossinessTexture?: TextureInfo } | undefined;

/** Names of the materials, each its own; those of one name that wear the same picture are one. */
export function materialNames(json: Gltf): string[] {
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

/** Pictures that materials wear, by what they are for. */
export function texturesOf(json: Gltf, names: readonly string[]): NamedTexture[] {
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
    const found = bufferBytes(json, i, binary, beside);
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
