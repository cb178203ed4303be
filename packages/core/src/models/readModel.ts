/** Models of every kind that can be read. */
import { heldIn } from '../held.ts';
import type { ModelKind } from '../kinds/index.ts';
import { readGltf } from './gltf.ts';
import { filesNamed, openGltf } from './gltfFile.ts';
import { picturesIn } from './gltfPictures.ts';
import type { MeshChoices, ReadMesh } from './mesh.ts';
import { librariesOf, readMtl, readObj } from './obj.ts';

/** Files that came with a model, by the paths that it writes. */
type Beside = ReadonlyMap<string, Uint8Array>;

/** How one kind of model is read. */
interface ModelReader {
  /** Files beside a model that are read with it, by the paths that it writes. @throws InputError when it is damaged */
  namedBeside(bytes: Uint8Array): string[];
  /** @throws InputError in one sentence when nothing of it can be shown; NeedsFiles when others are wanting for that */
  read(bytes: Uint8Array, beside: Beside, choices: MeshChoices): ReadMesh | Promise<ReadMesh>;
  /** Pictures inside its own file, or in those that it names. */
  pictures(bytes: Uint8Array, beside: Beside): { name: string; bytes: Uint8Array }[];
}

const gltf: ModelReader = {
  namedBeside: (bytes) => filesNamed(openGltf(bytes).json).buffers,
  read: readGltf,
  pictures: picturesIn,
};

const obj: ModelReader = {
  namedBeside: (bytes) => [...new Set(librariesOf(bytes))],
  read(bytes, beside) {
    const libraries = librariesOf(bytes);
    const materials = libraries.flatMap((name) => (beside.has(name) ? readMtl(heldIn(beside, name)) : []));
    return { ...readObj(bytes, materials), needs: [...new Set(libraries)].filter((name) => !beside.has(name)) };
  },
  pictures: () => [],
};

const READERS: Readonly<Record<ModelKind, ModelReader>> = { glb: gltf, gltf, obj };

/** See {@link ModelReader}. */
export const namedBeside = (bytes: Uint8Array, kind: ModelKind): string[] => READERS[kind].namedBeside(bytes);

/** See {@link ModelReader}. */
export const readModel = async (
  bytes: Uint8Array,
  kind: ModelKind,
  beside: Beside = new Map(),
  choices: MeshChoices = {},
): Promise<ReadMesh> => READERS[kind].read(bytes, beside, choices);

/** See {@link ModelReader}. */
export const picturesOf = (bytes: Uint8Array, kind: ModelKind, beside: Beside): { name: string; bytes: Uint8Array }[] =>
  READERS[kind].pictures(bytes, beside);
