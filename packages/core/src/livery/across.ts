/** Layers that run over several sheets: one on each, under a common name, changed together. */
import type { Edit, SingleEdit } from './edit.ts';
import type { Layer } from './layer.ts';
import { findLayer, type Livery } from './livery.ts';

/** The other layers of the same run over sheets. */
function siblings(livery: Livery, layer: Layer): Layer[] {
  if (layer.across === undefined) return [];
  return livery.sheets.flatMap((sheet) =>
    sheet.maps.flatMap((map) => map.layers.filter((other) => other.across === layer.across && other.id !== layer.id)),
  );
}

/** Settings that say where on its own sheet a layer lies: the others move by as much. */
const PLACES = ['x', 'y', 'left', 'top'];

/** The edit, with what it does to the other sheets of a layer that runs over several. Parts belong to one sheet and stay as they are. */
export function expandAcross(livery: Livery, edit: Edit): Edit {
  if (edit.do === 'together') return { do: 'together', edits: edit.edits.flatMap((single) => expand(livery, single)) };
  const edits = expand(livery, edit);
  return edits.length === 1 ? edit : { do: 'together', edits };
}

function expand(livery: Livery, edit: SingleEdit): SingleEdit[] {
  if (edit.do !== 'set-layer' && edit.do !== 'remove-layer') return [edit];
  const layer = findLayer(livery, edit.layer)?.layer;
  if (!layer) return [edit];
  const others = siblings(livery, layer);
  if (edit.do === 'remove-layer') return [edit, ...others.map(({ id }): SingleEdit => ({ ...edit, layer: id }))];
  const before = layer as unknown as Record<string, unknown>;
  const more = others.map((other): SingleEdit => {
    const own = other as unknown as Record<string, unknown>;
    const entries = Object.entries(edit.set).filter(([key]) => key !== 'parts');
    const set = entries.map(([key, value]) =>
      PLACES.includes(key) && typeof value === 'number'
        ? [key, (own[key] as number) + value - (before[key] as number)]
        : [key, value],
    );
    return { do: 'set-layer', layer: other.id, set: Object.fromEntries(set) as typeof edit.set };
  });
  return [edit, ...more.filter((single) => single.do === 'set-layer' && Object.keys(single.set).length > 0)];
}
