import type { Layer, LayerKind } from '@wet-lacquer/core/livery/layer.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { placeNames } from '@wet-lacquer/core/surface/places.ts';

const KINDS: Record<LayerKind, string> = {
  solid: 'Solid',
  fade: 'Fade',
  stripe: 'Stripe',
  'stripe-set': 'Stripe set',
  chequer: 'Chequer',
  decal: 'Decal',
  lettering: 'Lettering',
  picture: 'Picture',
  group: 'Group',
  brush: 'Brushwork',
  adjust: 'Adjustment',
  shape: 'Shape',
  hazard: 'Hazard stripes',
  halftone: 'Half-tone',
};

/** "Decal on port side and roof". */
export function describe(layer: Layer, template: Template): string {
  const names = placeNames(template, null, layer.parts);
  const where = names.length === 0 ? 'whole sheet' : names.length > 2 ? `${names.length} places` : names.join(' and ');
  return `${KINDS[layer.kind]}, ${where}`;
}
