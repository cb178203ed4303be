/** A sheet whose blocks go into the game's own file, as the proof looks at it: what changes, level by level, and what keeps its bytes. */
import { isUntouched, finishPainted, putOverRegion, turnedChanged, type OverPlace } from '../overOriginal.ts';
import { followsWhole } from '../plan.ts';
import type { Sources } from '../../compose/renderTile.ts';
import type { Region } from '../../layers/kind.ts';
import type { Sha256 } from '../../livery/ids.ts';
import type { SpecFile } from '../../livery/spec.ts';
import type { OriginalFile, ParameterBox } from '../../livery/template.ts';
import { flipRows, wordsOf, type Image8 } from '../../raster/image.ts';
import type { SheetSurface } from '../../surface/surface.ts';
import type { LevelOver } from '../../texture/over/overDds.ts';

/** What a delivery puts blocks into: a DDS file of the sheet's size and the rule's format that came with the template. */
export interface ProofBase {
  original: OriginalFile;
  /** Its texels as the template stores them. */
  pixels: Sha256;
}

/** @returns null when all of the sheet's file is encoded anew, or its colour is stored times alpha */
export function proofBase(
  rule: SpecFile,
  original: OriginalFile | null | undefined,
  { width, height }: { width: number; height: number },
): ProofBase | null {
  if (!original?.pixels || !followsWhole(rule, original, { width, height })) return null;
  const { container, format, premultiplied } = original.stored;
  if (container !== 'dds' || format !== rule.format || premultiplied) return null;
  return { original, pixels: original.pixels };
}

/** Draws a region of the sheet over the original's texels. @param flat,changed of the whole sheet; the region's are set */
export function drawOver(
  place: OverPlace,
  region: Region,
  sources: Sources,
  original: Image8,
  { image: flat, changed }: LevelOver,
): void {
  const { width } = place.size;
  const own = wordsOf(original.data);
  const into = wordsOf(flat.data);
  for (let y = region.y; y < region.y + region.height; y++) {
    const [first, last] = [y * width + region.x, y * width + region.x + region.width];
    changed.data.fill(0, first, last);
    into.set(own.subarray(first, last), first);
  }
  if (isUntouched(place, region, sources)) return;
  const rows = original.data.subarray(region.y * width * 4, (region.y + region.height) * width * 4);
  const data = { width, height: region.height, data: rows };
  putOverRegion(place, region, sources, data, flat.data, changed.data);
}

/** Level 0 as the file holds it. @param drawn of the whole sheet, upright; left as it is */
export function finishOverSheet(
  drawn: LevelOver,
  rule: SpecFile,
  surface: SheetSurface | null,
  ground: string,
  boxes: readonly ParameterBox[],
): LevelOver {
  const image = { ...drawn.image, data: drawn.image.data.slice() };
  const changed = { ...drawn.changed, data: drawn.changed.data.slice() };
  finishPainted(image, changed, rule, surface, ground, boxes);
  return { image: rule.flip ? flipRows(image) : image, changed: turnedChanged(changed, rule.flip, 'none') };
}
