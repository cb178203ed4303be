import { z } from 'zod';
import { layerBase } from '../../livery/layerBase.ts';
import { Paint, texels } from '../../livery/paint.ts';
import { NO_BOX, PAINT, shortNumber, type LayerData } from '../data.ts';

const Knot = z.strictObject({
  x: texels,
  y: texels,
  /** Smooth: the curve goes through without a corner. */
  smooth: z.boolean(),
});
export const ShapePath = z.strictObject({
  knots: z.array(Knot).min(1).max(200),
  closed: z.boolean(),
  /** Adds to what the earlier paths cover, or cuts from it. */
  how: z.enum(['add', 'cut']),
});
/** Filled outlines, or lines along paths whose width runs from one end to the other. */
export const ShapeLayer = z.strictObject({
  kind: z.literal('shape'),
  ...layerBase,
  paint: Paint,
  /** Moves all knots. */
  x: texels,
  y: texels,
  paths: z.array(ShapePath).min(1).max(100),
  /** Null: filled. Widths at both ends of a line in texels, and how many run side by side with what gap. */
  line: z
    .strictObject({
      width: z.number().min(0).max(8192),
      endWidth: z.number().min(0).max(8192),
      count: z.number().int().min(1).max(40),
      gap: z.number().min(0).max(8192),
    })
    .nullable(),
});

export const shape: LayerData<z.infer<typeof ShapeLayer>> = {
  ...NO_BOX,
  name: 'Shape',
  paints: ({ paint }) => [paint],
  mirrored: ({ paths }, { across }) => ({
    paths: paths.map((path) => ({ ...path, knots: path.knots.map((knot) => ({ ...knot, [across]: -knot[across] })) })),
  }),
  handles: () => ['knots'],
  place: () => ['outline'],
  colours: [PAINT],
  numbers: ({ line }) => (line ? `line ${shortNumber(line.width)}` : ''),
  makers: [
    {
      key: 'line',
      phase: 'Pattern',
      name: 'Curved line',
      what: 'through points, wide or narrow at either end',
      make({ x, y, sheet, paint }) {
        const side = Math.round(sheet.width / 6);
        const width = Math.round(sheet.height / 30);
        const knots = [
          { x: -side, y: side / 3, smooth: true },
          { x: 0, y: -side / 3, smooth: true },
          { x: side, y: side / 3, smooth: true },
        ];
        const line = { width, endWidth: Math.round(width / 4), count: 1, gap: Math.round(width / 2) };
        return { paint: paint(2), x, y, paths: [{ knots, closed: false, how: 'add' }], line };
      },
    },
    {
      key: 'shape',
      phase: 'Pattern',
      name: 'Shape',
      what: 'an outline of corners or curves, filled',
      make({ x, y, sheet, paint }) {
        const side = Math.round(sheet.width / 10);
        const knots = [
          { x: -side, y: -side / 2, smooth: false },
          { x: side, y: -side / 2, smooth: false },
          { x: side / 2, y: side / 2, smooth: false },
          { x: -side, y: side / 2, smooth: false },
        ];
        return { paint: paint(2), x, y, paths: [{ knots, closed: true, how: 'add' }], line: null };
      },
    },
  ],
};
