import type { LayerOf } from '../../livery/layer.ts';
import { fillCoverage, type Contour } from '../../shapes/coverage.ts';
import { turnOf } from '../../raster/turn.ts';
import { inWindow, putWindow, windowOf } from '../coverageTo.ts';
import { spanOf, type Kind } from '../kind.ts';
import { boxAround, contoursIn } from '../place.ts';

/**
 * The outlines of slanting bars in a box, about its middle: every second one from the left of its middle on is left open. Only those
 * that lie between two places along the box, measured from its middle.
 */
function barsOf({ width, height, bar, slant }: LayerOf<'hazard'>, [least, most]: [number, number]): Contour[] {
  const { cos, sin } = turnOf(slant);
  // Across a bar measures `bar`; along the box's long edge that is more.
  const pitch = bar / cos;
  const shift = (height * sin) / cos;
  const reach = Math.abs(shift) / 2;
  const first = Math.floor((Math.max(-width / 2, least) - reach) / pitch) - 1;
  const last = Math.ceil((Math.min(width / 2, most) + reach) / pitch) + 1;
  const bars: Contour[] = [];
  for (let k = first; k <= last; k++) {
    if ((k & 1) === 0) continue;
    const x = k * pitch;
    const corners = [
      [x + shift / 2, -height / 2],
      [x + pitch + shift / 2, -height / 2],
      [x + pitch - shift / 2, height / 2],
      [x - shift / 2, height / 2],
    ];
    const cut = cutAt(cutAt(corners, -width / 2, 1), width / 2, -1);
    if (cut.length > 2) bars.push(Float64Array.from(cut.flat()));
  }
  return bars;
}

/** The part of a convex outline on one side of an upright line (Sutherland and Hodgman, "Reentrant Polygon Clipping", 1974). */
function cutAt(corners: readonly number[][], x: number, side: 1 | -1): number[][] {
  const inside = (p: readonly number[]) => (p[0] - x) * side >= 0;
  return corners.flatMap((p, i) => {
    const q = corners[(i + 1) % corners.length];
    const out: number[][] = inside(p) ? [[...p]] : [];
    if (inside(p) !== inside(q)) out.push([x, p[1] + ((q[1] - p[1]) * (x - p[0])) / (q[0] - p[0])]);
    return out;
  });
}

export const hazard: Kind<LayerOf<'hazard'>> = {
  bounds: (layer) => boxAround(layer, 1),
  draw(layer, region, env, out) {
    const box: Contour = Float64Array.of(
      -layer.width / 2,
      -layer.height / 2,
      layer.width / 2,
      -layer.height / 2,
      layer.width / 2,
      layer.height / 2,
      -layer.width / 2,
      layer.height / 2,
    );
    const window = windowOf(contoursIn(region, layer, [box], 1, false), region, 1);
    if (!window) return;
    const put = (outlines: readonly Contour[], paint: LayerOf<'hazard'>['paint']) => {
      const local = inWindow(contoursIn(region, layer, outlines, 1, false), window);
      const coverage = fillCoverage(local, window.right - window.left, window.bottom - window.top);
      putWindow(out, region, window, coverage, env.colour(paint));
    };
    // The ground fills the whole box, so that no seam shows along the bars.
    if (layer.other) put([box], layer.other);
    const { cos, sin } = turnOf(layer.turn);
    const [least, most] = spanOf(region, layer.x, layer.y, cos, sin);
    put(barsOf(layer, [least - region.step, most + region.step]), layer.paint);
  },
};
