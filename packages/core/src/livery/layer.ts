import { z } from 'zod';
import { Warp } from './warp.ts';
import { HEX } from '../colour/hex.ts';
import { BLEND_MODES } from '../raster/modes.ts';
import { LayerId, Sha256 } from './ids.ts';
import { MOST } from './limits.ts';
import { degrees, Filter, KnockOut, length, Mask, Paint, percent, softness, Stroke, texels } from './paint.ts';
import { words } from './words.ts';

export { Paint } from './paint.ts';

export { BLEND_MODES, W3C_MODES, type BlendMode } from '../raster/modes.ts';

export const PHASES = ['Base', 'Pattern', 'Marks', 'Wear', 'Retouch'] as const;
export type Phase = (typeof PHASES)[number];

export const CHANNELS = ['red', 'green', 'blue', 'alpha'] as const;

const base = {
  id: LayerId,
  name: words(80, 1),
  phase: z.enum(PHASES),
  hidden: z.boolean(),
  locked: z.boolean(),
  opacity: percent,
  blend: z.enum(BLEND_MODES),
  /** Keys of the parts that the layer keeps to; empty: the whole sheet. */
  parts: z.array(z.string().max(60)).max(200),
  /** Layers of several sheets that say the same here are one layer that runs over all of them; see across.ts. */
  across: z.string().max(64).optional(),
  /** The group that it belongs to, a layer of the same map; one that is gone counts as none. See tree.ts. */
  group: LayerId.optional(),
  /** Of the layers of one choice those of one option are meant to be seen; see choices.ts. */
  oneOf: z.strictObject({ of: words(80, 1), is: words(80, 1) }).optional(),
  /** It shows only where the next layer below it, in the same group, that is not clipped itself has paint. */
  clipped: z.boolean().optional(),
  mask: Mask.optional(),
  /** Done to the layer's own picture, in this order. */
  filters: z.array(Filter).max(12).optional(),
  /** The only channels that it changes; left out: all. Of alpha it changes the value, by its grey. */
  channels: z.array(z.enum(CHANNELS)).min(1).max(4).optional(),
};

export const SolidLayer = z.strictObject({ kind: z.literal('solid'), ...base, paint: Paint });

export const FadeStop = z.strictObject({
  at: z.number().min(0).max(1),
  paint: Paint,
  opacity: percent,
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
  /** Of pixels alone: drawings have no background. */
  knockOut: KnockOut.optional(),
  /** In perspective or bent, within its box and beyond. */
  warp: Warp.optional(),
});

export const LetteringLayer = z.strictObject({
  kind: z.literal('lettering'),
  ...base,
  /** May hold {particulars}, replaced when drawn. */
  text: words(200),
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

/** Holds other layers: those whose `group` names it. */
export const GroupLayer = z.strictObject({
  kind: z.literal('group'),
  ...base,
  /** Its layers blend with what is below the group, as if there were none. */
  through: z.boolean(),
});

/** What was painted by hand, stroke by stroke. */
export const BrushLayer = z.strictObject({
  kind: z.literal('brush'),
  ...base,
  strokes: z.array(Stroke).max(MOST.strokes),
});

/** Changes everything below it, by its filters. */
export const AdjustLayer = z.strictObject({ kind: z.literal('adjust'), ...base });

const Knot = z.strictObject({
  x: texels,
  y: texels,
  /** Smooth: the curve goes through without a corner. */
  smooth: z.boolean(),
});
export const ShapePath = z.strictObject({
  knots: z.array(Knot).min(1).max(200),
  closed: z.boolean(),
  /** Adds to what the earlier paths cover, or cuts from it. */
  how: z.enum(['add', 'cut']),
});
/** Filled outlines, or lines along paths whose width runs from one end to the other. */
export const ShapeLayer = z.strictObject({
  kind: z.literal('shape'),
  ...base,
  paint: Paint,
  /** Moves all knots. */
  x: texels,
  y: texels,
  paths: z.array(ShapePath).min(1).max(100),
  /** Null: filled. Widths at both ends of a line in texels, and how many run side by side with what gap. */
  line: z
    .strictObject({
      width: z.number().min(0).max(8192),
      endWidth: z.number().min(0).max(8192),
      count: z.number().int().min(1).max(40),
      gap: z.number().min(0).max(8192),
    })
    .nullable(),
});

/** Slanting bars in a box. */
export const HazardLayer = z.strictObject({
  kind: z.literal('hazard'),
  ...base,
  paint: Paint,
  /** Between the bars; null leaves it open. */
  other: Paint.nullable(),
  x: texels,
  y: texels,
  width: length,
  height: length,
  turn: degrees,
  /** Width of a bar, across it. */
  bar: z.number().min(1).max(8192),
  /** Of the bars against the box's upright. */
  slant: z.number().min(-80).max(80),
});

/** Dots that shrink along a line: a fade that stays two colours. */
export const HalftoneLayer = z.strictObject({
  kind: z.literal('halftone'),
  ...base,
  paint: Paint,
  /** Where it is full. */
  x: texels,
  y: texels,
  /** From full to nothing. */
  length,
  angle: degrees,
  /** From dot to dot. */
  pitch: z.number().min(4).max(1024),
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
  GroupLayer,
  BrushLayer,
  AdjustLayer,
  ShapeLayer,
  HazardLayer,
  HalftoneLayer,
]);
export type Layer = z.infer<typeof Layer>;
export type LayerKind = Layer['kind'];
export type LayerOf<K extends LayerKind> = Extract<Layer, { kind: K }>;

/** The schema of each setting, by kind. */
export const LAYER_SETTINGS = Object.fromEntries(
  Layer.options.map(({ shape }) => [[...shape.kind.values][0], shape]),
) as unknown as Readonly<Record<LayerKind, Readonly<Record<string, z.ZodType>>>>;

/** Settings that a layer can be without, as its schemas say. */
const OPTIONAL = new Set(
  Layer.options.flatMap(({ shape }) =>
    Object.entries(shape).flatMap(([key, setting]) => (setting instanceof z.ZodOptional ? [key] : [])),
  ),
);
export const mayBeLeftOut = (setting: string): boolean => OPTIONAL.has(setting);

/** All paints that a layer uses, in the order of its settings. */
export function paintsOf(layer: Layer): Paint[] {
  const filters = (layer.filters ?? []).flatMap((filter) =>
    filter.kind === 'recolour' ? [filter.paint] : filter.kind === 'replace' ? [filter.to] : [],
  );
  const own = ownPaints(layer);
  return filters.length > 0 ? [...own, ...filters] : own;
}

function ownPaints(layer: Layer): Paint[] {
  switch (layer.kind) {
    case 'solid':
    case 'stripe':
    case 'shape':
    case 'halftone':
      return [layer.paint];
    case 'fade':
      return layer.stops.map((stop) => stop.paint);
    case 'stripe-set':
      return layer.paints;
    case 'chequer':
    case 'hazard':
      return layer.other ? [layer.paint, layer.other] : [layer.paint];
    case 'picture':
    case 'group':
    case 'adjust':
      return [];
    case 'brush':
      return layer.strokes.flatMap((stroke) => stroke.paint ?? []);
    case 'decal':
      return layer.recolour.map((r) => r.to);
    case 'lettering':
      return layer.outline ? [layer.paint, layer.outline.paint] : [layer.paint];
  }
}
