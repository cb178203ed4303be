/** The layers of a livery: one schema for each kind, from its folder in layers/. */
import { z } from 'zod';
import { adjust, AdjustLayer } from '../layers/adjust/data.ts';
import { belt, BeltLayer } from '../layers/belt/data.ts';
import { brush, BrushLayer } from '../layers/brush/data.ts';
import { chequer, ChequerLayer } from '../layers/chequer/data.ts';
import type { LayerData } from '../layers/data.ts';
import { decal, DecalLayer } from '../layers/decal/data.ts';
import { fade, FadeLayer } from '../layers/fade/data.ts';
import { group, GroupLayer } from '../layers/group/data.ts';
import { halftone, HalftoneLayer } from '../layers/halftone/data.ts';
import { hazard, HazardLayer } from '../layers/hazard/data.ts';
import { lettering, LetteringLayer } from '../layers/lettering/data.ts';
import { picture, PictureLayer } from '../layers/picture/data.ts';
import { shape, ShapeLayer } from '../layers/shape/data.ts';
import { solid, SolidLayer } from '../layers/solid/data.ts';
import { stripe, StripeLayer } from '../layers/stripe/data.ts';
import { stripeSet, StripeSetLayer } from '../layers/stripeSet/data.ts';
import { wear, WearLayer } from '../layers/wear/data.ts';
import { filterData, type Paint } from './paint.ts';

export { Paint } from './paint.ts';
export { CHANNELS, PHASES, type Phase } from './layerBase.ts';
export { BLEND_MODES, W3C_MODES, type BlendMode } from '../raster/modes.ts';

export const Layer = z.discriminatedUnion('kind', [
  SolidLayer,
  FadeLayer,
  StripeLayer,
  StripeSetLayer,
  ChequerLayer,
  HazardLayer,
  ShapeLayer,
  HalftoneLayer,
  BeltLayer,
  WearLayer,
  DecalLayer,
  LetteringLayer,
  PictureLayer,
  GroupLayer,
  BrushLayer,
  AdjustLayer,
]);
export type Layer = z.infer<typeof Layer>;
export type LayerKind = Layer['kind'];
export type LayerOf<K extends LayerKind> = Extract<Layer, { kind: K }>;

/** What there is to know of each kind, in the order in which they are offered. */
export const LAYERS: { readonly [K in LayerKind]: LayerData<LayerOf<K>> } = {
  solid,
  fade,
  stripe,
  'stripe-set': stripeSet,
  chequer,
  hazard,
  shape,
  halftone,
  belt,
  wear,
  brush,
  adjust,
  lettering,
  decal,
  picture,
  group,
};
export const dataOf = <L extends Layer>(layer: L): LayerData<L> => LAYERS[layer.kind] as unknown as LayerData<L>;

/** Whether a layer does nothing as it stands. */
export const isOff = ({ hidden, opacity }: Layer): boolean => hidden || opacity === 0;

/** Whether a layer changes no colour where it lies; one that brings its finish alone, or light at night, shows elsewhere. */
export const isUnseen = (layer: Layer): boolean =>
  isOff(layer) || layer.finishOnly === true || layer.lit?.only === true;

/** The schema of each setting, by kind. */
export const LAYER_SETTINGS = Object.fromEntries(
  Layer.options.map(({ shape: settings }) => [[...settings.kind.values][0], settings]),
) as unknown as Readonly<Record<LayerKind, Readonly<Record<string, z.ZodType>>>>;

/** Settings that a layer can be without, as its schemas say. */
const OPTIONAL = new Set(
  Layer.options.flatMap(({ shape: settings }) =>
    Object.entries(settings).flatMap(([key, setting]) => (setting instanceof z.ZodOptional ? [key] : [])),
  ),
);
export const mayBeLeftOut = (setting: string): boolean => OPTIONAL.has(setting);

/** All paints that a layer uses, in the order of its settings. */
export function paintsOf(layer: Layer): Paint[] {
  const filters = (layer.filters ?? []).flatMap((filter) => filterData(filter).paints(filter));
  const own = dataOf(layer).paints(layer);
  const light = layer.lit?.paint;
  return filters.length > 0 || light ? [...own, ...filters, ...(light ? [light] : [])] : own;
}
