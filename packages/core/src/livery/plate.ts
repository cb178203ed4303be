/** A plate: a thin quad or bent strip of its own that carries a piece of a sheet of plates off the surface. */
import { z } from 'zod';
import { Direction, Place } from '../projectors/data.ts';
import { metres } from './values.ts';
import { words } from './words.ts';

/** Pieces along a bent plate, and along either side of one that is laid on the surface. */
const pieces = z.number().int().min(1).max(64);

export const PLATE_FORMS = ['flat', 'bent', 'laid'] as const;

export const PlateForm = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('flat') }),
  z.strictObject({
    kind: z.literal('bent'),
    /** The axis that it is bent about: its own way up, or its own way across. */
    about: z.enum(['up', 'across']),
    /** Metres; its middle comes forward where this is positive, as on a barrel, and lies back where it is negative. */
    radius: z
      .number()
      .min(-10_000)
      .max(10_000)
      .refine((r) => Math.abs(r) >= 1e-3, 'a radius is at least a millimetre'),
    pieces,
  }),
  z.strictObject({ kind: z.literal('laid'), columns: pieces, rows: pieces }),
]);
export type PlateForm = z.infer<typeof PlateForm>;

/** Texels; blocks of four by four are never cut. */
const edge = z.number().int().min(0).max(16380).multipleOf(4);
const side = z.number().int().min(4).max(16384).multipleOf(4);

export const Plate = z.strictObject({
  id: z.string().min(1).max(60),
  name: words(80, 1),
  /** The sheet of plates that has its picture, and where: texels. */
  sheet: z.string().max(40),
  left: edge,
  top: edge,
  width: side,
  height: side,
  /** Where its middle touches the surface, out of it, and what is up on it. */
  at: Place,
  facing: Direction,
  up: Direction,
  /** Metres across, along its surface; its height follows from its picture. */
  across: z.number().min(1e-4).max(1000),
  /** Metres between the surface and it. */
  lift: z.number().min(0).max(10),
  form: PlateForm,
  /** It is there a second time on the other side of a plane: readable, or as a mirror shows it. */
  partner: z.strictObject({ normal: Direction, offset: metres, readable: z.boolean() }).optional(),
  /** What it is listed under in the game; left out: the part that it stands on. */
  group: words(60, 1).optional(),
  /** Its picture goes out as a file of its own. */
  own: z.literal(true).optional(),
  hidden: z.literal(true).optional(),
});
export type Plate = z.infer<typeof Plate>;

/** What can be set of a plate. */
export const PlateSettings = Plate.omit({ id: true }).partial();

/** Metres from its foot to its head. */
export const tallOf = ({ across, width, height }: Pick<Plate, 'across' | 'width' | 'height'>): number =>
  (across * height) / width;
