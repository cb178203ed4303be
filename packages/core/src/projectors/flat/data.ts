import { z } from 'zod';
import { Direction, Place, projectorBase, type ProjectorData } from '../data.ts';

/** Along one direction, as a slide is thrown on a wall: what faces it is painted. */
export const FlatProjector = z.strictObject({
  kind: z.literal('flat'),
  ...projectorBase,
  /** Where the plane's (0, 0) lies. */
  at: Place,
  /** Out of the surface, to where it is seen from. */
  facing: Direction,
  /** What is up on the plane. */
  up: Direction,
  /** Degrees between the surface's normal and `facing` up to which it paints, and over how many it runs out there. */
  limit: z.number().min(1).max(90),
  soft: z.number().min(0).max(90),
  /** Metres before and behind `at` within which it paints; left out: as far as the model goes. */
  depth: z.number().min(0).max(10_000).optional(),
  /** Paints all that faces it; left out: only what no other painted part hides. */
  through: z.literal(true).optional(),
});

export const flat: ProjectorData = {
  name: 'Flat',
  what: 'along one direction',
  rows: [
    [
      { key: 'limit', label: 'steepest', unit: '°', min: 1, max: 90 },
      { key: 'soft', label: 'running out', unit: '°', min: 0, max: 90 },
    ],
  ],
};
