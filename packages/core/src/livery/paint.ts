import { z } from 'zod';
import { HEX } from '../colour/hex.ts';
import { ColourId, LayerId, Sha256 } from './ids.ts';
import { MOST } from './limits.ts';

/** A colour by reference to the scheme, or one of its own. */
export const Paint = z.union([z.strictObject({ scheme: ColourId }), z.strictObject({ hex: z.string().regex(HEX) })]);
export type Paint = z.infer<typeof Paint>;

/** Texels of the sheet at its native size, x to the right and y down. */
export const texels = z.number().min(-65536).max(65536);
export const length = z.number().min(0.25).max(32768);
export const degrees = z.number().min(-3600).max(3600);
export const softness = z.number().min(0).max(4096);
export const percent = z.number().min(0).max(100);

/**
 * One pass of a brush: what it changes, tile by tile, so that strokes of two people on one tile both stay. `paint` and `erase` keep
 * coverage of 16 bits, `pixels` 16-bit premultiplied RGBA; see paint/strokes.ts.
 */
export const Stroke = z.strictObject({
  id: z.string().min(1).max(64),
  how: z.enum(['paint', 'erase', 'pixels']),
  /** What `paint` wears. */
  paint: Paint.optional(),
  opacity: percent,
  blob: Sha256,
  /** The tiles that the blob holds, row * 64 + column, in its order. */
  tiles: z.array(z.number().int().min(0).max(4095)).min(1).max(4096),
});
export type Stroke = z.infer<typeof Stroke>;

/** What coverage a mask begins with. */
export const MaskFrom = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('all') }),
  z.strictObject({ kind: z.literal('parts'), parts: z.array(z.string().max(60)).min(1).max(200) }),
  /** Full at the first point, none at `length` from it. */
  z.strictObject({
    kind: z.literal('fade'),
    shape: z.enum(['linear', 'radial']),
    x: texels,
    y: texels,
    length,
    angle: degrees,
  }),
  /** What another layer of the same map covers. */
  z.strictObject({ kind: z.literal('layer'), layer: LayerId }),
  /** Coverage of 8 bits, kept as a selection is; nothing outside. */
  z.strictObject({ kind: z.literal('coverage'), blob: Sha256, tiles: Stroke.shape.tiles }),
]);
export type MaskFrom = z.infer<typeof MaskFrom>;

/** Where a layer shows, and how much. */
export const Mask = z.strictObject({
  from: MaskFrom,
  /** Painted on top: `paint` shows, `erase` hides. */
  strokes: z.array(Stroke).max(MOST.strokes),
  inverted: z.boolean(),
  /** Standard deviation of the softening, texels. */
  feather: z.number().min(0).max(256),
  /** It is there and does nothing. */
  off: z.boolean(),
  /** The layer's place when the mask was linked to it: it moves along from there. Null: it stays where it is. */
  linked: z.strictObject({ x: texels, y: texels }).nullable(),
});
export type Mask = z.infer<typeof Mask>;
export const newMask = (from: MaskFrom): Mask => ({
  from,
  strokes: [],
  inverted: false,
  feather: 0,
  off: false,
  linked: null,
});

/** The background that is taken out of a picture; see filters/knockOut.ts. */
export const KnockOut = z.strictObject({
  hex: z.string().regex(HEX),
  /** OKLab distance times 100 within which a pixel is background. */
  tolerance: z.number().min(0).max(100),
  /** Only what hangs together with the picture's border. */
  connected: z.boolean(),
});
export type KnockOut = z.infer<typeof KnockOut>;

const share = z.number().min(0).max(1);
const seed = z.number().int().min(0).max(999999);

/** A change of a picture that can be changed itself, and taken off again. */
export const Filter = z.discriminatedUnion('kind', [
  /** 8-bit sRGB ends, and the exponent between them. */
  z.strictObject({
    kind: z.literal('levels'),
    channel: z.enum(['all', 'red', 'green', 'blue']),
    black: z.number().min(0).max(254),
    white: z.number().min(1).max(255),
    gamma: z.number().min(0.1).max(10),
    outBlack: z.number().min(0).max(255),
    outWhite: z.number().min(0).max(255),
  }),
  /** In OKLCh: degrees added to the hue, chroma and lightness in percent of what is there. */
  z.strictObject({
    kind: z.literal('hcl'),
    hue: z.number().min(-180).max(180),
    chroma: z.number().min(-100).max(200),
    lightness: z.number().min(-100).max(100),
  }),
  /** One colour becomes another; the distance is Euclidean in OKLab times 100. */
  z.strictObject({
    kind: z.literal('replace'),
    from: z.string().regex(HEX),
    to: Paint,
    tolerance: percent,
    soft: percent,
  }),
  /** A colour takes over, and the shading stays; see filters/recolour.ts. */
  z.strictObject({
    kind: z.literal('recolour'),
    paint: Paint,
    strength: percent,
    contrast: z.number().min(0).max(300),
    /** Mean lightness of what is recoloured, OKLab L 0..1. */
    middle: share,
  }),
  /** Standard deviation, texels. */
  z.strictObject({ kind: z.literal('blur'), radius: z.number().min(0.1).max(128) }),
  z.strictObject({
    kind: z.literal('sharpen'),
    radius: z.number().min(0.1).max(32),
    amount: z.number().min(0).max(500),
  }),
  z.strictObject({
    kind: z.literal('grain'),
    amount: percent,
    size: z.number().min(1).max(64),
    coloured: z.boolean(),
    seed,
  }),
  /** Coverage broken by noise, and faded. */
  z.strictObject({
    kind: z.literal('worn'),
    amount: percent,
    size: z.number().min(1).max(512),
    fade: percent,
    seed,
  }),
]);
export type Filter = z.infer<typeof Filter>;
export type FilterOf<K extends Filter['kind']> = Extract<Filter, { kind: K }>;
