import { z } from 'zod';

/** What a brush is like. */
export const Brush = z.strictObject({
  name: z.string().min(1).max(40),
  tip: z.enum(['round', 'flat', 'chalk', 'bristle']),
  /** Diameter, texels. */
  size: z.number().min(1).max(2000),
  /** Percent of the radius that is full; 100 has an edge of one texel. */
  hardness: z.number().min(0).max(100),
  /** From dab to dab, percent of the size. */
  spacing: z.number().min(2).max(200),
  /** How much one dab puts on, percent. */
  flow: z.number().min(1).max(100),
  /** The most that a whole stroke puts on, percent. */
  opacity: z.number().min(1).max(100),
  /** Degrees that the tip is turned by; flat tips follow a tilted pen from there. */
  angle: z.number().min(-180).max(180),
  /** How far dabs go astray and differ in size, percent. */
  jitter: z.number().min(0).max(100),
  /** How much of size and flow the pressure rules, percent. */
  pressureSize: z.number().min(0).max(100),
  pressureFlow: z.number().min(0).max(100),
  /** Exponent that bends the pressure: below 1 a light hand counts for more. */
  curve: z.number().min(0.2).max(5),
  /** How far the brush lags behind the hand, percent. */
  smoothing: z.number().min(0).max(100),
  /** Whole texels only. */
  pixel: z.boolean(),
});
export type Brush = z.infer<typeof Brush>;

const plain = {
  tip: 'round',
  spacing: 10,
  flow: 100,
  opacity: 100,
  angle: 0,
  jitter: 0,
  pressureSize: 0,
  pressureFlow: 0,
  curve: 1,
  smoothing: 20,
  pixel: false,
} as const;

/** Brushes to begin with. */
export const BRUSHES: readonly Brush[] = [
  { ...plain, name: 'Signwriter', size: 40, hardness: 100, pressureSize: 60 },
  { ...plain, name: 'Airbrush', size: 160, hardness: 0, flow: 12, spacing: 6, pressureFlow: 100 },
  { ...plain, name: 'Touch-in', size: 24, hardness: 70, pressureSize: 30 },
  { ...plain, name: 'Coach liner', tip: 'flat', size: 28, hardness: 95, spacing: 4, angle: 45 },
  { ...plain, name: 'Dry sponge', tip: 'chalk', size: 120, hardness: 40, flow: 60, jitter: 10 },
  { ...plain, name: 'Hog bristle', tip: 'bristle', size: 90, hardness: 80, flow: 70, spacing: 3 },
  { ...plain, name: 'Single texel', size: 1, hardness: 100, spacing: 100, smoothing: 0, pixel: true },
];
