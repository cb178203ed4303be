/** A step whose target is gone, made to mean something else: what was done to one layer is done to another. */
import type { Edit, SingleEdit } from '@wet-lacquer/core/livery/edit.ts';
import { newColourId, newLayerId, type LayerId } from '@wet-lacquer/core/livery/ids.ts';
import { findLayer, type Livery } from '@wet-lacquer/core/livery/livery.ts';

/** What is chosen now. */
export interface Aim {
  layer: LayerId | null;
  sheet: string;
  map: string;
}

/** @returns the step on what is chosen; null when nothing in it can be aimed at that */
export function reaim(livery: Livery, edit: Edit, aim: Aim): Edit | null {
  if (edit.do !== 'together') return reaimed(livery, edit, aim);
  const edits = edit.edits.map((one) => reaimed(livery, one, aim));
  return edits.every((one) => one !== null) ? { do: 'together', edits } : null;
}

function reaimed(livery: Livery, edit: SingleEdit, aim: Aim): SingleEdit | null {
  switch (edit.do) {
    case 'set-layer':
    case 'remove-layer':
    case 'add-stroke':
    case 'remove-stroke':
    case 'set-mask':
      return isThere(livery, edit.layer) ? edit : aim.layer && { ...edit, layer: aim.layer };
    case 'move-layer': {
      const layer = isThere(livery, edit.layer) ? edit.layer : aim.layer;
      return layer && { ...edit, layer, ...placeOf(livery, edit, aim) };
    }
    case 'add-layer': {
      const layer = isThere(livery, edit.layer.id) ? { ...edit.layer, id: newLayerId() } : edit.layer;
      return { ...edit, layer, ...placeOf(livery, edit, aim) };
    }
    case 'add-colour': {
      const taken = livery.scheme.some(({ id }) => id === edit.colour.id);
      return taken ? { ...edit, colour: { ...edit.colour, id: newColourId() } } : edit;
    }
    case 'set-colour':
    case 'remove-colour':
      return livery.scheme.some(({ id }) => id === edit.colour) ? edit : null;
    case 'set-sheet':
      return livery.sheets.some(({ key }) => key === edit.sheet) ? edit : { ...edit, sheet: aim.sheet };
    case 'add-selection': {
      const taken = (livery.selections ?? []).some(({ id }) => id === edit.selection.id);
      return { ...edit, selection: { ...edit.selection, ...(taken && { id: crypto.randomUUID() }) } };
    }
    case 'add-reference': {
      const taken = (livery.references ?? []).some(({ id }) => id === edit.reference.id);
      return { ...edit, reference: { ...edit.reference, ...(taken && { id: crypto.randomUUID() }) } };
    }
    case 'add-version': {
      const taken = (livery.versions ?? []).some(({ id }) => id === edit.version.id);
      return { ...edit, version: { ...edit.version, ...(taken && { id: crypto.randomUUID() }) } };
    }
    // What these are for is named in them, and there is no other.
    case 'remove-selection':
    case 'remove-reference':
    case 'move-reference':
    case 'remove-version':
    case 'set-particular':
    case 'take-template':
    case 'also-by':
    case 'become':
    case 'pin-font':
      return edit;
  }
}

const isThere = (livery: Livery, layer: LayerId): boolean => findLayer(livery, layer) !== null;

/** The place that a layer was to have, or the map that is worked on when that is not there. */
function placeOf(livery: Livery, { sheet, map }: { sheet: string; map: string }, aim: Aim) {
  const there = livery.sheets.find(({ key }) => key === sheet)?.maps.some(({ key }) => key === map);
  return there ? { sheet, map } : { sheet: aim.sheet, map: aim.map };
}
