import { describe, expect, test } from 'vitest';
import { applyEdit, Edit, reaim, wordsOf } from './edit.ts';
import { FIRST_FINISHES } from './finish.ts';
import { LayerId } from './ids.ts';
import { FIRST_NIGHT } from './night.ts';
import { newMask } from './paint.ts';
import { layerOf, NO_HASH, smallLivery } from '../testing/scenes.ts';

const stroke = { id: 's', how: 'paint', opacity: 100, blob: NO_HASH, tiles: [0] } as const;
const livery = smallLivery([
  layerOf('brush', { id: 'here', strokes: [{ ...stroke, id: 'gone-stroke' }], mask: newMask({ kind: 'all' }) }),
  layerOf('solid', { id: 'other', paint: { scheme: 'red' } }),
]);
const aim = { layer: LayerId.parse('here'), sheet: 'face', map: 'colour' };
const fresh = layerOf('solid', { id: 'other', paint: { scheme: 'blue' } });
const spec = { key: 'brackwater-run', version: 1 };
const picture = { name: 'p', blob: NO_HASH, sheet: 'face' };

const plate = {
  ...{ id: 'one', name: 'One', sheet: 'face', left: 0, top: 0, width: 64, height: 32 },
  ...{ at: [0, 0, 0], facing: [0, 0, 1], up: [0, 1, 0], across: 1, lift: 0.002, form: { kind: 'flat' } },
} as const;

/** Every kind of edit with a target that is gone, or an id that is taken; null: it can mean nothing else. */
const EDITS: Record<Exclude<Edit['do'], 'together'>, { edit: unknown; can: boolean }> = {
  'add-layer': { edit: { sheet: 'gone', map: 'colour', layer: fresh, index: 0 }, can: true },
  'remove-layer': { edit: { layer: 'gone' }, can: true },
  'move-layer': { edit: { layer: 'gone', sheet: 'gone', map: 'x', index: 1 }, can: true },
  'set-layer': { edit: { layer: 'gone', set: { opacity: 20 } }, can: true },
  'add-stroke': { edit: { layer: 'gone', on: 'layer', stroke }, can: true },
  'remove-stroke': { edit: { layer: 'gone', on: 'layer', stroke: 'gone-stroke' }, can: true },
  'set-mask': { edit: { layer: 'gone', set: { feather: 3 } }, can: true },
  'add-selection': { edit: { selection: { id: 'q', ...picture, tiles: [0] } }, can: true },
  'remove-selection': { edit: { selection: 'gone' }, can: false },
  'add-colour': { edit: { colour: { id: 'red', name: 'Red', hex: '#ff0000' }, index: 0 }, can: true },
  'remove-colour': { edit: { colour: 'gone' }, can: false },
  'set-colour': { edit: { colour: 'gone', set: { name: 'x' } }, can: false },
  'add-finish': { edit: { finish: { ...FIRST_FINISHES[2], name: 'Other' }, index: 0 }, can: true },
  'remove-finish': { edit: { finish: 'gone' }, can: false },
  'set-finish': { edit: { finish: 'gone', set: { roughness: 4 } }, can: false },
  'set-night': { edit: { night: FIRST_NIGHT }, can: true },
  'set-particular': { edit: { key: 'number', value: '8' }, can: true },
  'set-sheet': { edit: { sheet: 'gone', set: { ready: true } }, can: true },
  'add-reference': { edit: { reference: { id: 'p', ...picture, left: 0, top: 0, width: 9, height: 9 } }, can: true },
  'remove-reference': { edit: { reference: 'gone' }, can: false },
  'move-reference': { edit: { reference: 'gone', set: { left: 3 } }, can: false },
  'add-plate': { edit: { plate }, can: true },
  'remove-plate': { edit: { plate: 'gone' }, can: false },
  'set-plate': { edit: { plate: 'gone', set: { lift: 0.01, group: null } }, can: false },
  'take-template': { edit: { template: NO_HASH, spec, sheets: [] }, can: true },
  'also-by': { edit: { specs: [] }, can: true },
  'add-version': { edit: { version: { id: 'v', name: 'V', revision: 0 } }, can: true },
  'remove-version': { edit: { version: 'gone' }, can: false },
  become: { edit: { livery }, can: true },
  'pin-font': { edit: { font: 'anton', hash: null }, can: true },
};

describe('a step of every kind whose target is gone', () => {
  test.each(Object.entries(EDITS))('%s', (kind, { edit, can }) => {
    const parsed = Edit.parse({ do: kind, ...(edit as object) });
    const again = reaim(livery, parsed, aim);
    const made = () => applyEdit(livery, again!);
    if (can) expect(made().livery).toBeTruthy();
    else if (again) expect(made).toThrow(/no longer/);
    // Its name in the step list is there, and a sentence's beginning.
    expect(wordsOf(livery, parsed)).toMatch(/^[A-Z][^{}]{3,119}$/);
  });

  test('several that are one step go together or not at all', () => {
    const gone = LayerId.parse('gone');
    const edits = [
      { do: 'set-layer', layer: gone, set: { opacity: 5 } },
      { do: 'set-layer', layer: LayerId.parse('other'), set: { opacity: 6 } },
    ] as const;
    const again = reaim(livery, { do: 'together', edits: [...edits] }, aim)!;
    expect(applyEdit(livery, again).livery.sheets[0].maps[0].layers.map(({ opacity }) => opacity)).toEqual([5, 6]);
    expect(reaim(livery, { do: 'together', edits: [...edits] }, { ...aim, layer: null })).toBeNull();
  });
});
