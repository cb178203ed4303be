import { z } from 'zod';
import { metre } from '../../livery/settings.ts';
import { Direction, Place, projectorBase, type ProjectorData } from '../data.ts';

/** Where a plane cuts the model, or through places on it. */
export const Line = z.discriminatedUnion('by', [
  z.strictObject({ by: z.literal('cut'), normal: Direction, offset: z.number().min(-10_000).max(10_000) }),
  z.strictObject({
    by: z.literal('places'),
    places: z.array(Place).min(2).max(200),
    closed: z.boolean(),
    /** Out of the surface, about the middle of the line. */
    facing: Direction,
  }),
]);
export type Line = z.infer<typeof Line>;

/** Along a line on the surface: x as far as the line is long, y across it, measured on the surface. */
export const AlongProjector = z.strictObject({
  kind: z.literal('along'),
  ...projectorBase,
  line: Line,
  /** Metres to either side of the line that it reaches. */
  reach: z.number().min(1e-6).max(10_000),
});

export const along: ProjectorData = {
  name: 'Along a line',
  what: 'a strip on the surface',
  rows: [[metre('reach', 'reach', 1e-6)]],
};
