import { z } from 'zod';
import { metre } from '../../livery/settings.ts';
import { Direction, Place, projectorBase, type ProjectorData } from '../data.ts';

/** Laid on the surface and folded over its edges, from a place outwards. */
export const FoldedProjector = z.strictObject({
  kind: z.literal('folded'),
  ...projectorBase,
  /** Where the plane's (0, 0) lies on the surface. */
  at: Place,
  facing: Direction,
  /** What is up on the plane, as far as it lies in the surface at `at`. */
  up: Direction,
  /** Metres on the surface that it reaches. */
  reach: z.number().min(1e-6).max(10_000),
});

export const folded: ProjectorData = {
  name: 'Folded',
  what: 'over the edges',
  rows: [[metre('reach', 'reach', 1e-6)]],
};
