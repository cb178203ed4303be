import type { LayerOf } from '../../livery/layer.ts';
import { fillCoverage, type Contour, boxOfOutlines } from '../../shapes/coverage.ts';
import { lineOutlines, pathPoints } from '../../shapes/curve.ts';
import { inWindow, putWindow, windowOf } from '../coverageTo.ts';
import type { Box, Kind } from '../kind.ts';

type Shape = LayerOf<'shape'>;

interface Piece {
  how: 'add' | 'cut';
  /** Texels about the layer's place. */
  outlines: Contour[];
}

const known = new WeakMap<Shape['paths'], { line: string; pieces: Piece[]; box: Box }>();

/** The outlines of a shape's paths, about its place. */
function piecesOf({ paths, line }: Shape): { pieces: Piece[]; box: Box } {
  const key = JSON.stringify(line);
  const made = known.get(paths);
  if (made?.line === key) return made;
  const pieces = paths.map(({ knots, closed, how }): Piece => {
    const points = pathPoints(knots, closed);
    if (!line) return { how, outlines: [points] };
    const { width, endWidth, count, gap } = line;
    return {
      how,
      outlines: Array.from({ length: count }, (_, k) => {
        const pitch = Math.max(width, endWidth) + gap;
        return lineOutlines(points, width, endWidth, (k - (count - 1) / 2) * pitch, closed);
      }).flat(),
    };
  });
  const around = boxOfOutlines(pieces.flatMap((piece) => piece.outlines));
  const box = around.right >= around.left ? around : { left: 0, top: 0, right: 0, bottom: 0 };
  const result = { line: key, pieces, box };
  known.set(paths, result);
  return result;
}

/** Outlines filled by their exact area, each path added to the earlier ones or cut from them. */
export const shape: Kind<Shape> = {
  bounds(layer) {
    const { box } = piecesOf(layer);
    return {
      left: box.left + layer.x - 1,
      top: box.top + layer.y - 1,
      right: box.right + layer.x + 1,
      bottom: box.bottom + layer.y + 1,
    };
  },
  draw(layer, region, env, out) {
    const { pieces } = piecesOf(layer);
    const scaled = pieces.map(({ how, outlines }) => ({
      how,
      outlines: outlines.map((outline) =>
        outline.map((v, i) => (v + (i % 2 ? layer.y - region.y : layer.x - region.x)) / region.step),
      ),
    }));
    const window = windowOf(
      scaled.flatMap((piece) => piece.outlines),
      region,
      1,
    );
    if (!window) return;
    const [w, h] = [window.right - window.left, window.bottom - window.top];
    let whole: Float64Array | null = null;
    for (const { how, outlines } of scaled) {
      const own = fillCoverage(inWindow(outlines, window), w, h);
      if (!whole) whole = how === 'add' ? own : new Float64Array(own.length);
      else if (how === 'add') for (let i = 0; i < own.length; i++) whole[i] += own[i] * (1 - whole[i]);
      else for (let i = 0; i < own.length; i++) whole[i] *= 1 - own[i];
    }
    putWindow(out, region, window, whole!, env.colour(layer.paint));
  },
};
