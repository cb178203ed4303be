/** The heavy work of the server and the command line, one function a task; runs in threads of the pool. */
import { zipSync, type Zippable } from 'fflate';
import sharp from 'sharp';
import { boxOfLayer, pictureAround } from '@wet-lacquer/core/compose/around.ts';
import { renderCoarse, renderRows as drawRows } from '@wet-lacquer/core/compose/renderSheet.ts';
import { againstOriginal, type AgainstOriginal } from '@wet-lacquer/core/delivery/againstOriginal.ts';
import { putCells } from '@wet-lacquer/core/delivery/atlas.ts';
import type { CheckInput } from '@wet-lacquer/core/delivery/finding.ts';
import { NO_TARGET, type Target } from '@wet-lacquer/core/delivery/target.ts';
import { planDelivery, type PlannedSheet, type PlannedThumbnail } from '@wet-lacquer/core/delivery/plan.ts';
import { preflight, type Preflight } from '@wet-lacquer/core/delivery/preflight.ts';
import { flatten, inZoneColours, preparedSheet } from '@wet-lacquer/core/delivery/preparedSheet.ts';
import { resample } from '@wet-lacquer/core/texture/resample.ts';
import { whyNoPath } from '@wet-lacquer/core/delivery/safePath.ts';
import type { DeliverySpec, SpecFile } from '@wet-lacquer/core/livery/spec.ts';
import { readFont } from '@wet-lacquer/core/shapes/font.ts';
import { tilesDeclared, unpackStroke } from '@wet-lacquer/core/paint/strokes.ts';
import { ZIP_TIME } from '@wet-lacquer/core/files/archive.ts';
import { packPixels, unpackPixels } from '@wet-lacquer/core/files/pixels.ts';
import { drawSvg, readSvg } from '@wet-lacquer/core/files/svg.ts';
import { dds } from '@wet-lacquer/core/kinds/dds.ts';
import { picture as pictureFile } from '@wet-lacquer/core/kinds/picture.ts';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import { findLayer } from '@wet-lacquer/core/livery/livery.ts';
import { holdsIn, sheetNamed, type Template } from '@wet-lacquer/core/livery/template.ts';
import { readDdsFacts, readDdsLevel } from '@wet-lacquer/core/texture/dds.ts';
import { readTga, readTgaFacts } from '@wet-lacquer/core/texture/tga.ts';
import { TILE, type Image8 } from '@wet-lacquer/core/raster/image.ts';
import { mirrorImage } from '@wet-lacquer/core/raster/mirror.ts';
import { layoutOf, type TemplateLayout } from '@wet-lacquer/core/surface/templateLayout.ts';
import { withPlates } from '@wet-lacquer/core/plates/panel.ts';
import { portrait } from '@wet-lacquer/core/surface/portrait.ts';
import type { Encoding } from '@wet-lacquer/core/texture/encoding.ts';
import type { MipOptions } from '@wet-lacquer/core/texture/mips.ts';

import type { BlobFacts } from '@wet-lacquer/sync/judge.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { asItCame } from './asItCame.ts';
import { sideBySide } from './besideMaster.ts';
import { draftOf, draftsOf } from './drafts.ts';
import { decodePicture, fileJpeg, png } from './pictures.ts';
import { sourcesOf, svgReady, type Scene } from './scene.ts';

export { encodeRows, mipBand, mipRest, mips } from './encoding.ts';
export { fileJpeg, filePng } from './pictures.ts';
export { bakeBand, bakeFinish } from './bake.ts';
export { sheetAsLayered, sheetBack } from './otherEditor.ts';
export { openBundle, openKit, packBundle, packKit, unpackEntry } from './archives.ts';
export { textsAmong } from './texts.ts';
export {
  changeContainer,
  copyEntry,
  listContainer,
  putEntry,
  putText,
  takeEntry,
  textOfEntry,
  usesOfEntry,
} from './containers.ts';
export { bayPicture } from './bay.ts';
export { skinLook } from './skin.ts';
export { fieldPart, locatorPictures, openTemplate, outlinesOfPictures, packTemplate, revise } from './templates.ts';
export { makeTemplate, readyTexture } from './makeTemplate.ts';
export { takeIn } from './takeIn.ts';
export { overSkin, sheetCovers } from './overSkin.ts';
export { fileWebp, finishOver, originalTexels, overDds, overPicture, overRows, storedTexels } from './over.ts';
export { compositePart, lookLayered, readPsdPart, understand } from './understand.ts';
export { drawOld, fitModels, lookAtFit, packTaken, pairParts, planMove, takeBand } from './transfer.ts';
export { besideMaster } from './besideMaster.ts';
export { besideModel, pictureOfModel } from './model.ts';

/** Draws tile rows `from` to `to` (exclusive) of a map, straight RGBA8 at native size, into their place of the whole. */
export async function renderRows(task: {
  scene: Scene;
  sheet: string;
  map: string;
  from: number;
  to: number;
  into: Uint8Array;
}): Promise<void> {
  const { scene, sheet, map, from, to, into } = task;
  const size = sheetNamed(scene.template, sheet);
  const rows = drawRows(scene.livery, sheet, map, size, await sourcesOf(scene), from, to);
  into.set(rows.data, from * TILE * size.width * 4);
}

/**
 * Padding, ground, boxes and orientation of a flattened sheet, mirrored where its follower is: what the file's level 0 shows. Zones are in the
 * game's colours, and identities of the file's size: they are never mixed.
 */
export async function prepare(task: {
  scene: Scene;
  file: Pick<PlannedSheet, 'master' | 'mirror' | 'zones'>;
  flat: Image8;
  spec: SpecFile;
  ground: string;
  /** Of the file. */
  size: { width: number; height: number };
}): Promise<Image8> {
  const { file, flat, spec, ground, size } = task;
  const sources = await sourcesOf(task.scene);
  const { key } = file.master;
  const holds = holdsIn(file.master, spec.map);
  const surface = file.master.plates ? null : sources.surface(key);
  const image = preparedSheet(flat, spec, holds, surface, ground, sources.boxes(key));
  if (file.zones) inZoneColours(image, file.zones);
  const turned = mirrorImage(image, file.mirror);
  return spec.colourSpace === 'ids' ? resample(turned, size.width, size.height, 'ids') : turned;
}

/** Preflight with what became of each original. */
export interface Checked extends Preflight {
  /** By the file's name. */
  against: Record<string, AgainstOriginal>;
}

export async function check(task: {
  scene: Scene;
  spec: DeliverySpec;
  target?: Target;
  /** Names of findings that stop no longer. */
  overrule?: readonly string[];
}): Promise<Checked> {
  const { target = NO_TARGET, overrule = [] } = task;
  const { livery, template } = task.scene;
  const input: CheckInput = {
    livery,
    template,
    spec: task.spec,
    plan: planDelivery(livery, template, task.spec, target),
    target,
    sources: await sourcesOf(task.scene),
  };
  const found = preflight(input, overrule);
  const against: Checked['against'] = {};
  for (const file of input.plan.files) {
    const own = file.kind === 'sheet' && !file.leftOut ? againstOriginal(input, file) : null;
    if (own) against[file.name] = own;
  }
  return { ...found, against };
}

/** A PNG of the model with the livery on it, drawn from coarse sheets. */
export async function picture(task: {
  scene: Scene;
  width: number;
  height: number;
  heading: number;
  elevation: number;
}): Promise<Uint8Array> {
  const { scene } = task;
  return png(portrait(withPlates(scene.template, scene.livery), await draftsOf(scene), task));
}

/** The picture of the model that a game shows in its list, on neutral grey where its kind of file has no alpha. */
export async function thumbnail({
  scene,
  rule,
}: {
  scene: Scene;
  rule: PlannedThumbnail['rule'];
}): Promise<Uint8Array> {
  const image = portrait(withPlates(scene.template, scene.livery), await draftsOf(scene), rule);
  if (rule.container === 'png') return png(image);
  flatten(image, '#8b8b8b');
  return fileJpeg({ image, space: 'srgb' });
}

/** Cells of an atlas put into the game's own file; see delivery/atlas.ts. */
export async function cells(task: {
  base: Uint8Array;
  image: Image8;
  changed: readonly number[];
  cells: { columns: number; rows: number };
  file: SpecFile;
  mips: MipOptions;
  encoding: Encoding;
}): Promise<Uint8Array> {
  return putCells(task.base, task.image, task.changed, task.cells, task.file, task.mips, task.encoding);
}

/** One sheet drawn at a coarse step, as PNG. @param step left out: as coarse as the model's picture needs */
export async function sheetPicture(task: { scene: Scene; sheet: string; step?: number }): Promise<Uint8Array> {
  return png(await draftOf(task.scene, task.sheet, task.step));
}

/** Where a layer lies: the sheet about it, small, as PNG; of a layer that covers nothing, the whole sheet. @throws InputError when there is none */
export async function layerPlace({ scene, layer }: { scene: Scene; layer: string }): Promise<Uint8Array> {
  const { livery, template } = scene;
  const place = findLayer(livery, layer as LayerId);
  if (!place) throw new InputError('There is no such layer.');
  const size = sheetNamed(template, place.sheet);
  const sources = await sourcesOf(scene);
  const shown = boxOfLayer(livery, place.sheet, place.map, size, layer, sources);
  const box = shown ?? { left: 0, top: 0, right: size.width, bottom: size.height };
  return png(pictureAround(livery, place.sheet, place.map, size, box, PLACE, sources));
}
/** How large the picture of a place is at most, pixels. */
const PLACE = { width: 560, height: 240 };

/** A map as its template brings it and as it is painted, side by side with a line of grey between them, as PNG. */
export async function besideOriginal(task: {
  scene: Scene;
  sheet: string;
  map: string;
  side: number;
}): Promise<Uint8Array> {
  const { scene, sheet, map, side } = task;
  const size = sheetNamed(scene.template, sheet);
  const step = Math.max(1, Math.ceil(Math.max(size.width, size.height) / side));
  const draw = async (one: Scene) => renderCoarse(one.livery, sheet, map, size, step, await sourcesOf(one));
  const [before, after] = [await draw(asItCame(scene, sheet)), await draw(scene)];
  return png(sideBySide([before, after]));
}

/** A delivery as one zip: the game's own tree, fixed times, so that the same files give the same bytes. */
export function zipFiles(task: { files: { name: string; content: Uint8Array }[] }): Uint8Array {
  const tree: Zippable = {};
  for (const { name, content } of task.files) {
    const why = whyNoPath(name);
    if (why) throw new InputError(`"${name}" ${why}, so no package is made of it.`);
    tree[name] = content;
  }
  return zipSync(tree, { level: 6, mtime: ZIP_TIME });
}

export interface ImportedDecal {
  source: 'pixels' | 'svg';
  bytes: Uint8Array;
  ratio: number;
  colours: string[];
}

/** A drawing is tried at this side before it is taken in, and may take so many seconds for it. */
const TRIED_AT = 512;
const MOST_DRAWING = 2;

/** Longest side of a picture that can become a decal. */
const DECAL_SIDE = 8192;

/** A picture by its first bytes: PNG, JPEG, WebP, DDS (its largest level); what is none of these is tried as TGA, which has no mark. @throws InputError */
async function anyPicture(bytes: Uint8Array): Promise<Image8> {
  const small = ({ width, height }: { width: number; height: number }) => {
    if (Math.max(width, height) > DECAL_SIDE)
      throw new InputError(`This picture is ${width} x ${height}; at most ${DECAL_SIDE} to a side can be taken in.`);
  };
  if (dds.begins(bytes)) {
    small(readDdsFacts(bytes));
    return readDdsLevel(bytes, 0);
  }
  if (pictureFile.begins(bytes)) return decodePicture(bytes, DECAL_SIDE);
  let facts;
  try {
    facts = readTgaFacts(bytes);
  } catch {
    return decodePicture(bytes, DECAL_SIDE);
  }
  small(facts);
  return readTga(bytes);
}

/** Reads an uploaded decal: SVG stays a drawing; PNG, JPEG, WebP, DDS and TGA become stored pixels (sRGB, upright). @throws InputError */
export async function importDecal(task: { bytes: Uint8Array }): Promise<ImportedDecal> {
  const { bytes } = task;
  const head = new TextDecoder().decode(bytes.subarray(0, 512)).trimStart();
  if (head.startsWith('<')) {
    await svgReady();
    const { text, ratio, colours } = readSvg(new TextDecoder().decode(bytes));
    const began = performance.now();
    drawSvg(text, TRIED_AT);
    const seconds = (performance.now() - began) / 1000;
    if (seconds > MOST_DRAWING)
      throw new InputError(
        `This drawing takes ${seconds.toFixed(1)} s to draw at ${TRIED_AT} pixels; make it simpler.`,
      );
    return { source: 'svg', bytes: new TextEncoder().encode(text), ratio, colours: colours.slice(0, 24) };
  }
  const image = await anyPicture(bytes);
  return { source: 'pixels', bytes: packPixels(image), ratio: image.width / image.height, colours: [] };
}

/** A picture to look at as stored pixels. @throws InputError in one sentence */
export async function importPicture(task: { bytes: Uint8Array }) {
  const image = await anyPicture(task.bytes);
  return { bytes: packPixels(image), width: image.width, height: image.height };
}

/** What stored bytes are, and the decal that they would be, without its bytes. */
export interface BlobLook {
  facts: BlobFacts;
  decal: Omit<ImportedDecal, 'bytes'> | null;
}

/** What bytes are, by reading them whole: what a livery names must be what it says. */
export async function lookAtBlob({ bytes }: { bytes: Uint8Array }): Promise<BlobLook> {
  const as = async (read: () => BlobLook | Promise<BlobLook>): Promise<BlobLook | null> => {
    try {
      return await read();
    } catch (error) {
      if (error instanceof InputError) return null;
      throw error;
    }
  };
  return (
    (await as(() => {
      const { width, height } = unpackPixels(bytes);
      return {
        facts: { is: 'pixels', width, height },
        decal: { source: 'pixels', ratio: width / height, colours: [] },
      };
    })) ??
    (await as(() => {
      const { channels, patches } = unpackStroke(bytes, tilesDeclared(bytes));
      return { facts: { is: 'stroke', channels, tiles: patches.length }, decal: null };
    })) ??
    (bytes[0] === 0x3c
      ? await as(async () => {
          const { source, ratio, colours } = await importDecal({ bytes });
          return { facts: { is: 'svg', ratio }, decal: { source, ratio, colours } };
        })
      : await as(() => {
          readFont(bytes);
          return { facts: { is: 'font' }, decal: null };
        })) ?? { facts: { is: 'other' }, decal: null }
  );
}

/** Draws a few texels: whether a thread can. */
export async function draws(_task: object): Promise<true> {
  await svgReady();
  drawSvg('<svg xmlns="http://www.w3.org/2000/svg" width="8" height="8"><path d="M0 0h8v8z"/></svg>', 8);
  return true;
}

/** The islands of a template's sheets: where, how dense, under which colour and number; and what to know of them. */
export function layout({ template, notes }: { template: Template; notes: boolean }): TemplateLayout {
  return layoutOf(template, notes);
}

/** A stored decal as PNG, its longer side at most `side`. */
export async function decalThumb(task: { bytes: Uint8Array; side: number }): Promise<Uint8Array> {
  await svgReady();
  const image =
    task.bytes[0] === 0x3c ? drawSvg(new TextDecoder().decode(task.bytes), task.side) : unpackPixels(task.bytes);
  const { width, height, data } = image;
  const small = sharp(data, { raw: { width, height, channels: 4 } }).resize(task.side, task.side, {
    fit: 'inside',
    withoutEnlargement: true,
  });
  return new Uint8Array(await small.png().toBuffer());
}
