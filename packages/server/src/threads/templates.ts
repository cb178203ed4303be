/** What is made of templates as a whole; runs in threads. */
import { InputError } from '@wet-lacquer/core/errors.ts';
import { readTemplatePackage, writeTemplatePackage } from '@wet-lacquer/core/files/templatePackage.ts';
import { packPixels, unpackPixels } from '@wet-lacquer/core/files/pixels.ts';
import type { Template, TemplateGuide } from '@wet-lacquer/core/livery/template.ts';
import { rgbOfHex } from '@wet-lacquer/core/colour/hex.ts';
import { newImage } from '@wet-lacquer/core/raster/image.ts';
import { islandsOf } from '@wet-lacquer/core/surface/islands.ts';
import { sheetCover } from '@wet-lacquer/core/surface/layout.ts';
import { reviseTemplate, type TemplateChange } from '@wet-lacquer/core/surface/reviseTemplate.ts';
import { nearestInside } from '@wet-lacquer/core/surface/surface.ts';
import { layoutOf, type TemplateLayout } from '@wet-lacquer/core/surface/templateLayout.ts';
import { traceOutline } from '@wet-lacquer/core/surface/traceOutline.ts';
import { decodePicture, png } from './pictures.ts';

const MOST = 16384;

export function revise(task: { template: Template; hash: string; changes: TemplateChange[] }): Template {
  return reviseTemplate(task.template, task.hash, task.changes);
}

/** @throws InputError when the guide has no shape */
export function outlineOfGuide(task: {
  template: Template;
  hash: string;
  guide: TemplateGuide;
  bytes: Uint8Array;
  role: 'frame' | 'collider';
}): Template {
  const { template, guide, role } = task;
  const rings = traceOutline(unpackPixels(task.bytes), guide.left, guide.top).slice(0, 500);
  const key = `${guide.key}-${role}`.slice(0, 60);
  const others = (template.outlines ?? []).filter((outline) => outline.key !== key);
  const outline = { key, name: guide.name.trim().slice(0, 60) || 'Outline', sheet: guide.sheet, role, rings };
  return reviseTemplate(template, task.hash, [{ do: 'set-outlines', outlines: [...others, outline] }]);
}

export const packTemplate = (task: { template: Template; blobs: Map<string, Uint8Array> }): Promise<Uint8Array> =>
  writeTemplatePackage(task.template, task.blobs, (image) => png(image));

export const openTemplate = (task: { bytes: Uint8Array }): ReturnType<typeof readTemplatePackage> =>
  readTemplatePackage(task.bytes, (bytes) => decodePicture(bytes, MOST));

/** Every sheet's islands in their locator colours as stored pictures, opaque, at the sheet's size; and the layout. */
export function locatorPictures({ template }: { template: Template }): {
  layout: TemplateLayout;
  pictures: { sheet: string; bytes: Uint8Array; width: number; height: number }[];
} {
  const layout = layoutOf(template);
  const islands = islandsOf(template);
  if (islands.length === 0) throw new InputError('This subject has no islands to number.');
  const colours = new Map(layout.islands.map((island) => [island.number, rgbOfHex(island.colour)]));
  const pictures = template.sheets.map((sheet) => {
    const cover = sheetCover(template, islands, sheet.key, Math.max(sheet.width, sheet.height));
    const { width, height } = cover;
    const image = newImage(width, height);
    // Gutters take the colour of the island beside them, so that filtering finds no other.
    const nearest = nearestInside(
      Uint8Array.from(cover.island, (n) => (n > 0 ? 1 : 0)),
      width,
      height,
    );
    for (let i = 0; i < width * height; i++) {
      const number = nearest[i] < 0 ? 0 : cover.island[nearest[i]];
      image.data.set([...(colours.get(number) ?? [128, 128, 128]), 255], i * 4);
    }
    return { sheet: sheet.key, bytes: packPixels(image), width, height };
  });
  return { layout, pictures };
}
