import { describe, expect, test } from 'vitest';
import fc from '../testing/property.ts';
import { renderSheet } from '../compose/renderSheet.ts';
import { ciede2000, labOf } from '../colour/ciede2000.ts';
import { rgbOfHex } from '../colour/hex.ts';
import type { Template } from '../livery/template.ts';
import { layerOf, NO_HASH, smallLivery, smallTemplate, sourcesFor } from '../testing/scenes.ts';
import { cellAt, cellsOf } from './cells.ts';
import { LOCATOR_DIFFERENCE } from './locator.ts';
import { cellPlaceAt, placeNames, placesOf } from './places.ts';
import { reviseTemplate } from './reviseTemplate.ts';
import { boxOfPlaces } from './surface.ts';
import { layoutOf } from './templateLayout.ts';

const atlas = (cells: Template['sheets'][number]['cells'], more: Partial<Template> = {}): Template => {
  const template = smallTemplate(64);
  return { ...template, boards: true, ...more, sheets: [{ ...template.sheets[0], cells }] };
};
const size = { width: 64, height: 64 };

/** Texels that a layer over the whole sheet paints, as "x y". */
async function painted(template: Template, keys: string[], inMask = false): Promise<Set<string>> {
  const from = { kind: 'parts', parts: keys };
  const mask = { from, strokes: [], inverted: false, feather: 0, linked: null, off: false };
  const layer = layerOf('solid', { paint: { scheme: 'red' }, ...(inMask ? { mask } : { parts: keys }) });
  const livery = smallLivery([layer], template);
  const { data } = renderSheet(livery, 'face', 'colour', size, await sourcesFor(livery, template));
  const found = new Set<string>();
  for (let i = 0; i < 64 * 64; i++) if (data[i * 4 + 3] > 0) found.add(`${i % 64} ${Math.floor(i / 64)}`);
  return found;
}

describe('cells of an atlas', () => {
  test('cover a sheet whole and once, whatever their number', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 20 }),
        fc.integer({ min: 1, max: 20 }),
        fc.integer({ min: 64, max: 300 }),
        (columns, rows, width) => {
          const sheet = { ...smallTemplate().sheets[0], width, height: 97, cells: { columns, rows } };
          const area = cellsOf(sheet).reduce((sum, c) => sum + (c.right - c.left) * (c.bottom - c.top), 0);
          expect(area).toBe(width * 97);
          for (const cell of cellsOf(sheet)) expect(cellAt(sheet, cell.left, cell.top)?.number).toBe(cell.number);
          expect(cellAt(sheet, width, 0)).toBeNull();
        },
      ),
    );
  });

  test('are what a layer or a mask keeps to, to the texel; nothing of the neighbour’s is touched', async () => {
    // Three columns do not divide 64: edges at 21 and 43.
    const template = atlas({ columns: 3, rows: 2 });
    for (const inMask of [false, true]) {
      const found = await painted(template, ['cell:2'], inMask);
      expect(found.size).toBe(22 * 32);
      for (let y = 0; y < 64; y++)
        for (let x = 0; x < 64; x++) expect(found.has(`${x} ${y}`)).toBe(x >= 21 && x < 43 && y < 32);
      // With a part of the model beside it, both.
      const both = await painted(atlas({ columns: 3, rows: 2 }, { boards: undefined }), ['cell:1', 'right'], inMask);
      expect(both.has('0 0')).toBe(true);
      expect(both.has('40 30')).toBe(true);
      expect(both.has('0 63')).toBe(false);
    }
    expect((await painted(template, ['cell:99'])).size).toBe(0);
    expect(boxOfPlaces(template, 'face', ['cell:2', 'cell:6'])).toEqual({ left: 21, top: 0, right: 64, bottom: 64 });
  });

  test('of one name are one place; a layer names it once', () => {
    const names = { '1': 'Bonnet', '2': 'Bonnet', '5': 'Roof' };
    const template = atlas({ columns: 4, rows: 2, names });
    const places = placesOf(template, 'face');
    expect(places.map(({ name }) => name)).toEqual([
      'Bonnet',
      'Cell 3',
      'Cell 4',
      'Roof',
      'Cell 6',
      'Cell 7',
      'Cell 8',
    ]);
    expect(places[0]).toMatchObject({ keys: ['cell:1', 'cell:2'], left: 0, right: 32, top: 0, bottom: 32 });
    expect(cellPlaceAt(template.sheets[0], 20, 5)?.keys).toEqual(['cell:1', 'cell:2']);
    expect(placeNames(template, 'face', ['cell:2', 'cell:1', 'cell:7', 'left', 'gone'])).toEqual([
      'Bonnet',
      'Cell 7',
      'left half',
      'gone',
    ]);
    // On a model its parts come first; on a board the board itself is no place.
    expect(placesOf({ ...template, boards: undefined }, 'face')[0]).toMatchObject({ kind: 'part', keys: ['left'] });
    // Of very many cells only those with a name.
    expect(placesOf(atlas({ columns: 64, rows: 64, names }), 'face').map(({ name }) => name)).toEqual([
      'Bonnet',
      'Roof',
    ]);
  });

  test('get their names by a change of the template', () => {
    const cells = { columns: 8, rows: 8, names: { '3': 'Sail' } };
    const template = atlas(undefined);
    const next = reviseTemplate(template, NO_HASH, [{ do: 'set-sheet', sheet: 'face', set: { cells } }]);
    expect(placesOf(next, 'face').find(({ name }) => name === 'Sail')?.keys).toEqual(['cell:3']);
  });
});

describe('the locator of a sheet without a model', () => {
  test('numbers a grid over all sheets, each cell in its own colour, unlike every cell that it touches', () => {
    const one = atlas(undefined);
    const template = { ...one, sheets: [one.sheets[0], { ...one.sheets[0], key: 'back', width: 128 }] };
    const { islands, notes } = layoutOf(template);
    expect(notes).toEqual([]);
    expect(islands.map(({ number }) => number)).toEqual(Array.from({ length: 128 }, (_, i) => i + 1));
    for (const key of ['face', 'back'])
      expect(new Set(islands.filter(({ sheet }) => sheet === key).map(({ colour }) => colour)).size).toBe(64);
    for (const a of islands)
      for (const b of islands) {
        const apart = [a.box.left - b.box.left, a.box.top - b.box.top].map(Math.abs);
        const beside = a.sheet === b.sheet && a !== b && apart[0] <= a.box.right - a.box.left && apart[1] <= 8;
        if (!beside) continue;
        const far = ciede2000(labOf(rgbOfHex(a.colour)), labOf(rgbOfHex(b.colour)));
        expect(far).toBeGreaterThanOrEqual(LOCATOR_DIFFERENCE);
      }
  });
});
