import type { Region } from '../layers/kind.ts';
import type { Layer } from '../livery/layer.ts';
import type { Mask } from '../livery/paint.ts';
import { gaussian, reachOf } from '../filters/gaussian.ts';
import { partReached, spreadPatches, tilesReach } from '../paint/drawStrokes.ts';
import { zeroedTile } from '../raster/arena.ts';
import { mul16 } from '../raster/mul16.ts';
import { onRectangle } from '../raster/rectangle.ts';
import { ONE } from '../raster/tile16.ts';
import { eachOfCorners } from '../surface/fields.ts';
import { turnOf } from '../raster/turn.ts';
import { expanded, keepsTo, type Scene } from './scene.ts';

/** Coverage of another layer over a region, 16 bits each; see renderTile.ts. */
export type CoverageOf = (layer: Layer, region: Region) => Uint16Array;

/**
 * What a mask lets through over a region: shares of 65535, one a sample. Lies in the arena.
 * @param coverageOf for masks that follow another layer
 */
export function maskShares(
  layer: Layer,
  mask: Mask,
  region: Region,
  scene: Scene,
  coverageOf: CoverageOf,
): Uint16Array {
  const by = mask.linked && 'x' in layer ? { x: layer.x - mask.linked.x, y: layer.y - mask.linked.y } : { x: 0, y: 0 };
  // Whole texels: a mask that moves along stays as sharp as it is.
  const at = { ...region, x: region.x - Math.round(by.x), y: region.y - Math.round(by.y) };
  if (mask.feather <= 0) return inverted(mask, painted(mask, at, scene, coverageOf));
  const margin = Math.ceil(reachOf(mask.feather) / region.step);
  const wide = expanded(at, margin);
  const soft = painted(mask, wide, scene, coverageOf).slice();
  gaussian(soft, wide.width, wide.height, 1, mask.feather / region.step);
  const out = zeroedTile(region.width * region.height);
  for (let y = 0; y < region.height; y++) {
    const from = (y + margin) * wide.width + margin;
    out.set(soft.subarray(from, from + region.width), y * region.width);
  }
  return inverted(mask, out);
}

function inverted(mask: Mask, shares: Uint16Array): Uint16Array {
  if (mask.inverted) for (let i = 0; i < shares.length; i++) shares[i] = ONE - shares[i];
  return shares;
}

function painted(mask: Mask, region: Region, scene: Scene, coverageOf: CoverageOf): Uint16Array {
  const shares = begun(mask.from, region, scene, coverageOf);
  for (const one of mask.strokes) {
    if (!tilesReach(one.tiles, region)) continue;
    const patches = scene.env.stroke(one);
    const reached = partReached(patches, one.tiles, region);
    // A mask has no colours: a stroke that brings some leaves it as it is.
    if (patches.channels !== 1 || !reached) continue;
    const share = Math.round(one.opacity * 655.35);
    onRectangle(shares, region.width, 1, reached, (part) => {
      const stroke = zeroedTile(part.length);
      spreadPatches(patches, one.tiles, reached, stroke);
      for (let i = 0; i < part.length; i++) {
        const by = mul16(stroke[i], share);
        if (by > 0) part[i] = one.how === 'erase' ? mul16(part[i], ONE - by) : part[i] + mul16(ONE - part[i], by);
      }
    });
  }
  return shares;
}

function begun(from: Mask['from'], region: Region, scene: Scene, coverageOf: CoverageOf): Uint16Array {
  const out = zeroedTile(region.width * region.height);
  switch (from.kind) {
    case 'all':
      return out.fill(ONE);
    case 'parts':
      keepsTo(from.parts, region, scene, (begin, end) => out.fill(ONE, begin, end));
      return out;
    case 'field': {
      const { surface, corners } = scene.sources.field(from.field, scene.sheet, region.step);
      const by = from.to === from.from ? 1e6 : 1 / (from.to - from.from);
      eachOfCorners(surface, region, corners, (i, value) => {
        const share = (value - from.from) * by;
        out[i] = share <= 0 ? 0 : share >= 1 ? ONE : (share * ONE + 0.5) | 0;
      });
      return out;
    }
    case 'coverage':
      spreadPatches(scene.env.stroke(from), from.tiles, region, out);
      return out;
    case 'layer': {
      const other = scene.layers.find((layer) => layer.id === from.layer);
      if (!other) return out.fill(ONE);
      out.set(coverageOf(other, region));
      return out;
    }
    case 'fade': {
      const { cos, sin } = turnOf(from.angle);
      for (let y = 0, i = 0; y < region.height; y++) {
        const py = region.y + (y + 0.5) * region.step - from.y;
        for (let x = 0; x < region.width; x++, i++) {
          const px = region.x + (x + 0.5) * region.step - from.x;
          const along = from.shape === 'linear' ? px * cos + py * sin : Math.sqrt(px * px + py * py);
          const left = 1 - along / from.length;
          out[i] = left <= 0 ? 0 : left >= 1 ? ONE : (left * ONE + 0.5) | 0;
        }
      }
      return out;
    }
  }
}
