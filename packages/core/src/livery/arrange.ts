/** Where layers go in relation to others: copies, partners on the other side, and lining up. All in texels and degrees. */
import { dataOf, type Layer } from './layer.ts';

/** The same layer so much further on. Groups, brushwork and whole surfaces have no place of their own: they come back as they are. */
export function movedBy<L extends Layer>(layer: L, dx: number, dy: number): L {
  if ('x' in layer) return { ...layer, x: layer.x + dx, y: layer.y + dy };
  if ('left' in layer) return { ...layer, left: Math.round(layer.left + dx), top: Math.round(layer.top + dy) };
  return layer;
}

/** Lengths that grow with a layer, by kind. */
const LENGTHS = ['x', 'y', 'width', 'height', 'size', 'length', 'gap', 'softness', 'cell', 'bar', 'pitch'] as const;

/** A layer that has a place, so many times as large about the origin. */
export function scaledBy<L extends Layer>(layer: L, times: number): L {
  if (!('x' in layer)) return layer;
  const out: Record<string, unknown> = { ...layer };
  for (const key of LENGTHS) if (typeof out[key] === 'number') out[key] = out[key] * times;
  if (layer.kind === 'lettering' && layer.outline)
    out.outline = { ...layer.outline, width: layer.outline.width * times };
  if (layer.kind === 'shape') {
    const { line } = layer;
    out.line = line && { ...line, width: line.width * times, endWidth: line.endWidth * times, gap: line.gap * times };
    out.paths = layer.paths.map((path) => ({
      ...path,
      knots: path.knots.map((knot) => ({ ...knot, x: knot.x * times, y: knot.y * times })),
    }));
  }
  return out as L;
}

/** A line that things are mirrored at: x = at, or y = at. */
export interface MirrorLine {
  across: 'x' | 'y';
  at: number;
}

/**
 * The partner of a layer on the other side of a line.
 * @param readable lettering and decals keep their own way round, so that they can be read; otherwise they are mirrored too
 * @returns null for layers that have no place
 */
export function partnerOf(layer: Layer, { across, at }: MirrorLine, readable: boolean): Layer | null {
  const { mirrored } = dataOf(layer);
  if (!mirrored || !('x' in layer)) return null;
  const place = across === 'x' ? { x: 2 * at - layer.x } : { y: 2 * at - layer.y };
  return { ...layer, ...place, ...mirrored(layer, { across, readable }) };
}

/** A box with its sides level and upright. */
export interface Bounds {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** The box around one that is turned about its middle. */
export function boundsOf(box: { x: number; y: number; width: number; height: number; turn: number }): Bounds {
  const [cos, sin] = [Math.abs(Math.cos((box.turn * Math.PI) / 180)), Math.abs(Math.sin((box.turn * Math.PI) / 180))];
  const [w, h] = [(box.width * cos + box.height * sin) / 2, (box.width * sin + box.height * cos) / 2];
  return { left: box.x - w, top: box.y - h, right: box.x + w, bottom: box.y + h };
}

export const ALIGNMENTS = ['left', 'centre', 'right', 'top', 'middle', 'bottom'] as const;
export type Alignment = (typeof ALIGNMENTS)[number];

/** How far each box moves so that all line up with the box around them. */
export function aligned(boxes: readonly Bounds[], how: Alignment): { dx: number; dy: number }[] {
  const around = {
    left: Math.min(...boxes.map((b) => b.left)),
    top: Math.min(...boxes.map((b) => b.top)),
    right: Math.max(...boxes.map((b) => b.right)),
    bottom: Math.max(...boxes.map((b) => b.bottom)),
  };
  const half = (b: Bounds) => ({ x: (b.left + b.right) / 2, y: (b.top + b.bottom) / 2 });
  return boxes.map((box) => {
    switch (how) {
      case 'left':
        return { dx: around.left - box.left, dy: 0 };
      case 'right':
        return { dx: around.right - box.right, dy: 0 };
      case 'centre':
        return { dx: half(around).x - half(box).x, dy: 0 };
      case 'top':
        return { dx: 0, dy: around.top - box.top };
      case 'bottom':
        return { dx: 0, dy: around.bottom - box.bottom };
      case 'middle':
        return { dx: 0, dy: half(around).y - half(box).y };
    }
  });
}

/** How far each box moves so that the gaps between them are equal; the outermost two stay. */
export function distributed(boxes: readonly Bounds[], along: 'x' | 'y'): { dx: number; dy: number }[] {
  const [from, to] = along === 'x' ? (['left', 'right'] as const) : (['top', 'bottom'] as const);
  const order = boxes.map((_, i) => i).sort((a, b) => boxes[a][from] + boxes[a][to] - boxes[b][from] - boxes[b][to]);
  const size = (i: number) => boxes[i][to] - boxes[i][from];
  const moves = boxes.map(() => ({ dx: 0, dy: 0 }));
  if (order.length < 3) return moves;
  const inner = order.reduce((sum, i) => sum + size(i), 0);
  const [first, last] = [order[0], order[order.length - 1]];
  const gap = (boxes[last][to] - boxes[first][from] - inner) / (order.length - 1);
  let at = boxes[first][from];
  for (const i of order) {
    moves[i][along === 'x' ? 'dx' : 'dy'] = i === last ? 0 : at - boxes[i][from];
    at += size(i) + gap;
  }
  return moves;
}
