import type { LayerOf } from '../../livery/layer.ts';
import { fillCoverage, type Contour } from '../../shapes/coverage.ts';
import { turnOf } from '../../raster/turn.ts';
import { inWindow, putWindow, windowOf } from '../coverageTo.ts';
import { putOver, spanOf, type Kind } from '../kind.ts';
import { boxAround, contoursIn } from '../place.ts';

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
    const { cell, columns, rows } = layer;
    const { cos, sin } = turnOf(layer.angle);
    /** The first and the last (exclusive) of so many cells that the region can touch along one direction. */
    const within = (count: number, right: number, down: number) => {
      const [least, most] = spanOf(region, layer.x, layer.y, right, down);
      const from = Math.floor((least - region.step) / cell + count / 2) - 1;
      const to = Math.ceil((most + region.step) / cell + count / 2) + 1;
      return [Math.max(0, from), Math.min(count, to)];
    };
    const [left, right] = within(columns, cos, sin);
    const [top, bottom] = within(rows, -sin, cos);
    const cells: [Contour[], Contour[]] = [[], []];
    for (let row = top; row < bottom; row++) {
      for (let column = left; column < right; column++) {
        const x = column - columns / 2;
        const y = row - rows / 2;
        cells[(row + column) & 1].push(Float64Array.of(x, y, x + 1, y, x + 1, y + 1, x, y + 1));
      }
    }
    const [evens, odds] = cells.map((some) => contoursIn(region, placed(layer), some, cell, false));
    const window = windowOf([...evens, ...odds], region, 1);
    if (!window) return;
    const [w, h] = [window.right - window.left, window.bottom - window.top];
    const first = fillCoverage(inWindow(evens, window), w, h);
    const colour = env.colour(layer.paint);
    if (!layer.other) return putWindow(out, region, window, first, colour);
    const second = fillCoverage(inWindow(odds, window), w, h);
    const other = env.colour(layer.other);
    for (let y = 0, i = 0; y < h; y++) {
      const o = (window.top + y) * region.width + window.left;
      for (let x = 0; x < w; x++, i++) {
        const [a, b] = [first[i], second[i]];
        if (b === 0) putOver(out, o + x, colour, a);
        else if (a === 0) putOver(out, o + x, other, b);
        else {
          // Cells share edges: their areas add up, so that no seam of the ground shows between them.
          const share = a / (a + b);
          const mix = (c: 0 | 1 | 2) => colour[c] * share + other[c] * (1 - share);
          putOver(out, o + x, [mix(0), mix(1), mix(2)], Math.min(1, a + b));
        }
      }
    }
  },
};
