/** What every projector is made of: how it brings the plane that a layer is drawn in to the model. */
import { z } from 'zod';
import type { NumberSetting } from '../livery/settings.ts';
import { metres } from '../livery/values.ts';

/** A place on the model: metres, x forward, y up, z to starboard. */
export const Place = z.tuple([metres, metres, metres]);
export type Place = z.infer<typeof Place>;

/** A direction in the same axes; its length says nothing. */
export const Direction = z
  .tuple([z.number().min(-1e6).max(1e6), z.number().min(-1e6).max(1e6), z.number().min(-1e6).max(1e6)])
  .refine((d) => Math.hypot(...d) > 1e-9, 'a direction has a length');
export type Direction = z.infer<typeof Direction>;

export const projectorBase = {
  /** Metres of the model to a unit of the layer's plane, whose x goes to the right and whose y goes down. */
  scale: z.number().min(1e-7).max(1000),
  /** It is there a second time on the other side of a plane: readable, or as a mirror shows it. */
  partner: z.strictObject({ normal: Direction, offset: metres, readable: z.boolean() }).optional(),
  /** Keys of parts that it leaves out; what they hide is painted. */
  not: z.array(z.string().max(60)).max(200).optional(),
};

/** All that there is to know of a kind of projector but how it brings a plane to the model. */
export interface ProjectorData {
  name: string;
  /** What it is for, in a line. */
  what: string;
  /** What can be set, in rows of at most two. */
  rows: readonly (readonly NumberSetting[])[];
}
