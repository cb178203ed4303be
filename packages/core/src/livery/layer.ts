import { z } from 'zod';
import { HEX } from '../colour/hex.ts';
import { ColourId, LayerId, Sha256 } from './ids.ts';

/** The sixteen blend modes of W3C Compositing and Blending Level 1, by their published names. */
export const W3C_MODES = [
  'normal',
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
  'hue',
  'saturation',
  'color',
  'luminosity',
] as const;

/** All blend modes: those of the W3C, and nine more that layered files of several programs share. */
export const BLEND_MODES = [
  ...W3C_MODES,
  'linear-dodge',
  'linear-burn',
  'vivid-light',
  'linear-light',
  'pin-light',
  'darker-color',
  'lighter-color',
  'divide',
  'subtract',
] as const;
export type BlendMode = (typeof BLEND_MODES)[number];

export const PHASES = ['Base', 'Pattern', 'Marks', 'Wear', 'Retouch'] as const;
export type Phase = (typeof PHASES)[number];

/** A colour by reference to the scheme, or one of its own. */
export const Paint = z.union([z.strictObject({ scheme: ColourId }), z.strictObject({ hex: z.string().regex(HEX) })]);
export type Paint = z.infer<typeof Paint>;

/** Texels of the sheet at its native size, x to the right and y down. */
const texels = z.number().min(-65536).max(65536);
const length = z.number().min(0.25).max(32768);
const degrees = z.number().min(-3600).max(3600);
const softness = z.number().min(0).max(4096);

const base = {
  id: LayerId,
  name: z.string().min(1).max(80),
  phase: z.enum(PHASES),
  hidden: z.boolean(),
  locked: z.boolean(),
  /** Percent. */
  opacity: z.number().min(0).max(100),
  blend: z.enum(BLEND_MODES),
  /** Keys of the parts that the layer keeps to; empty: the whole sheet. */
  parts: z.array(z.string().max(60)).max(200),
  /** Layers of several sheets that say the same here are one layer that runs over all of them; see across.ts. */
  across: z.string().max(64).optional(),
};

export const SolidLayer = z.strictObject({ kind: z.literal('solid'), ...base, paint: Paint });

export const FadeStop = z.strictObject({
  at: z.number().min(0).max(1),
  paint: Paint,
  opacity: z.number().min(0).max(100),
});
export const FadeLayer = z.strictObject({
  kind: z.literal('fade'),
  ...base,
  shape: z.enum(['linear', 'radial']),
  /** Where the fade begins: a point of the first line, or the centre. */
  x: texels,
  y: texels,
  /** From the first stop to the last. */
  length,
  angle: degrees,
  stops: z.array(FadeStop).min(2).max(64),
});

export const StripeLayer = z.strictObject({
  kind: z.literal('stripe'),
  ...base,
  paint: Paint,
  /** A point on the stripe's middle line. */
  x: texels,
  y: texels,
  angle: degrees,
  width: length,
  softness,
});

export const StripeSetLayer = z.strictObject({
  kind: z.literal('stripe-set'),
  ...base,
  /** The paints of the stripes in turn. */
  paints: z.array(Paint).min(1).max(12),
  x: texels,
  y: texels,
  angle: degrees,
  width: length,
  gap: z.number().min(0).max(32768),
  count: z.number().int().min(1).max(400),
  softness,
});

export const ChequerLayer = z.strictObject({
  kind: z.literal('chequer'),
  ...base,
  paint: Paint,
  /** Paint of the other cells; null leaves them open. */
  other: Paint.nullable(),
  x: texels,
  y: texels,
  angle: degrees,
  cell: z.number().min(1).max(8192),
  columns: z.number().int().min(1).max(400),
  rows: z.number().int().min(1).max(400),
});

export const DecalLayer = z.strictObject({
  kind: z.literal('decal'),
  ...base,
  blob: Sha256,
  /** Pixels come decoded (raw RGBA8); drawings stay drawings. */
  source: z.enum(['pixels', 'svg']),
  /** Width over height of the picture. */
  ratio: z.number().min(0.001).max(1000),
  keepRatio: z.boolean(),
  x: texels,
  y: texels,
  width: length,
  height: length,
  turn: degrees,
  mirrored: z.boolean(),
  /** Flat colours of a drawing that are painted differently. */
  recolour: z.array(z.strictObject({ from: z.string().regex(HEX), to: Paint })).max(24),
});

export const LetteringLayer = z.strictObject({
  kind: z.literal('lettering'),
  ...base,
  /** May hold {particulars}, replaced when drawn. */
  text: z.string().max(200),
  font: z.string().max(60),
  /** Height of a capital letter. */
  size: length,
  x: texels,
  y: texels,
  turn: degrees,
  paint: Paint,
  outline: z.strictObject({ paint: Paint, width: z.number().min(0).max(512) }).nullable(),
  /** Added between letters, in percent of the size. */
  spacing: z.number().min(-50).max(400),
  /** Degrees from upright, to the right. */
  slant: z.number().min(-45).max(45),
  mirrored: z.boolean(),
});

/** A picture that lies on the sheet texel for texel: an original, or a layer of an imported file. */
export const PictureLayer = z.strictObject({
  kind: z.literal('picture'),
  ...base,
  /** Stored pixels; see files/pixels.ts. */
  blob: Sha256,
  /** First column and row on the sheet; can be outside. */
  left: z.number().int().min(-65536).max(65536),
  top: z.number().int().min(-65536).max(65536),
  width: z.number().int().min(1).max(16384),
  height: z.number().int().min(1).max(16384),
});

export const Layer = z.discriminatedUnion('kind', [
  SolidLayer,
  FadeLayer,
  StripeLayer,
  StripeSetLayer,
  ChequerLayer,
  DecalLayer,
  LetteringLayer,
  PictureLayer,
]);
export type Layer = z.infer<typeof Layer>;
export type LayerKind = Layer['kind'];
export type LayerOf<K extends LayerKind> = Extract<Layer, { kind: K }>;

/** All paints that a layer uses, in the order of its settings. */
export function paintsOf(layer: Layer): Paint[] {
  switch (layer.kind) {
    case 'solid':
    case 'stripe':
      return [layer.paint];
    case 'fade':
      return layer.stops.map((stop) => stop.paint);
    case 'stripe-set':
      return layer.paints;
    case 'chequer':
      return layer.other ? [layer.paint, layer.other] : [layer.paint];
    case 'picture':
      return [];
    case 'decal':
      return layer.recolour.map((r) => r.to);
    case 'lettering':
      return layer.outline ? [layer.paint, layer.outline.paint] : [layer.paint];
  }
}
