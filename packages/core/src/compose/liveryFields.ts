/** What is worked out once of a model and liveries are drawn by; and what can be drawn before it is. */
import type { FieldKey } from '../livery/fields.ts';
import { dataOf, type Layer } from '../livery/layer.ts';
import { layersIn, type Livery } from '../livery/livery.ts';

/** What of the model a layer is drawn by, or its mask. */
export function fieldsOfLayer(layer: Layer): FieldKey[] {
  const from = layer.mask?.from;
  return [...(from?.kind === 'field' ? [from.field] : []), ...(dataOf(layer).fields?.(layer) ?? [])];
}

/** Every field that a livery is drawn by, once. */
export const fieldsOfLivery = (livery: Livery): FieldKey[] => [...new Set(layersIn(livery).flatMap(fieldsOfLayer))];

/** The livery without layers that are drawn by a field of some, or whose masks follow one that is: those are hidden. */
export function withoutWaiting(livery: Livery, missing: ReadonlySet<FieldKey>): Livery {
  const all = layersIn(livery);
  const waiting = new Set(
    all.filter((one) => fieldsOfLayer(one).some((name) => missing.has(name))).map(({ id }) => id),
  );
  // A mask may follow a layer whose own mask follows another.
  for (let before = -1; before !== waiting.size;) {
    before = waiting.size;
    for (const { id, mask } of all) if (mask?.from?.kind === 'layer' && waiting.has(mask.from.layer)) waiting.add(id);
  }
  const shown = (layers: readonly Layer[]) =>
    layers.map((one) => (waiting.has(one.id) ? { ...one, hidden: true } : one));
  return {
    ...livery,
    sheets: livery.sheets.map((sheet) => ({
      ...sheet,
      maps: sheet.maps.map((map) => ({ ...map, layers: shown(map.layers) })),
    })),
  };
}
