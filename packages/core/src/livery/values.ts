/** Values of which the document is made. */
import { z } from 'zod';
import { HEX } from '../colour/hex.ts';
import { ColourId } from './ids.ts';

/** A colour by reference to the scheme, or one of its own. */
export const Paint = z.union([z.strictObject({ scheme: ColourId }), z.strictObject({ hex: z.string().regex(HEX) })]);
export type Paint = z.infer<typeof Paint>;

/** Texels of the sheet at its native size, x to the right and y down. */
export const texels = z.number().min(-65536).max(65536);
export const length = z.number().min(0.25).max(32768);
export const degrees = z.number().min(-3600).max(3600);
export const softness = z.number().min(0).max(4096);
/** Along an axis of the model. */
export const metres = z.number().min(-10_000).max(10_000);
export const percent = z.number().min(0).max(100);

/** 0..1. */
export const share = z.number().min(0).max(1);
/** Of what looks random and is the same every time. */
export const seed = z.number().int().min(0).max(999999);
