import type { LayerOf } from '../livery/layer.ts';
import { fillCoverage, type Contour } from '../shapes/coverage.ts';
import { putOver, type Kind } from './kind.ts';
import { boxAround, contoursIn } from './place.ts';

const placed = (layer: LayerOf<'chequer'>) => ({
  x: layer.x,
  y: layer.y,
  width: layer.columns * layer.cell,
  height: layer.rows * layer.cell,
  turn: layer.angle,
});

/** A field of columns x rows cells about (x, y), two paints in turn; the first cell at the top left takes the first paint. */
export const chequer: Kind<LayerOf<'chequer'>> = {
  bounds: (layer) => boxAround(placed(layer), 1),
  draw(layer, region, env, out) {
    const paint = (odd: number, colour: readonly [number, number, number]) => {
      const cells: Contour[] = [];
      for (let row = 0; row < layer.rows; row++) {
        for (let column = 0; column < layer.columns; column++) {
          if (((row + column) & 1) !== odd) continue;
          const x = column - layer.columns / 2;
          const y = row - layer.rows / 2;
          cells.push(Float64Array.of(x, y, x + 1, y, x + 1, y + 1, x, y + 1));
        }
      }
      const p = { ...placed(layer), turn: layer.angle };
      const coverage = fillCoverage(contoursIn(region, p, cells, layer.cell, false), region.width, region.height);
      return (i: number) => ({ coverage: coverage[i], colour });
    };
    const first = paint(0, env.colour(layer.paint));
    const second = layer.other ? paint(1, env.colour(layer.other)) : null;
    for (let i = 0; i < region.width * region.height; i++) {
      const a = first(i);
      const b = second?.(i);
      if (!b || b.coverage === 0) putOver(out, i, a.colour, a.coverage);
      else {
        // Cells share edges: their areas add up, so that no seam of the ground shows between them.
        const total = Math.min(1, a.coverage + b.coverage);
        const share = a.coverage / (a.coverage + b.coverage);
        const mix = (c: 0 | 1 | 2) => a.colour[c] * share + b.colour[c] * (1 - share);
        putOver(out, i, [mix(0), mix(1), mix(2)], total);
      }
    }
  },
};
