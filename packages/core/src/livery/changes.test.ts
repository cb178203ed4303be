import { expect, test } from 'vitest';
import { layerOf, smallLivery } from '../testing/scenes.ts';
import { changesBetween } from './changes.ts';
import { applyEdit } from './edit.ts';
import { FinishId, newColourId } from './ids.ts';
import { layersOf } from './livery.ts';
import { FIRST_NIGHT } from './night.ts';

const [a, b, c] = ['Ground', 'Band', 'Mark'].map((name) => layerOf('solid', { paint: { scheme: 'red' }, name }));
const livery = smallLivery([a, b, c]);
const face = { sheet: 'face', added: [], gone: [], changed: [], order: false, settings: false };

test('nothing, when nothing is different', () => {
  expect(changesBetween(livery, structuredClone(livery))).toEqual({
    sheets: [],
    colours: [],
    finishes: [],
    plates: [],
    night: false,
    particulars: [],
  });
});

test('layers added, gone, changed and moved, settings, colours and particulars, each by name', () => {
  const { livery: after } = applyEdit(livery, {
    do: 'together',
    edits: [
      { do: 'remove-layer', layer: a.id },
      { do: 'set-layer', layer: b.id, set: { opacity: 40 } },
      {
        do: 'add-layer',
        sheet: 'face',
        map: 'colour',
        layer: layerOf('solid', { paint: { hex: '#000000' }, name: 'New' }),
        index: 0,
      },
      { do: 'move-layer', layer: c.id, sheet: 'face', map: 'colour', index: 0 },
      { do: 'set-sheet', sheet: 'face', set: { finish: FinishId.parse('matt') } },
      { do: 'add-colour', colour: { id: newColourId(), name: 'Fog', hex: '#cccccc' }, index: 0 },
      { do: 'set-particular', key: 'number', value: '9' },
      { do: 'set-night', night: FIRST_NIGHT },
    ],
  });
  expect(changesBetween(livery, after)).toEqual({
    sheets: [{ ...face, added: ['New'], gone: ['Ground'], changed: ['Band'], order: true, settings: true }],
    colours: ['Fog'],
    finishes: [],
    plates: [],
    night: true,
    particulars: ['number'],
  });
});

test('a livery becomes what it was, keeps its named versions, and goes back again', () => {
  const named = applyEdit(livery, { do: 'add-version', version: { id: 'v1', name: 'First', revision: 0 } }).livery;
  const painted = applyEdit(named, { do: 'set-layer', layer: b.id, set: { opacity: 40 } }).livery;
  const { livery: back, inverse } = applyEdit(painted, { do: 'become', livery });
  expect(layersOf(back, 'face')).toEqual(layersOf(livery, 'face'));
  expect(back.versions).toEqual([{ id: 'v1', name: 'First', revision: 0 }]);
  expect(applyEdit(back, inverse).livery).toEqual(painted);
  const gone = applyEdit(painted, { do: 'remove-version', version: 'v1' });
  expect(gone.livery.versions).toBeUndefined();
  expect(applyEdit(gone.livery, gone.inverse).livery.versions).toEqual(named.versions);
  const other = { ...livery, pins: { ...livery.pins, template: 'b'.repeat(64) as typeof livery.pins.template } };
  expect(() => applyEdit(painted, { do: 'become', livery: other })).toThrow(/another version of its template/);
});
