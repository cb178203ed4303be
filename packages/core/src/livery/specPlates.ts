/** How a game takes plates: their textures, and where they stand in its own axes, units and turns. */
import { z } from 'zod';
import { PLATE_FORMS } from './plate.ts';

/** An axis of the model: x forward, y up, z to starboard; with a minus, the other way. */
export const AXES = ['x', 'y', 'z', '-x', '-y', '-z'] as const;
const Axis = z.enum(AXES);
export type Axis = z.infer<typeof Axis>;

const ORDERS = ['xyz', 'xzy', 'yxz', 'yzx', 'zxy', 'zyx'] as const;

/** How a turn is written. */
export const PlateTurn = z.discriminatedUnion('as', [
  /** Three angles about the game's axes, each about the axis as the turns before it left it. */
  z.strictObject({ as: z.literal('angles'), order: z.enum(ORDERS), unit: z.enum(['degrees', 'radians']) }),
  z.strictObject({ as: z.literal('quaternion'), order: z.enum(['xyzw', 'wxyz']) }),
  /** Nine numbers: the plate's right, up and out in the game's axes, one after the other, or one number of each in turn. */
  z.strictObject({ as: z.literal('matrix'), order: z.enum(['columns', 'rows']) }),
]);
export type PlateTurn = z.infer<typeof PlateTurn>;

export const SpecPlates = z.strictObject({
  kinds: z.array(z.enum(PLATE_FORMS)).min(1).max(PLATE_FORMS.length),
  /** Every plate's picture is a file, all are in the file of their sheet, or as the painter likes. */
  textures: z.enum(['own', 'shared', 'either']),
  unit: z.enum(['m', 'cm', 'mm']),
  /** Which way of the model the game's x, y and z go. A plate that is not turned lies as the model's does: right along its x, up along its y, out along its z. */
  axes: z
    .tuple([Axis, Axis, Axis])
    .refine(
      (axes) => new Set(axes.map((axis) => axis.at(-1))).size === 3,
      'the three axes are x, y and z of the model',
    ),
  turn: PlateTurn,
  /** Places in a texture are counted from its lower left corner; left out: from its upper left. */
  fromBelow: z.literal(true).optional(),
  most: z.number().int().min(1).max(200).optional(),
});
export type SpecPlates = z.infer<typeof SpecPlates>;
