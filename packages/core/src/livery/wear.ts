/** Which layers wear a colour, and putting another in its place. */
import { InputError } from '../errors.ts';
import type { SingleEdit } from './edit.ts';
import type { ColourId } from './ids.ts';
import { paintsOf, type Layer, type Paint } from './layer.ts';
import type { Livery } from './livery.ts';

/** Every paint in a layer's settings, wherever they hold one, as `to` says; the same object when nothing changes. */
export function withPaints<T>(value: T, to: (paint: Paint) => Paint): T {
  if (Array.isArray(value)) {
    const next = value.map((one: unknown) => withPaints(one, to));
    return next.some((one, i) => one !== value[i]) ? (next as T) : value;
  }
  if (!value || typeof value !== 'object') return value;
  const entries = Object.entries(value);
  const [key, only] = entries[0] ?? [];
  if (entries.length === 1 && typeof only === 'string' && (key === 'scheme' || key === 'hex'))
    return to(value as unknown as Paint) as T;
  const next = entries.map(([name, one]) => [name, withPaints(one as unknown, to)] as const);
  return next.some(([, one], i) => one !== entries[i][1]) ? (Object.fromEntries(next) as T) : value;
}

export const samePaint = (a: Paint, b: Paint): boolean =>
  'scheme' in a ? 'scheme' in b && a.scheme === b.scheme : 'hex' in b && a.hex === b.hex;

export interface Worn {
  sheet: string;
  map: string;
  layer: Layer;
}

/** The layers that wear a paint, sheet by sheet, first on first. */
export function wornBy(livery: Livery, paint: Paint): Worn[] {
  return livery.sheets.flatMap((sheet) =>
    sheet.maps.flatMap((map) =>
      map.layers
        .filter((layer) => paintsOf(layer).some((one) => samePaint(one, paint)))
        .map((layer) => ({ sheet: sheet.key, map: map.key, layer })),
    ),
  );
}

/** Edits at most that one step can hold; see Edit. */
const MOST = 600;

/**
 * What makes every layer wear one paint instead of another, brushwork too.
 * @param takeOut the colour goes from the scheme as well: two are merged
 * @throws InputError when a locked layer wears it, or too much would change at once
 */
export function wearInstead(livery: Livery, from: Paint, to: Paint, takeOut: ColourId | null = null): SingleEdit[] {
  const swap = (paint: Paint) => (samePaint(paint, from) ? to : paint);
  const edits = wornBy(livery, from).flatMap(({ layer }): SingleEdit[] => {
    if (layer.locked) throw new InputError(`${layer.name} wears it and is locked.`);
    const strokes = layer.kind === 'brush' ? layer.strokes : [];
    const settings = { ...layer, ...(layer.kind === 'brush' && { strokes: [] }) };
    const changed = withPaints(settings, swap) as Record<string, unknown>;
    const set = Object.fromEntries(
      Object.entries(changed).filter(([key, value]) => value !== (settings as Record<string, unknown>)[key]),
    ) as Extract<SingleEdit, { do: 'set-layer' }>['set'];
    return [
      ...(Object.keys(set).length > 0 ? [{ do: 'set-layer' as const, layer: layer.id, set }] : []),
      ...strokes.flatMap((stroke, index): SingleEdit[] =>
        stroke.paint && samePaint(stroke.paint, from)
          ? [
              { do: 'remove-stroke', layer: layer.id, on: 'layer', stroke: stroke.id },
              { do: 'add-stroke', layer: layer.id, on: 'layer', stroke: { ...stroke, paint: to }, index },
            ]
          : [],
      ),
    ];
  });
  if (takeOut) edits.push({ do: 'remove-colour', colour: takeOut });
  if (edits.length > MOST)
    throw new InputError(`More than ${MOST / 2} strokes wear it: that is too much for one step.`);
  return edits;
}
