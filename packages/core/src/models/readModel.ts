/** Models of every kind that can be read. */
import { readGltf } from './gltf.ts';
import { filesNamed, openGltf } from './gltfFile.ts';
import { picturesIn } from './gltfPictures.ts';
import type { MeshChoices, ReadMesh } from './mesh.ts';
import { librariesOf, readMtl, readObj } from './obj.ts';

export const MODEL_KINDS = ['glb', 'gltf', 'obj'] as const;
export type ModelKind = (typeof MODEL_KINDS)[number];
export const isModelKind = (kind: string): kind is ModelKind => (MODEL_KINDS as readonly string[]).includes(kind);

/** Files beside a model that are read with it, by the paths that it writes. @throws InputError when it is damaged */
export const namedBeside = (bytes: Uint8Array, kind: ModelKind): string[] =>
  kind === 'obj' ? [...new Set(librariesOf(bytes))] : filesNamed(openGltf(bytes).json).buffers;

/**
 * @param beside files that came with it, by the paths that it writes; see {@link namedBeside}
 * @throws InputError in one sentence when nothing of it can be shown; NeedsFiles when others are wanting for that
 */
export async function readModel(
  bytes: Uint8Array,
  kind: ModelKind,
  beside: ReadonlyMap<string, Uint8Array> = new Map(),
  choices: MeshChoices = {},
): Promise<ReadMesh> {
  if (kind !== 'obj') return readGltf(bytes, beside, choices);
  const libraries = librariesOf(bytes);
  const materials = libraries.flatMap((name) => (beside.has(name) ? readMtl(beside.get(name)!) : []));
  const read = readObj(bytes, materials);
  return { ...read, needs: [...new Set(libraries)].filter((name) => !beside.has(name)) };
}

/** Pictures inside a model's own file, or in those that it names. */
export const picturesOf = (
  bytes: Uint8Array,
  kind: ModelKind,
  beside: ReadonlyMap<string, Uint8Array>,
): { name: string; bytes: Uint8Array }[] => (kind === 'obj' ? [] : picturesIn(bytes, beside));
