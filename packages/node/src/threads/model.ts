/** What a model is, and how it looks; runs in threads. */
import type { ModelFacts } from '@wet-lacquer/core/intake/understood.ts';
import { NeedsFiles } from '@wet-lacquer/core/models/gltfFile.ts';
import { subjectOf, type ReadMesh } from '@wet-lacquer/core/models/mesh.ts';
import type { ModelKind } from '@wet-lacquer/core/kinds/index.ts';
import { namedBeside, picturesOf, readModel } from '@wet-lacquer/core/models/readModel.ts';
import { guessUp, sizeOfMesh, stoodUp, type UpAxis } from '@wet-lacquer/core/models/upAxis.ts';
import type { Image8 } from '@wet-lacquer/core/raster/image.ts';
import { islandsOf } from '@wet-lacquer/core/surface/islands.ts';
import { examineLayout } from '@wet-lacquer/core/surface/layout.ts';
import { portrait } from '@wet-lacquer/core/surface/portrait.ts';
import { coverOf } from '@wet-lacquer/core/surface/wayUp.ts';
import { png, thumb } from './pictures.ts';
import type { Looked } from './looked.ts';

/** What there is to say of a model; of one that wants other files, that. @throws InputError */
export async function lookModel(
  bytes: Uint8Array,
  kind: ModelKind,
  beside: ReadonlyMap<string, Uint8Array> = new Map(),
): Promise<Looked> {
  try {
    const read = await readModel(bytes, kind, beside);
    const understood = modelFacts(read);
    const preview = await thumb(modelPicture(read, understood.up!.up), 512);
    return { understood, preview, difference: null, inside: picturesOf(bytes, kind, beside) };
  } catch (error) {
    if (!(error instanceof NeedsFiles)) throw error;
    return {
      understood: { kind: 'other', what: error.message, needs: [...error.needs] },
      preview: null,
      difference: null,
    };
  }
}

/** Files beside a model that are read with it. @throws InputError when it is damaged */
export const besideModel = ({ bytes, kind }: { bytes: Uint8Array; kind: ModelKind }): string[] =>
  namedBeside(bytes, kind);
/** A model in grey, as it stands with one of its axes up: PNG. @throws InputError */
export async function pictureOfModel(task: {
  bytes: Uint8Array;
  kind: ModelKind;
  beside: ReadonlyMap<string, Uint8Array>;
  up: UpAxis;
  mirrored: boolean;
}): Promise<Uint8Array> {
  const { bytes, kind, beside, up, mirrored } = task;
  return png(modelPicture(await readModel(bytes, kind, beside), up, mirrored));
}

function modelPicture(read: ReadMesh, up: UpAxis, mirrored = false): Image8 {
  const { parts } = subjectOf(read);
  const mesh = stoodUp(read.mesh, { up, unit: 1, mirrored });
  return portrait({ mesh, parts }, new Map(), { width: 320, height: 200, heading: 35, elevation: 18 });
}

/** Facts of a model that was read. */
export function modelFacts(read: ReadMesh): ModelFacts {
  const subject = subjectOf(read);
  const islands = islandsOf(subject);
  const covers = subject.sheets.map(({ key }) => {
    const cover = coverOf(subject, islands, key);
    return [key, cover.map((covered) => (covered ? '1' : '0')).join('')];
  });
  const { mesh, groups, said, needs, textures, scenes, scene, uvSets, oriented } = read;
  return {
    kind: 'model',
    triangles: mesh.indices.length / 3,
    vertices: mesh.positions.length / 3,
    groups: groups.map(({ name, material, count, bare }) => ({
      name,
      material,
      triangles: count,
      ...(bare && { bare }),
    })),
    notes: examineLayout(subject, islands),
    covers: Object.fromEntries(covers) as Record<string, string>,
    said: said.slice(0, MOST_SAID),
    needs,
    textures,
    ...(scenes.length > 0 && { scenes, scene }),
    uvSets,
    size: sizeOfMesh(mesh.positions),
    up: oriented ? { up: 'y', reason: 'glTF has y upwards', sure: 0.9 } : guessUp(mesh),
  };
}

/** Sentences about one model that are kept. */
const MOST_SAID = 200;
