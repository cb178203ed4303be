import { z } from 'zod';
import { HEX } from '../colour/hex.ts';
import { blur, BlurFilter } from '../filters/blur/data.ts';
import type { FilterData } from '../filters/data.ts';
import { grain, GrainFilter } from '../filters/grain/data.ts';
import { hcl, HclFilter } from '../filters/hcl/data.ts';
import { levels, LevelsFilter } from '../filters/levels/data.ts';
import { recolour, RecolourFilter } from '../filters/recolour/data.ts';
import { replace, ReplaceFilter } from '../filters/replace/data.ts';
import { sharpen, SharpenFilter } from '../filters/sharpen/data.ts';
import { worn, WornFilter } from '../filters/worn/data.ts';
import { LayerId, Sha256 } from './ids.ts';
import { MOST } from './limits.ts';
import { degrees, length, Paint, percent, texels } from './values.ts';

export { degrees, length, Paint, percent, softness, texels } from './values.ts';

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

/** What is known of a model at each of its points; see surface/baked. */
export const FieldName = z.enum(['height', 'hollows', 'edges']);
export type FieldName = z.infer<typeof FieldName>;

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
  /** By a field of the model: nothing at `from`, full at `to`, either way round. */
  z.strictObject({
    kind: z.literal('field'),
    field: FieldName,
    from: z.number().min(0).max(1),
    to: z.number().min(0).max(1),
  }),
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

/** A change of a picture that can be changed itself, and taken off again. */
export const Filter = z.discriminatedUnion('kind', [
  RecolourFilter,
  LevelsFilter,
  HclFilter,
  ReplaceFilter,
  WornFilter,
  GrainFilter,
  BlurFilter,
  SharpenFilter,
]);
export type Filter = z.infer<typeof Filter>;
export type FilterOf<K extends Filter['kind']> = Extract<Filter, { kind: K }>;

/** What there is to know of each kind, in the order in which they are offered. */
export const FILTERS: { readonly [K in Filter['kind']]: FilterData<FilterOf<K>> } = {
  recolour,
  levels,
  hcl,
  replace,
  worn,
  grain,
  blur,
  sharpen,
};
export const filterData = <F extends Filter>(filter: F): FilterData<F> =>
  FILTERS[filter.kind] as unknown as FilterData<F>;
