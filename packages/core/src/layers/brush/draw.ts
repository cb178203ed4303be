import type { LayerOf } from '../../livery/layer.ts';
import type { Stroke } from '../../livery/paint.ts';
import { boxOfTiles, partReached, spreadPatches, tilesReach } from '../../paint/drawStrokes.ts';
import { zeroedTile } from '../../raster/arena.ts';
import { blendOver, fadeAll, fadeEach, tint } from '../../raster/blend.ts';
import { onRectangle } from '../../raster/rectangle.ts';
import { ONE } from '../../raster/tile16.ts';
import type { Kind, LayerEnv, Region } from '../kind.ts';

/** What was painted by hand: stroke over stroke, rubbing out what is there so far. */
export const brush: Kind<LayerOf<'brush'>> = {
  bounds: ({ strokes }) => boxOfTiles(strokes),
  reaches: ({ strokes }, region) => strokes.some(({ tiles }) => tilesReach(tiles, region)),
  draw({ strokes }, region, env, out) {
    for (const stroke of strokes) putStroke(stroke, region, env, out);
  },
};

/** Puts one stroke on what `out` holds: 16-bit premultiplied RGBA of the region. */
export function putStroke(
  stroke: Stroke,
  region: Region,
  env: Pick<LayerEnv, 'stroke' | 'colour'>,
  out: Uint16Array,
): void {
  if (!tilesReach(stroke.tiles, region)) return;
  const patches = env.stroke(stroke);
  const reached = partReached(patches, stroke.tiles, region);
  if (!reached) return;
  const share = Math.round(stroke.opacity * 655.35);
  onRectangle(out, region.width, 4, reached, (part) => {
    if (patches.channels === 4) {
      const source = zeroedTile(part.length);
      spreadPatches(patches, stroke.tiles, reached, source);
      fadeAll(source, share);
      blendOver(part, source, 'normal');
      return;
    }
    const coverage = zeroedTile(part.length / 4);
    spreadPatches(patches, stroke.tiles, reached, coverage);
    if (stroke.how === 'erase') {
      for (let i = 0; i < coverage.length; i++) coverage[i] = ONE - Math.round((coverage[i] * share) / ONE);
      fadeEach(part, coverage);
      return;
    }
    const source = zeroedTile(part.length);
    tint(source, coverage, env.colour(stroke.paint ?? { hex: '#808080' }));
    fadeAll(source, share);
    blendOver(part, source, 'normal');
  });
}
