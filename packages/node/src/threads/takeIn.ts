/** A texture that a template keeps beside its sheets, taken onto one of them later; runs in threads. */
import { capital } from '@wet-lacquer/core/capital.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { packPixels, unpackPixels } from '@wet-lacquer/core/files/pixels.ts';
import { ruleLike } from '@wet-lacquer/core/intake/ruleLike.ts';
import { originalLayer } from '@wet-lacquer/core/livery/originalLayer.ts';
import { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import {
  MAIN_MAP,
  OriginalFile,
  originalKey,
  Template,
  type TemplateSheet,
} from '@wet-lacquer/core/livery/template.ts';
import { stemOf } from '@wet-lacquer/core/paths.ts';
import { freeKey } from '@wet-lacquer/core/surface/reviseTemplate.ts';
import { resample } from '@wet-lacquer/core/texture/resample.ts';
import { hashOf } from '../hash.ts';
import { readyTexture } from './makeTemplate.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';

/** Where a kept texture goes: a map of a sheet, or a sheet of its own. */
export interface Taking {
  /** Its name among the kept files. */
  file: string;
  /** Key of the sheet; null: a new one, on templates whose sheets stand as boards. */
  sheet: string | null;
  /** Key of the map that it becomes; of a new sheet always its colour. */
  map: string;
}

export interface TakenIn {
  document: Template;
  blobs: Map<string, Uint8Array>;
  remarks: string[];
}

/** @throws InputError when the file is no texture, the map is there already, or a sheet cannot be added */
export async function takeIn(task: {
  template: Template;
  hash: string;
  bytes: Uint8Array;
  taking: Taking;
}): Promise<TakenIn> {
  const { template, bytes, taking } = task;
  const kept = template.beside?.find(({ name }) => name === taking.file);
  if (!kept || !template.ownSpec) throw new InputError('This template keeps no such file.');
  const onto = taking.sheet === null ? null : template.sheets.find(({ key }) => key === taking.sheet);
  if (onto === undefined) throw new InputError('The sheet that it is to go on is not there.');
  if (onto?.maps?.some(({ key }) => key === taking.map) || (onto && taking.map === MAIN_MAP))
    throw new InputError(`${onto.name} has that map already.`);
  if (!onto && !template.boards)
    throw new InputError('A model wears the sheets that it has; a new one needs a part of its own first.');
  const upsideDown = onto ? (template.originals?.[originalKey(onto.key)]?.upsideDown ?? false) : false;
  const ready = await readyTexture({ bytes, name: kept.name, upsideDown });
  const { facts } = ready;
  const blobs = new Map<string, Uint8Array>();
  const remarks: string[] = [];
  const size = onto ?? { width: facts.width, height: facts.height };
  let { blob } = ready;
  if (facts.width === size.width && facts.height === size.height) blobs.set(blob, ready.bytes);
  else {
    const space = taking.map === 'night' ? 'srgb' : 'linear';
    const fitted = packPixels(resample(unpackPixels(ready.bytes), size.width, size.height, space));
    blob = hashOf(fitted);
    blobs.set(blob, fitted);
  }
  const map = onto ? taking.map : 'colour';
  const alpha = facts.alpha === 'none' ? 'none' : onto ? 'data' : facts.alpha === 'cutout' ? 'cutout' : 'coverage';
  const sheet: TemplateSheet = onto
    ? { ...onto, maps: [...(onto.maps ?? []), { key: map, name: capital(map), alpha }] }
    : {
        key: freeKey(stemOf(kept.name), new Set(template.sheets.map(({ key }) => key))),
        name: cutTo(stemOf(kept.name), 60),
        width: facts.width,
        height: facts.height,
        alpha,
        axis: null,
      };
  const same = facts.width === sheet.width && facts.height === sheet.height;
  const rule = ruleLike(sheet.key, kept.name, facts, remarks, map);
  const ownSpec = {
    ...template.ownSpec,
    version: template.ownSpec.version + 1,
    files: [
      ...template.ownSpec.files,
      { ...rule, flip: upsideDown, ...(!same && { size: { width: facts.width, height: facts.height } }) },
    ],
    companions: template.ownSpec.companions?.filter(({ file }) => file !== kept.name),
  };
  const original = OriginalFile.parse({
    ...{ name: kept.name, blob: kept.blob, bytes: kept.bytes, pixels: blob, upsideDown, stored: facts.stored },
  });
  const beside = template.beside!.filter((one) => one !== kept);
  const document = Template.parse({
    ...template,
    ...(onto ? {} : withBoard(template, sheet)),
    sheets: onto ? template.sheets.map((one) => (one === onto ? sheet : one)) : [...template.sheets, sheet],
    begin: { ...template.begin, [map === MAIN_MAP ? sheet.key : `${sheet.key}/${map}`]: [originalLayer(blob, sheet)] },
    originals: { ...template.originals, [originalKey(sheet.key, map)]: original },
    beside: beside.length > 0 ? beside : undefined,
    ownSpec,
    spec: { key: ownSpec.key, version: ownSpec.version },
    replaces: Sha256.parse(task.hash),
  });
  return { document, blobs, remarks };
}

/** One board more, right of the others, and the part that it is. */
function withBoard({ mesh, parts }: Template, sheet: TemplateSheet): Pick<Template, 'mesh' | 'parts'> {
  const right = mesh.positions.reduce((most, v, i) => (i % 3 === 0 ? Math.max(most, v) : most), 0);
  const [left, width, first] = [right + 0.1, sheet.width / sheet.height, mesh.positions.length / 3];
  const part = {
    ...{
      key: freeKey(`board ${sheet.name}`, new Set(parts.map(({ key }) => key))),
      name: sheet.name,
      sheet: sheet.key,
    },
    ...{ first: mesh.indices.length / 3, count: 2, hex: null },
  };
  return {
    parts: [...parts, part],
    mesh: {
      positions: [...mesh.positions, left, 0, 0, left + width, 0, 0, left + width, 1, 0, left, 1, 0],
      normals: [...mesh.normals, ...Array.from({ length: 4 }, () => [0, 0, 1]).flat()],
      uvs: [...mesh.uvs, 0, 1, 1, 1, 1, 0, 0, 0],
      indices: [...mesh.indices, ...[0, 1, 2, 0, 2, 3].map((k) => first + k)],
    },
  };
}
