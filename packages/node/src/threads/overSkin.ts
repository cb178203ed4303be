/** A finished skin put on a template whose sheets it fits: a template of its own, with the skin's files as its originals. */
import { InputError } from '@wet-lacquer/core/errors.ts';
import { packPixels } from '@wet-lacquer/core/files/pixels.ts';
import { AS_ORIGINAL, ruleLike } from '@wet-lacquer/core/intake/ruleLike.ts';
import { matchSkin, type SkinPicture } from '@wet-lacquer/core/intake/matchSkin.ts';
import type { TextureFacts } from '@wet-lacquer/core/intake/understood.ts';
import { compositeLayered } from '@wet-lacquer/core/layered/composite.ts';
import { shadingOnTop } from '@wet-lacquer/core/livery/shading.ts';
import { originalLayer } from '@wet-lacquer/core/livery/originalLayer.ts';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { DeliverySpec, fileFor, type SpecFile } from '@wet-lacquer/core/livery/spec.ts';
import { OriginalFile, originalKey, Template, type TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { flipRows, type Image8 } from '@wet-lacquer/core/raster/image.ts';
import { islandsOf } from '@wet-lacquer/core/surface/islands.ts';
import { coverOf } from '@wet-lacquer/core/surface/wayUp.ts';
import { canBe, fileKind, namesOf } from '@wet-lacquer/core/kinds/index.ts';
import { hashOf } from '../hash.ts';
import { texture } from '../textures/index.ts';
import { readLayered } from './understand.ts';

export interface SkinOver {
  document: Template;
  /** Stored pixels of the originals' layers, and the skin's files, by hash. */
  blobs: Map<string, Uint8Array>;
  files: Map<string, Uint8Array>;
  remarks: string[];
}

/** A file of a skin. */
export interface SkinFile {
  name: string;
  bytes: Uint8Array;
  /** The sheet that it goes on; left out: the likeliest. */
  sheet?: string;
  /** The game stores it bottom row first. */
  upsideDown?: boolean;
}

/**
 * Puts every file on its sheet, above the template's own paint and under its shading. A layered file is taken as it looks.
 * @throws InputError when a file fits no sheet
 */
export async function overSkin(task: { template: Template; skin: readonly SkinFile[] }): Promise<SkinOver> {
  const { template, skin } = task;
  const out: SkinOver = { document: template, blobs: new Map(), files: new Map(), remarks: [] };
  const begin: Record<string, Layer[]> = { ...template.begin };
  const originals = { ...template.originals };
  const rules: SpecFile[] = [];
  const read: (SkinPicture & { image: Image8; facts: TextureFacts | null; of: SkinFile })[] = [];
  for (const of of skin) {
    const { image, facts } = await pictureOf(of);
    const detail = facts?.detail;
    const { width, height } = image;
    read.push({ name: of.name, width, height, role: null, copy: false, ...(detail && { detail }), image, facts, of });
  }
  const free = read.filter(({ of }) => of.sheet === undefined);
  const matched = matchSkin(
    template.sheets.filter(({ key }) => !skin.some(({ sheet }) => sheet === key)),
    coversOf(template),
    free,
  );
  for (const { name, image, facts, of } of read) {
    const match = matched.find(({ file }) => file === name);
    const sheet = sheetFor(template, of, image, match?.sheet);
    const turned = of.upsideDown ?? match?.upsideDown ?? false;
    const upright = turned ? flipRows(image) : image;
    const stored = packPixels(upright);
    const pixels = hashOf(stored);
    out.blobs.set(pixels, stored);
    const layer = originalLayer(pixels, image);
    begin[sheet.key] = under(begin[sheet.key] ?? [], layer, sheet.name, out.remarks);
    if (!facts) continue;
    const blob = hashOf(of.bytes);
    out.files.set(blob, of.bytes);
    originals[originalKey(sheet.key)] = OriginalFile.parse({
      name,
      blob,
      bytes: of.bytes.length,
      pixels,
      upsideDown: turned,
      stored: facts.stored,
    });
    const asked = template.ownSpec && fileFor(template.ownSpec, sheet.key);
    const rule = ruleLike(sheet.key, name, facts, out.remarks);
    // The template's own name counts where it is that of a file of this kind; else what the skin's file is called.
    const named = template.originals?.[originalKey(sheet.key)] && asked?.container === rule.container;
    rules.push({ ...rule, flip: turned, ...(named && { name: asked.name }) });
  }
  // Files of other maps and sheets stay as the template has them.
  const kept = (template.ownSpec?.files ?? []).flatMap((rule) => {
    const replaced = rules.filter(({ map }) => map === rule.map).flatMap(({ sheets = [] }) => sheets);
    const sheets = (rule.sheets ?? template.sheets.map(({ key }) => key)).filter((key) => !replaced.includes(key));
    return replaced.length === 0 ? [rule] : sheets.length === 0 ? [] : [{ ...rule, sheets }];
  });
  if (rules.length === 0 && !template.ownSpec) {
    out.document = Template.parse({ ...template, begin });
    return out;
  }
  const spec = DeliverySpec.parse({
    ...(template.ownSpec ?? { ...AS_ORIGINAL, game: template.game, gameName: template.gameName }),
    key: `over-${template.key}`.slice(0, 60),
    version: 1,
    files: [...kept, ...rules],
  });
  out.document = Template.parse({
    ...template,
    begin,
    originals,
    ownSpec: spec,
    spec: { key: spec.key, version: 1 },
  });
  return out;
}

/** A finished texture as it is, or how a layered file looks. @throws InputError */
async function pictureOf({ name, bytes }: SkinFile): Promise<{ image: Image8; facts: TextureFacts | null }> {
  const kind = fileKind(bytes, name);
  if (canBe('layered', kind)) {
    const file = await readLayered(bytes, kind);
    return { image: file.merged ?? compositeLayered(file), facts: null };
  }
  if (!canBe('texture', kind))
    throw new InputError(
      `${name} is not a finished texture; ${namesOf('texture')} and layered files (${namesOf('layered')}) are.`,
    );
  return texture(bytes, kind);
}

/**
 * Layers of a sheet with the skin in them: what it begins with otherwise stays at hand, hidden, and its shading above the skin. That is
 * hidden too, for a finished skin has it in already.
 */
function under(layers: readonly Layer[], skin: Layer, sheet: string, remarks: string[]): Layer[] {
  const at = layers.length - shadingOnTop(layers);
  if (at < layers.length)
    remarks.push(
      `The shading of ${sheet} lies above the skin and is hidden: a finished skin mostly has it in it already.`,
    );
  return [...layers.slice(0, at), skin, ...layers.slice(at)].map((layer) =>
    layer === skin ? layer : { ...layer, hidden: true },
  );
}

/** For each sheet which cells its islands cover; see wayUp.ts. */
export function coversOf(template: Template): Record<string, boolean[]> {
  if (template.boards) return {};
  const islands = islandsOf(template);
  return Object.fromEntries(template.sheets.map(({ key }) => [key, coverOf(template, islands, key)]));
}

/** For the threads. */
export const sheetCovers = ({ template }: { template: Template }): Record<string, boolean[]> => coversOf(template);

function sheetFor(
  { sheets }: Template,
  { name, sheet: asked }: SkinFile,
  { width, height }: { width: number; height: number },
  found: string | undefined,
): TemplateSheet {
  const sheet = sheets.find(({ key }) => key === (asked ?? found));
  if (sheet && sheet.width === width && sheet.height === height) return sheet;
  const fits = sheets.filter((one) => one.width === width && one.height === height);
  const sizes = sheets.map((one) => `${one.key} ${one.width} x ${one.height}`).join(', ');
  throw new InputError(
    fits.length === 0 || asked !== undefined
      ? `${name} is ${width} x ${height}; the sheets are ${sizes}.`
      : `${name} fits several sheets (${fits.map(({ key }) => key).join(', ')}): put the sheet’s key into its name.`,
  );
}
