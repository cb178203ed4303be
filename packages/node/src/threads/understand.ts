/** Says what a file that a painter brought is, and what of it can be used; runs in threads. */
import { LANGUAGES, languageOf } from '@wet-lacquer/core/languages/index.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { looksLikeText, readExactly } from '@wet-lacquer/core/files/textFile.ts';
import { checkMtl } from '@wet-lacquer/core/models/obj.ts';
import { openZip } from '@wet-lacquer/core/files/zip.ts';
import { proposeRoles } from '@wet-lacquer/core/intake/layerRoles.ts';
import type { LayeredFacts } from '@wet-lacquer/core/intake/understood.ts';
import { compositeInto, compositeLayered } from '@wet-lacquer/core/layered/composite.ts';
import { readSvg } from '@wet-lacquer/core/files/svg.ts';
import { nodesIn, type LayeredFile } from '@wet-lacquer/core/layered/layered.ts';
import { readOra } from '@wet-lacquer/core/layered/ora.ts';
import { readPsd } from '@wet-lacquer/core/layered/psd.ts';
import { newImage, type Image8 } from '@wet-lacquer/core/raster/image.ts';
import { MAX_SIDE } from '@wet-lacquer/core/texture/dds.ts';
import { canBe, fileKind, whatIs, type LayeredKind } from '@wet-lacquer/core/kinds/index.ts';
import type { Looked } from './looked.ts';
import { lookModel } from './model.ts';
import { decodePicture, thumb } from './pictures.ts';
import { texture } from '../textures/index.ts';
import { svgReady } from './scene.ts';
import { sharedBytes } from './shared.ts';

/** Sets one 32-bit number in shared memory to 0..1000, from which somebody else tells how far it is. */
const gaugeOf = (progress: SharedArrayBuffer | undefined, from: number, to: number) => (done: number) => {
  if (progress) Atomics.store(new Int32Array(progress), 0, Math.round((from + (to - from) * done) * 1000));
};

/** A drawing checked and measured. @throws InputError in one sentence */
export async function lookSvg(bytes: Uint8Array): Promise<{ width: number; height: number; colours: string[] }> {
  await svgReady();
  const { width, height, colours } = readSvg(new TextDecoder().decode(bytes));
  return { width, height, colours };
}

/**
 * Anything but a PSD, which Pool.understand spreads over the threads.
 * @throws InputError in one sentence
 */
export async function understand(task: {
  bytes: Uint8Array;
  name: string;
  progress?: SharedArrayBuffer;
  /** Of a model: files that came with it, by the paths that it writes. */
  beside?: ReadonlyMap<string, Uint8Array>;
}): Promise<Looked> {
  const { bytes, name, progress, beside } = task;
  if (bytes.length === 0) throw new InputError('This file is empty.');
  const kind = fileKind(bytes, name);
  if (canBe('layered', kind)) {
    const file = await readLayered(bytes, kind, gaugeOf(progress, 0, 0.6));
    return lookLayered({ file, ours: compositeLayered(file, gaugeOf(progress, 0.6, 1)) });
  }
  if (canBe('model', kind)) return lookModel(bytes, kind, beside);
  if (canBe('texture', kind)) {
    const { image, facts } = await texture(bytes, kind);
    return { understood: facts, preview: await thumb(image), difference: null };
  }
  return {
    understood: { kind: 'other', what: await IN_WORDS[whatIs(kind) as NoSheet](bytes, name) },
    preview: null,
    difference: null,
  };
}

/** What files can be that no sheet is made of. */
type NoSheet = Exclude<ReturnType<typeof whatIs>, 'layered' | 'model' | 'texture'>;

const IN_WORDS: Readonly<Record<NoSheet, (bytes: Uint8Array, name: string) => string | Promise<string>>> = {
  materials: (bytes) =>
    `materials of a model: ${new Set(checkMtl(bytes).map(({ material }) => material)).size} with textures`,
  async drawing(bytes) {
    const { width, height, colours } = await lookSvg(bytes);
    return `a drawing of ${width} x ${height} with ${colours.length} flat colours: a decal, or outlines of a sheet`;
  },
  archive: (bytes) => `an archive of ${openZip(bytes).entries.filter((e) => !e.folder).length} files`,
  other(bytes, name) {
    if (!looksLikeText(bytes)) return 'not for a template: it is kept beside it';
    const { called } = LANGUAGES[languageOf(name, readExactly(bytes.subarray(0, 65536)).text)];
    return `a text${called && ` (${called})`}, kept beside the sheets`;
  },
};

type ReadsLayers = (bytes: Uint8Array, each?: (done: number) => void) => LayeredFile | Promise<LayeredFile>;

const LAYERED: Readonly<Record<LayeredKind, ReadsLayers>> = {
  psd: (bytes, each) => readPsd(bytes, { each }),
  ora: (bytes, each) => readOra(bytes, (entry) => decodePicture(entry, MAX_SIDE), each),
};

/** A layered file with its pixels. @param each told the share that is read, 0..1 @throws InputError in one sentence */
export const readLayered = async (
  bytes: Uint8Array,
  kind: LayeredKind,
  each?: (done: number) => void,
): Promise<LayeredFile> => LAYERED[kind](bytes, each);

/** One thread's share of a PSD's layers, their pixels in shared memory. */
export function readPsdPart(task: {
  bytes: Uint8Array;
  part: { index: number; of: number };
  progress?: SharedArrayBuffer;
}): LayeredFile {
  return readPsd(task.bytes, { part: task.part, bytes: sharedBytes, each: gaugeOf(task.progress, 0, 0.5) });
}

/** One thread's share of the rows of tiles of a layered file's composite, into shared memory. */
export function compositePart(task: {
  image: Image8;
  file: LayeredFile;
  part: { index: number; of: number };
  progress?: SharedArrayBuffer;
}): void {
  compositeInto(task.image, task.file.nodes, task.part, gaugeOf(task.progress, 0.5, 0.9));
}

/** What there is to say of a layered file, once it is read and composited. */
export async function lookLayered({ file, ours }: { file: LayeredFile; ours: Image8 }): Promise<Looked> {
  const roles = proposeRoles(file);
  const understood: LayeredFacts = {
    kind: 'layered',
    format: file.kind,
    width: file.width,
    height: file.height,
    depth: file.depth,
    layers: nodesIn(file.nodes).map(({ node, path }) => ({
      name: node.name,
      path: [...path],
      kind: node.kind,
      content: node.kind === 'layer' ? node.content : 'group',
      hidden: node.hidden,
      opacity: node.opacity,
      blend: node.kind === 'group' && node.passThrough ? 'pass through' : node.blend,
      masked: node.mask !== null && !node.mask.disabled,
      clipped: node.clipped,
      ...roles.get(node)!,
    })),
    losses: [...file.losses],
    agreement: null,
  };
  let difference: Uint8Array | null = null;
  if (file.merged) {
    const { picture, agreement } = agreementOf(ours, file.merged);
    understood.agreement = agreement;
    if (agreement.apart > 0) difference = await thumb(picture, 512);
  }
  return { understood, preview: await thumb(ours, 512), difference };
}

/** How near our composite is to the file's own picture. Colour counts as far as it covers. */
export function agreementOf(ours: Image8, merged: Image8) {
  const picture = newImage(ours.width, ours.height);
  const [a, b, out] = [ours.data, merged.data, picture.data];
  let apart = 0;
  let squares = 0;
  for (let i = 0; i < a.length; i += 4) {
    const [aa, ba] = [a[i + 3], b[i + 3]];
    let most = aa > ba ? aa - ba : ba - aa;
    for (let c = 0; c < 3; c++) {
      // Laid over mid grey: colour under clear texels does not count.
      const d = Math.abs(a[i + c] * aa + 128 * (255 - aa) - b[i + c] * ba - 128 * (255 - ba)) / 255;
      squares += d * d;
      if (d > most) most = d;
    }
    if (most > 2) apart++;
    const strength = most > 31 ? 255 : (most * 8) | 0;
    out[i] = strength;
    out[i + 1] = (strength * 0.35) | 0;
    out[i + 2] = 40;
    out[i + 3] = 255;
  }
  const texels = ours.width * ours.height;
  const mean = squares / (3 * texels);
  const psnr = mean === 0 ? 99 : Math.min(99, 10 * Math.log10((255 * 255) / mean));
  return { picture, agreement: { psnr, apart: apart / texels } };
}
