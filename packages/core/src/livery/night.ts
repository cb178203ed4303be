/** How a craft looks in the dark: how much of its paint can be seen, and what of it is lit. */
import { z } from 'zod';
import { HEX } from '../colour/hex.ts';
import { Paint, percent, seed } from './values.ts';

/** What is left of the day on maps that hold light. */
export const NightLook = z.strictObject({
  /** How bright the paint still is, and how much of its colour can be told, percent. */
  light: percent,
  colour: percent,
  /** The colour of what light there is. */
  tint: z.string().regex(HEX),
});
export type NightLook = z.infer<typeof NightLook>;

/** A moonlit quay (common practice, no source: painters set it by eye). */
export const FIRST_NIGHT: NightLook = { light: 22, colour: 55, tint: '#aebfe0' };

/** The most metres that light spreads. */
export const MOST_SPREAD = 20;

/** What of a layer gives light at night. */
export const Lit = z.strictObject({
  /** Left out: its own colours. */
  paint: Paint.optional(),
  /** 0: as dark as the paint about it. */
  strength: percent,
  /** How far it shines along the surface, metres; 0: not at all. */
  spread: z.number().min(0).max(MOST_SPREAD),
  /** Of its separate pieces (windows, lamps) so many percent are dark, and the others differ. */
  flicker: z.strictObject({ dark: percent, seed }).optional(),
  /** By day the layer is not there. */
  only: z.literal(true).optional(),
});
export type Lit = z.infer<typeof Lit>;

/** How a layer begins to be lit. */
export const FIRST_LIT: Lit = { strength: 100, spread: 0 };
