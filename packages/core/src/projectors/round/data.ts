import { z } from 'zod';
import { Direction, Place, projectorBase, type ProjectorData } from '../data.ts';

/** Wrapped about an axis: x along the arc, y along the axis. */
export const RoundProjector = z.strictObject({
  kind: z.literal('round'),
  ...projectorBase,
  /** On the axis, where the plane's y is 0. */
  at: Place,
  /** Where the plane's y becomes less: what is up on it. */
  axis: Direction,
  /** From the axis, where the plane's x is 0. */
  facing: Direction,
  /** How far from the axis lengths along the arc are true; left out: everywhere. */
  radius: z.number().min(1e-6).max(10_000).optional(),
});

export const round: ProjectorData = {
  name: 'Round',
  what: 'wrapped about an axis',
  rows: [],
};
