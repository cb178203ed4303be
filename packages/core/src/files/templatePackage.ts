/** A template package: one zip with the document as JSON, its pictures as PNG and its model as glTF, for anybody to open. */
import { strToU8, type Zippable } from 'fflate';
import { InputError } from '../errors.ts';
import type { Sha256 } from '../livery/ids.ts';
import { filesOf, Template } from '../livery/template.ts';
import type { Image8 } from '../raster/image.ts';
import { Archive, jsonEntry, writeArchive } from './archive.ts';
import { sha256 } from './sha256.ts';
import { packPixels, unpackPixels } from './pixels.ts';
import { writeGlb } from '../models/writeMesh.ts';

const KIND = {
  name: 'template package',
  word: 'package',
  wanted: /^template\.json$|^pictures\/[0-9a-f]{64}\.png$|^files\/[0-9a-f]{64}$/,
  limit: 1,
};

const README = `A template package of Wet Lacquer.

template.json  the subject: sheets, parts, guides, boxes, links, delivery rules; its mesh is inside
model.glb      the same mesh as glTF 2.0, for other programs
files/         the game's own files as they came, named as template.json names them
pictures/      guides and originals as PNG (straight alpha, sRGB), named as template.json names them
`;

/** Hashes of the stored pictures that a template refers to: guides, and the layers that liveries begin with. */
export const blobsOf = (template: Template): Sha256[] => [
  ...new Set([
    ...(template.guides ?? []).map((guide) => guide.blob),
    ...Object.values(template.begin ?? {}).flatMap((layers) =>
      layers.flatMap((layer) => (layer.kind === 'picture' ? [layer.blob] : [])),
    ),
  ]),
];

/** @param png writes a PNG that gives the same texels back, those under alpha 0 too */
export async function writeTemplatePackage(
  template: Template,
  blobs: ReadonlyMap<string, Uint8Array>,
  png: (image: Image8) => Promise<Uint8Array>,
): Promise<Uint8Array> {
  const files: Zippable = {
    'README.txt': strToU8(README),
    'template.json': jsonEntry(template),
    'model.glb': [await writeGlb(template), { level: 6 }],
  };
  for (const hash of blobsOf(template)) {
    const bytes = blobs.get(hash);
    if (!bytes) throw new InputError(`A picture of this template is not here (${hash.slice(0, 12)}).`);
    files[`pictures/${hash}.png`] = [await png(unpackPixels(bytes)), { level: 0 }];
  }
  for (const hash of filesOf(template)) {
    const bytes = blobs.get(hash);
    if (!bytes) throw new InputError(`A file of this template is not here (${hash.slice(0, 12)}).`);
    files[`files/${hash}`] = bytes;
  }
  return writeArchive(files);
}

/** Opens a package. @param read decodes a PNG to straight RGBA8 @returns the document, its stored pictures, and the game's own files that it keeps @throws InputError; nothing is taken of a damaged one */
export async function readTemplatePackage(
  bytes: Uint8Array,
  read: (png: Uint8Array) => Promise<Image8>,
): Promise<{ document: Template; blobs: Uint8Array[]; files: Map<Sha256, Uint8Array> }> {
  const archive = new Archive(bytes, KIND);
  const document = archive.json('template.json', Template);
  checkMesh(document);
  const blobs: Uint8Array[] = [];
  for (const hash of blobsOf(document)) {
    const png = archive.entries[`pictures/${hash}.png`];
    if (!png) throw new InputError(`This package lacks a picture that it refers to (${hash.slice(0, 12)}).`);
    const packed = packPixels(await read(png));
    if ((await sha256(packed)) !== hash)
      throw new InputError(`A picture in this package is not the one that was saved (${hash.slice(0, 12)}).`);
    blobs.push(packed);
  }
  const files = await archive.blobs('files');
  const kept = filesOf(document);
  for (const hash of kept)
    if (!files.has(hash)) throw new InputError(`This package lacks a file that it refers to (${hash.slice(0, 12)}).`);
  for (const hash of files.keys()) if (!kept.includes(hash)) files.delete(hash);
  return { document, blobs, files };
}

/** A mesh whose numbers refer to what is there. @throws InputError */
function checkMesh({ mesh, parts, sheets }: Template): void {
  const vertices = mesh.positions.length / 3;
  const sound =
    mesh.positions.length % 3 === 0 &&
    mesh.normals.length === vertices * 3 &&
    mesh.uvs.length === vertices * 2 &&
    mesh.indices.length % 3 === 0 &&
    mesh.indices.every((index) => index < vertices) &&
    parts.every((part) => (part.first + part.count) * 3 <= mesh.indices.length) &&
    parts.every((part) => part.sheet === null || sheets.some((sheet) => sheet.key === part.sheet));
  if (!sound) throw new InputError('The mesh in this package is damaged: its numbers point at nothing.');
}
