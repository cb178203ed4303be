/** Layers of a layered template that shade whatever lies under them, and where they belong. */
import type { Layer } from './layer.ts';

/** Common practice, no source: what artists call such layers. */
const SHADES =
  /shad(e|ing|ow)|occlusion|(^|[^a-z])ao([^a-z]|$)|highlight|light(ing|s)?($|[^a-z])|gloss($|[^a-z])|reflection|fittings?/i;
const DARKEN_OR_LIGHTEN: readonly string[] = [
  'multiply',
  'screen',
  'overlay',
  'soft-light',
  'hard-light',
  'color-burn',
];

/** How many layers at the top shade those below: by how they are mixed, or by name. */
export function shadingOnTop(layers: readonly Pick<Layer, 'blend' | 'name'>[]): number {
  const found = layers
    .toReversed()
    .findIndex(({ blend, name }) => !DARKEN_OR_LIGHTEN.includes(blend) && !SHADES.test(name));
  return found < 0 ? 0 : found;
}

/** Shading at the top belongs to the last phase, so that what is painted later goes under it. */
export function withShadingLast(layers: readonly Layer[]): Layer[] {
  const from = layers.length - shadingOnTop(layers);
  return layers.map((layer, i) => (i >= from ? { ...layer, phase: 'Retouch' as const } : layer));
}
