import { kindOf } from '../layers/index.ts';
import type { Box, LayerEnv, Region } from '../layers/kind.ts';
import { stampBoxes } from '../livery/boxes.ts';
import type { Layer } from '../livery/layer.ts';
import { colourOf, layersOf, type Livery } from '../livery/livery.ts';
import type { ParameterBox } from '../livery/template.ts';
import { mul16 } from '../raster/mul16.ts';
import { toStraight8 } from '../raster/tile16.ts';
import type { SheetSurface } from '../surface/surface.ts';
import { blendOver } from './blend.ts';

/** Everything outside the document that drawing needs, decoded beforehand. */
export interface Sources extends Pick<LayerEnv, 'picture' | 'image' | 'font'> {
  surface(sheet: string): SheetSurface;
  /** Box of some parts with their gutter; see boxOfParts. */
  partsBox(sheet: string, parts: readonly string[]): Box;
  /** Parameter boxes of a sheet's colour map, with the livery's colours. */
  boxes(sheet: string): readonly ParameterBox[];
}

export function envOf(livery: Livery, sources: Sources): LayerEnv {
  return {
    colour: (paint) => colourOf(livery, paint),
    particulars: livery.particulars,
    picture: sources.picture,
    image: sources.image,
    font: sources.font,
  };
}

/** Whether a layer can touch any texel of a region. */
export function touches(layer: Layer, sheet: string, region: Region, env: LayerEnv, sources: Sources): boolean {
  if (layer.hidden || layer.opacity === 0) return false;
  const kind = kindOf(layer);
  if (!overlaps(kind.bounds(layer, env), region) || kind.reaches?.(layer, region) === false) return false;
  return layer.parts.length === 0 || overlaps(sources.partsBox(sheet, layer.parts), region);
}

function overlaps(box: Box | null, region: Region): boolean {
  return (
    !box ||
    (box.left < region.x + region.width * region.step &&
      box.right > region.x &&
      box.top < region.y + region.height * region.step &&
      box.bottom > region.y)
  );
}

/** One layer alone with its opacity and parts, before blending: 16-bit premultiplied RGBA of the region. */
export function drawLayer(layer: Layer, region: Region, env: LayerEnv, surface: () => SheetSurface): Uint16Array {
  const out = new Uint16Array(region.width * region.height * 4);
  kindOf(layer).draw(layer, region, env, out);
  if (layer.parts.length > 0) keepToParts(out, region, layer.parts, surface());
  if (layer.opacity < 100) {
    const share = Math.round(layer.opacity * 655.35);
    for (let i = 0; i < out.length; i++) out[i] = mul16(out[i], share);
  }
  return out;
}

function keepToParts(out: Uint16Array, region: Region, parts: readonly string[], surface: SheetSurface): void {
  const kept = new Uint8Array(surface.parts.length + 1);
  surface.parts.forEach((part, i) => (kept[i + 1] = parts.includes(part.key) ? 1 : 0));
  const half = region.step >> 1;
  for (let y = 0, i = 0; y < region.height; y++) {
    const row = Math.min(surface.height - 1, region.y + y * region.step + half) * surface.width;
    for (let x = 0; x < region.width; x++, i += 4) {
      if (kept[surface.owner[row + Math.min(surface.width - 1, region.x + x * region.step + half)]]) continue;
      out[i] = out[i + 1] = out[i + 2] = out[i + 3] = 0;
    }
  }
}

/**
 * The composite of one map of one sheet over a region.
 * @returns 16-bit premultiplied RGBA, `region.width * region.height * 4` values; round it with toStraight8
 */
export function renderRegion(
  livery: Livery,
  sheet: string,
  map: string,
  region: Region,
  sources: Sources,
): Uint16Array {
  const env = envOf(livery, sources);
  const out = new Uint16Array(region.width * region.height * 4);
  for (const layer of layersOf(livery, sheet, map)) {
    if (!touches(layer, sheet, region, env, sources)) continue;
    blendOver(
      out,
      drawLayer(layer, region, env, () => sources.surface(sheet)),
      layer.blend,
    );
  }
  return out;
}

/**
 * The texels of a region as they are shown and delivered: straight RGBA8, rounded once, with the sheet's parameter boxes in their pixels.
 * @param picture what renderRegion or the tile cache gave for it
 */
export function finished(
  picture: Uint16Array,
  sheet: string,
  map: string,
  region: Region,
  sources: Sources,
): Uint8Array {
  const out = toStraight8(picture, region.width, region.height, region.x, region.y);
  if (map === 'colour') stampBoxes(out, region, sources.boxes(sheet));
  return out;
}

/** The topmost layer that shows at a texel: alpha of at least a twentieth. */
export function layerAt(
  livery: Livery,
  sheet: string,
  map: string,
  x: number,
  y: number,
  sources: Sources,
): Layer | null {
  const env = envOf(livery, sources);
  const region: Region = { x: Math.floor(x), y: Math.floor(y), width: 1, height: 1, step: 1 };
  const found = layersOf(livery, sheet, map).findLast(
    (layer) =>
      touches(layer, sheet, region, env, sources) &&
      drawLayer(layer, region, env, () => sources.surface(sheet))[3] > 3276,
  );
  return found ?? null;
}
