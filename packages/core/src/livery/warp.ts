/** Marks that are drawn in perspective or bent: where points of their box go, in shares of that box (0, 0 its top left, 1, 1 its bottom right). */
import { z } from 'zod';

/** Points a side of a bent net. */
export const NET = 4;

const share = z.number().min(-8).max(9);
const WarpPoint = z.strictObject({ x: share, y: share });
export type WarpPoint = z.infer<typeof WarpPoint>;

/** Twice the area of a triangle; positive when it turns clockwise, y running down. */
const turning = (a: WarpPoint, b: WarpPoint, c: WarpPoint) => (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);

/** Whether four corners bound an area that bulges everywhere: only such a one is a rectangle in perspective. */
const isConvex = (corners: readonly WarpPoint[]): boolean => {
  const turns = corners.map((a, i) => turning(a, corners[(i + 1) % 4], corners[(i + 2) % 4]));
  return turns.every((t) => t > 1e-4) || turns.every((t) => t < -1e-4);
};

export const Warp = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('perspective'),
    /** Top left, top right, bottom right, bottom left. */
    points: z
      .array(WarpPoint)
      .length(4)
      .refine(isConvex, 'Four corners in perspective cannot cross or be hollow: one of them has to lie further out.'),
  }),
  z.strictObject({
    kind: z.literal('bent'),
    /** A net of 4 x 4, row by row; the surface runs smoothly through all of them. */
    points: z.array(WarpPoint).length(NET * NET),
  }),
]);
export type Warp = z.infer<typeof Warp>;

/** A box that is not warped yet. */
export function straightWarp(kind: Warp['kind']): Warp {
  if (kind === 'perspective')
    return {
      kind,
      points: [
        { x: 0, y: 0 },
        { x: 1, y: 0 },
        { x: 1, y: 1 },
        { x: 0, y: 1 },
      ],
    };
  const points = Array.from({ length: NET * NET }, (_, i) => ({
    x: (i % NET) / (NET - 1),
    y: Math.floor(i / NET) / (NET - 1),
  }));
  return { kind, points };
}
