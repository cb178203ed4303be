/** The files of a delivery: from a livery and its plan to bytes, on any number of threads. */
import { heldIn } from '@wet-lacquer/core/held.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { signaturesOf } from '@wet-lacquer/core/delivery/checklist.ts';
import { cellsChanged } from '@wet-lacquer/core/delivery/atlas.ts';
import {
  followsWhole,
  written,
  type DeliveryPlan,
  type PlannedFile,
  type PlannedSheet,
} from '@wet-lacquer/core/delivery/plan.ts';
import { bleedClear, encodingOf, mipOptions, packChannels, spaceOf } from '@wet-lacquer/core/delivery/preparedSheet.ts';
import type { Target } from '@wet-lacquer/core/delivery/target.ts';
import { carriesAlpha, packedMaps, type DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import { pieceOf } from '@wet-lacquer/core/plates/picture.ts';
import { flipRows, type Image8 } from '@wet-lacquer/core/raster/image.ts';
import { boxesOf } from '@wet-lacquer/core/livery/boxes.ts';
import { mapsOf, originalKey, type OriginalFile } from '@wet-lacquer/core/livery/template.ts';
import { placeBlocks } from '@wet-lacquer/core/texture/over/overDds.ts';
import { FORMATS, type FormatKey } from '@wet-lacquer/core/texture/formats/index.ts';
import { writeDds } from '@wet-lacquer/core/texture/dds.ts';
import { writeTga } from '@wet-lacquer/core/texture/tga.ts';
import { hashOf } from './hash.ts';
import { asItCame } from './threads/asItCame.ts';
import type { HeldFile } from './threads/over.ts';
import type { Pool } from './threads/pool.ts';
import type { Scene } from './threads/scene.ts';
import { sharedBytes, sharedCopy } from './threads/shared.ts';

export type Step = (what: string) => Promise<void>;

/** The mip levels of sheets whose levels are files of their own, so that they are painted once. */
type LevelsHeld = Map<string, Promise<Image8[]>>;

/** Bytes of the files that a template keeps, by their SHA-256. */
export type KeptFiles = (hash: string) => Promise<Uint8Array>;

/** What all files of a delivery are made with. */
export interface Workshop {
  pool: Pool;
  scene: Scene;
  spec: DeliverySpec;
  step: Step;
  signal?: AbortSignal;
  files: KeptFiles;
  held: LevelsHeld;
}

/** The bytes of one sheet's file; the same for the same livery, spec and base, on any number of threads. */
export async function encodePlanned(shop: Workshop, file: PlannedSheet, base?: Uint8Array): Promise<Uint8Array> {
  const { pool, scene, spec, step, signal, held } = shop;
  const { master, sheet, spec: rule, mirror, level, zones } = file;
  if (file.original) return encodeOver(shop, file, file.original);
  await step(`${file.name}: painting`);
  const role = alphaOf(file);
  const prepare = async (picture: Image8) => {
    const size = { width: (level ?? sheet).width, height: (level ?? sheet).height };
    const task = { scene, file: { master, mirror, zones }, flat: picture, spec: rule, ground: spec.ground, size };
    const image = await pool.run('prepare', task, signal);
    return pool.resample(image, size, spaceOf(rule), signal);
  };
  const whole = async () => {
    const all = await flatOf(pool, scene, file, signal);
    const flat = file.plate ? pieceOf(all, file.plate) : all;
    await step(`${file.name}: filtering mip levels`);
    return prepare(flat);
  };
  if (rule.inPlace) {
    if (!base || !master.cells)
      throw new InputError(
        `${file.name}: there is no atlas to put it into: neither in the game’s folder nor among the template’s own files, or the sheet has no cells.`,
      );
    const image = await whole();
    const before = await pool.flatten(asItCame(scene, master.key), master.key, rule.map, master, signal);
    const changed = cellsChanged(await prepare(before), image, master.cells);
    await step(`${file.name}: ${changed.length} of ${master.cells.columns * master.cells.rows} cells`);
    const encoding = encodingOf(rule, role, 'normal');
    const task = { base, image, changed, cells: master.cells, file: rule, mips: mipOptions(rule, role), encoding };
    return pool.run('cells', task, signal);
  }
  if (!level) return fileOf(shop, file, await whole());
  const key = JSON.stringify([master.key, file.pattern, file.follower]);
  const making = held.get(key) ?? whole().then((largest) => pool.mips(largest, mipOptions(rule, role), signal));
  held.set(key, making);
  return fileOf(shop, file, (await making)[level.at]);
}

const alphaOf = ({ master, spec }: PlannedSheet) => mapsOf(master).find((map) => map.key === spec.map)?.alpha ?? 'none';

/** A picture as a file of its kind; a DDS with its levels, unless each of them is a file. */
async function fileOf(shop: Workshop, file: PlannedSheet, image: Image8): Promise<Uint8Array> {
  const { pool, step, signal } = shop;
  const { spec: rule, sheet } = file;
  const { way = {} } = rule;
  switch (rule.container) {
    case 'png':
      return pool.run('filePng', { image, space: spaceOf(rule) }, signal);
    case 'jpg':
      return pool.run('fileJpeg', { image, space: spaceOf(rule), ...way }, signal);
    case 'webp':
      return pool.run('fileWebp', { image, quality: way.quality ?? null }, signal);
    case 'tga':
      return writeTga(image, {
        alpha: carriesAlpha(rule),
        rle: way.runs ?? true,
        ...(way.bottomUp && { bottomUp: true }),
      });
    case 'dds': {
      const role = alphaOf(file);
      const encoding = encodingOf(rule, role, 'normal');
      const levels = file.level ? [image] : await pool.mips(image, mipOptions(rule, role), signal);
      if (file.master.plates) for (const level of levels) bleedClear(level, rule);
      const encoded: Uint8Array[] = [];
      for (const [i, level] of levels.entries()) {
        await step(`${file.name}: ${FORMATS[rule.format].name}, mip level ${i} of ${levels.length}`);
        encoded.push(await pool.encode(level, rule.format, encoding, signal));
      }
      const { width, height } = sheet;
      return writeDds({ width, height, format: rule.format, header: rule.header, colourSpace: spaceOf(rule) }, encoded);
    }
  }
}

/** A file over the game's own: what nobody painted is that file's, its bytes where the two are alike. */
async function encodeOver(shop: Workshop, file: PlannedSheet, original: OriginalFile): Promise<Uint8Array> {
  const { pool, scene, spec, step, signal, files, held } = shop;
  const { master, sheet, spec: rule, mirror, level, light } = file;
  await step(`${file.name}: painting`);
  const bytes = sharedCopy(await files(original.blob));
  const size = level ?? { width: sheet.width, height: sheet.height };
  const whole = followsWhole(rule, original, size);
  const painted = async () => {
    const its = scene.template.originals?.[originalKey(master.key, rule.map)];
    const own =
      file.follower !== null || original.stored.width !== master.width || original.stored.height !== master.height;
    if (!its?.pixels) {
      // Its sheet came without a file: all of it is painted.
      const image = await pool.flatten(scene, master.key, rule.map, master, signal);
      const data = sharedBytes(image.width * image.height).fill(1);
      return { over: { image, changed: { width: image.width, height: image.height, data } }, own, before: null };
    }
    const masterBytes = its === original ? bytes : sharedCopy(await files(its.blob));
    const masterFile = { original: its, bytes: masterBytes };
    // Only what was painted is looked at when a file is put together from its blocks or texels.
    const sparse = whole && rule.container !== 'jpg' && rule.container !== 'webp' && !own;
    const over = await pool.over(scene, master.key, rule.map, master, masterFile, sparse, signal);
    const before = light === null ? null : await pool.run('originalTexels', masterFile, signal);
    return { over, own, before };
  };
  const make = async () => {
    const { over, own, before } = await painted();
    await step(`${file.name}: over the original`);
    if (!over.changed.data.includes(1)) return null;
    return pool.run(
      'finishOver',
      {
        scene: rule.padding > 0 ? scene : null,
        over,
        spec: rule,
        sheet: master.key,
        mirror,
        size,
        ground: spec.ground,
        boxes: boxesOf(scene.livery, scene.template, master.key),
        own: own ? { original, bytes } : null,
        lit: before && light !== null ? { before, strength: light } : null,
      },
      signal,
    );
  };
  if (level) {
    const key = JSON.stringify([master.key, file.pattern, file.follower]);
    const all = async () => {
      const largest = (await make())?.image ?? (await turnedOriginal(pool, rule, { original, bytes }, size, signal));
      return pool.mips(largest, mipOptions(rule, alphaOf(file)), signal);
    };
    const making = held.get(key) ?? all();
    held.set(key, making);
    return fileOf(shop, file, (await making)[level.at]);
  }
  const over = await make();
  if (!over && whole) return bytes.slice();
  if (!over) return fileOf(shop, file, await turnedOriginal(pool, rule, { original, bytes }, size, signal));
  if (!whole) return fileOf(shop, file, over.image);
  if (rule.container === 'dds') {
    const mips = mipOptions(rule, alphaOf(file));
    const found = await pool.run('overDds', { bytes, over, mips }, signal);
    const { kept, of } = found.blocks;
    await step(`${file.name}: ${of - kept} of ${of} blocks`);
    if (!found.strip) return found.bytes;
    const encoding = encodingOf(rule, alphaOf(file), 'normal');
    return placeBlocks(found, await pool.encode(found.strip, found.format as FormatKey, encoding, signal));
  }
  if (rule.container === 'jpg' && (original.stored.progressive || original.stored.colours === 'four'))
    return fileOf(shop, file, over.image);
  return (await pool.run('overPicture', { container: rule.container, bytes, over }, signal)).bytes;
}

/** An original as its file would be at another size or the other way up. */
async function turnedOriginal(
  pool: Pool,
  rule: PlannedSheet['spec'],
  file: HeldFile,
  size: { width: number; height: number },
  signal?: AbortSignal,
): Promise<Image8> {
  const upright = await pool.run('originalTexels', file, signal);
  return pool.resample(rule.flip ? flipRows(upright) : upright, size, spaceOf(rule), signal);
}

/** What is painted of a file: one map of its sheet, or channels from several. */
async function flatOf(pool: Pool, scene: Scene, { master, spec }: PlannedSheet, signal?: AbortSignal): Promise<Image8> {
  const { packed } = spec;
  if (!packed) return pool.flatten(scene, master.key, spec.map, master, signal);
  const maps = new Map<string, Image8>();
  for (const key of packedMaps(packed)) maps.set(key, await pool.flatten(scene, master.key, key, master, signal));
  return packChannels(packed, maps, { width: master.width, height: master.height });
}

/** How many steps encodePlanned takes. */
export const stepsOf = (file: PlannedSheet): number =>
  file.spec.inPlace || file.original ? 3 : file.spec.container === 'dds' ? 2 + file.mips : 2;

/** What a file is, in a few words. */
export function describe(file: PlannedFile): string {
  if (file.kind === 'sidecar') return 'sidecar';
  if (file.kind === 'companion') return 'as it came';
  if (file.kind === 'thumbnail')
    return `${file.rule.container.toUpperCase()}, ${file.rule.width} x ${file.rule.height}`;
  if (file.spec.container !== 'dds' && file.original && followsWhole(file.spec, file.original, file.sheet))
    return `${file.spec.container.toUpperCase()}, over the original`;
  if (file.spec.container !== 'dds')
    return file.spec.container.toUpperCase() + (file.level ? `, mip level ${file.level.at}` : '');
  if (file.original && followsWhole(file.spec, file.original, file.sheet)) {
    const { format, mips = 1 } = file.original.stored;
    const name = format in FORMATS ? FORMATS[format as FormatKey].name : 'uncompressed';
    return `${name}, ${mips} ${mips === 1 ? 'level' : 'levels'}, over the original`;
  }
  const space = file.spec.colourSpace === 'srgb' ? 'sRGB' : file.spec.colourSpace;
  if (file.spec.inPlace) return `${FORMATS[file.spec.format].name}, painted cells`;
  const levels = file.level ? `mip level ${file.level.at}` : `${file.mips} mips`;
  return `${FORMATS[file.spec.format].name} ${space}, ${levels}`;
}

/** The delivery as one zip, in a thread. */
export const zipOf = (pool: Pool, folder: string, files: readonly { name: string; content: Uint8Array }[]) =>
  pool.run('zipFiles', { files: files.map(({ name, content }) => ({ name: folder + name, content })) });

/** A file of a delivery with its bytes. */
export interface MadeFile {
  name: string;
  content: Uint8Array;
  bytes: number;
  what: string;
  /** What the file depends on; see planDelivery. */
  signature: string;
  /** SHA-256 of the file that it continues or was changed in; null: there was none. Left out: it is a file of its own. */
  base?: string | null;
}

/** Every file of a delivery with its bytes. @param known what was encoded before, by signature */
export async function makeFiles(
  pool: Pool,
  scene: Scene,
  spec: DeliverySpec,
  plan: DeliveryPlan,
  target: Target,
  step: Step,
  signal?: AbortSignal,
  known: (signature: string) => Promise<Uint8Array | null> = async () => null,
  files: KeptFiles = noFiles,
): Promise<MadeFile[]> {
  const signatures = await signaturesOf(plan);
  const shop: Workshop = { pool, scene, spec, step, signal, files, held: new Map() };
  const makeOne = async (file: PlannedFile): Promise<MadeFile> => {
    const base = target.bases.get(plan.folder + file.name);
    const made = (content: Uint8Array, signature: string, based = false): MadeFile => ({
      name: file.name,
      content,
      bytes: content.length,
      what: describe(file),
      signature,
      ...(based && { base: base?.hash ?? null }),
    });
    if (file.kind === 'sidecar') {
      if (file.problems.length > 0) throw new InputError(file.problems[0]);
      return made(file.bytes, hashOf(file.text), file.continues);
    }
    if (file.kind === 'companion') return made(await files(file.file.blob), hashOf(file.signature));
    const signature = heldIn(signatures, file.name);
    const inPlace = file.kind === 'sheet' && !!file.spec.inPlace;
    const held = inPlace ? null : await known(signature);
    if (held) return made(held, signature);
    if (file.kind === 'sheet') {
      // The atlas as it lies in the game's folder, else as it came with the template.
      const came = inPlace && !base ? scene.template.originals?.[originalKey(file.master.key, file.spec.map)] : null;
      const bytes = base?.bytes ?? (came ? await files(came.blob) : undefined);
      return made(await encodePlanned(shop, file, bytes), signature, inPlace);
    }
    await step(`${file.name}: drawing the model`);
    return made(await pool.run('thumbnail', { scene, rule: file.rule }, signal), signature);
  };
  const wanted = written(plan);
  const all = new Array<MadeFile>(wanted.length);
  let next = 0;
  // Some stages of a file run on one thread: with more, two files are in work at once.
  const work = async () => {
    while (next < wanted.length) {
      const at = next++;
      try {
        all[at] = await makeOne(wanted[at]);
      } catch (error) {
        next = wanted.length;
        throw error;
      }
    }
  };
  await Promise.all(Array.from({ length: Math.min(2, pool.threads) }, work));
  return all;
}

/** Nothing is kept here: a template without files of the game's own asks for none. */
const noFiles: KeptFiles = (hash) =>
  Promise.reject(new InputError(`A file of the original is not here (${hash.slice(0, 12)}).`));
