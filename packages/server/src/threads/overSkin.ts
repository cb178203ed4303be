/** A finished skin put on a template whose sheets it fits: a template of its own, with the skin's files as its originals. */
import { InputError } from '@wet-lacquer/core/errors.ts';
import { packPixels } from '@wet-lacquer/core/files/pixels.ts';
import { AS_ORIGINAL, ruleLike } from '@wet-lacquer/core/intake/ruleLike.ts';
import { wordsOf } from '@wet-lacquer/core/intake/words.ts';
import { originalLayer } from '@wet-lacquer/core/livery/originalLayer.ts';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { DeliverySpec, fileFor, type SpecFile } from '@wet-lacquer/core/livery/spec.ts';
import { OriginalFile, originalKey, Template, type TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { stemOf } from '@wet-lacquer/core/paths.ts';
import { hashOf } from '../store/blobs.ts';
import { fileKind } from './fileKind.ts';
import { texture } from './texture.ts';

export interface SkinOver {
  document: Template;
  /** Stored pixels of the originals' layers, and the skin's files, by hash. */
  blobs: Map<string, Uint8Array>;
  files: Map<string, Uint8Array>;
  remarks: string[];
}

/**
 * Files go on the sheets of their size whose words they share; the only one of its size goes there without.
 * @throws InputError when a file fits no sheet
 */
export async function overSkin(task: {
  template: Template;
  skin: readonly { name: string; bytes: Uint8Array }[];
}): Promise<SkinOver> {
  const { template, skin } = task;
  const out: SkinOver = { document: template, blobs: new Map(), files: new Map(), remarks: [] };
  const begin: Record<string, Layer[]> = { ...template.begin };
  const originals = { ...template.originals };
  const rules: SpecFile[] = [];
  const taken = new Set<string>();
  for (const { name, bytes } of skin) {
    const kind = fileKind(bytes, name);
    if (kind !== 'dds' && kind !== 'tga' && kind !== 'picture')
      throw new InputError(`${name} is not a finished texture; DDS, TGA, PNG, JPEG and WebP are.`);
    const { image, facts } = await texture(bytes, kind);
    const sheet = sheetFor(template, name, image, taken);
    taken.add(sheet.key);
    const stored = packPixels(image);
    const pixels = hashOf(stored);
    out.blobs.set(pixels, stored);
    const blob = hashOf(bytes);
    out.files.set(blob, bytes);
    originals[originalKey(sheet.key)] = OriginalFile.parse({
      name,
      blob,
      bytes: bytes.length,
      pixels,
      upsideDown: false,
      stored: facts.stored,
    });
    // The skin lies above the template's own paint; what that is stays at hand below it.
    begin[sheet.key] = [
      ...(begin[sheet.key] ?? []).map((layer) => ({ ...layer, hidden: true })),
      originalLayer(pixels, image),
    ];
    const asked = template.ownSpec && fileFor(template.ownSpec, sheet.key);
    rules.push({ ...ruleLike(sheet.key, name, facts, out.remarks), ...(asked && { name: asked.name }) });
  }
  const spec = DeliverySpec.parse({
    ...(template.ownSpec ?? { ...AS_ORIGINAL, game: template.game, gameName: template.gameName }),
    key: `over-${template.key}`.slice(0, 60),
    version: 1,
    files: rules,
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

function sheetFor(
  { sheets }: Template,
  name: string,
  { width, height }: { width: number; height: number },
  taken: ReadonlySet<string>,
): TemplateSheet {
  const free = sheets.filter((sheet) => !taken.has(sheet.key));
  const fits = free.filter((sheet) => sheet.width === width && sheet.height === height);
  const words = new Set(wordsOf(stemOf(name)));
  const named = fits.filter((sheet) => [...wordsOf(sheet.key), ...wordsOf(sheet.name)].some((word) => words.has(word)));
  if (named.length === 1) return named[0];
  if (fits.length === 1) return fits[0];
  const sizes = sheets.map((sheet) => `${sheet.key} ${sheet.width} x ${sheet.height}`).join(', ');
  throw new InputError(
    fits.length === 0
      ? `${name} is ${width} x ${height}; the sheets are ${sizes}.`
      : `${name} fits several sheets (${fits.map(({ key }) => key).join(', ')}): put the sheet’s key into its name.`,
  );
}
