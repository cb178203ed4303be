import { dataOf, type Layer } from '@wet-lacquer/core/livery/layer.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { placeNames } from '@wet-lacquer/core/surface/places.ts';

/** "Decal, port side and roof". */
export function describe(layer: Layer, template: Template): string {
  const names = placeNames(template, null, layer.parts);
  const where =
    names.length === 0
      ? layer.on || dataOf(layer).onModel
        ? 'on the model'
        : 'whole sheet'
      : names.length > 2
        ? `${names.length} places`
        : names.join(' and ');
  return `${dataOf(layer).name}, ${where}`;
}
