import fc from '../testing/property.ts';
import { describe, expect, test } from 'vitest';
import { layerOf, smallLivery } from '../testing/scenes.ts';
import { applyEdit, Edit, TargetGone } from './edit.ts';
import { ColourId, EditId, LayerId, Sha256 } from './ids.ts';
import { applyEntry, redoEntry, stacksOf, undoEntry, type AppliedEntry, type Entry } from './history.ts';
import { colourOf, fillIn, findLayer, layersOf, type Livery } from './livery.ts';
import { newLivery } from './newLivery.ts';
import { slugOf } from './slug.ts';
import { smallTemplate } from '../testing/scenes.ts';

const solid = (id: string) => layerOf('solid', { id, paint: { scheme: 'red' } });
const at = { sheet: 'face', map: 'colour' };

describe('edits', () => {
  const livery = smallLivery([solid('a'), solid('b'), solid('c')]);
  const order = (l: Livery) => layersOf(l, 'face').map((layer) => layer.id);

  test('adding puts a layer at its place, and the inverse takes it away', () => {
    const { livery: next, inverse } = applyEdit(livery, { do: 'add-layer', ...at, layer: solid('x'), index: 1 });
    expect(order(next)).toEqual(['a', 'x', 'b', 'c']);
    expect(applyEdit(next, inverse).livery).toEqual(livery);
  });

  test('moving counts places without the moved layer', () => {
    const { livery: next, inverse } = applyEdit(livery, {
      do: 'move-layer',
      layer: LayerId.parse('a'),
      ...at,
      index: 2,
    });
    expect(order(next)).toEqual(['b', 'c', 'a']);
    expect(order(applyEdit(next, inverse).livery)).toEqual(['a', 'b', 'c']);
  });

  test('setting changes only what it names, so that two people can change one layer', () => {
    const one = applyEdit(livery, { do: 'set-layer', layer: LayerId.parse('a'), set: { opacity: 40 } }).livery;
    const both = applyEdit(one, { do: 'set-layer', layer: LayerId.parse('a'), set: { name: 'Ground' } }).livery;
    expect(findLayer(both, LayerId.parse('a'))?.layer).toMatchObject({ opacity: 40, name: 'Ground' });
  });

  test('the given livery is never changed', () => {
    const before = structuredClone(livery);
    applyEdit(livery, { do: 'remove-layer', layer: LayerId.parse('b') });
    applyEdit(livery, { do: 'set-colour', colour: ColourId.parse('red'), set: { hex: '#123456' } });
    expect(livery).toEqual(before);
  });

  test('a gone target is told apart from a bad value', () => {
    const gone = { do: 'set-layer' as const, layer: LayerId.parse('nobody'), set: { opacity: 1 } };
    expect(() => applyEdit(livery, gone)).toThrow(TargetGone);
    const bad = { do: 'set-layer' as const, layer: LayerId.parse('a'), set: { opacity: 400 } };
    expect(() => applyEdit(livery, bad)).toThrow(/opacity/);
    expect(() => applyEdit(livery, bad)).not.toThrow(TargetGone);
  });

  test('a layer is never there twice, and keeps its id and kind', () => {
    expect(() => applyEdit(livery, { do: 'add-layer', ...at, layer: solid('a'), index: 0 })).toThrow(/there already/);
    expect(Edit.safeParse({ do: 'set-layer', layer: 'a', set: { id: 'z' } }).success).toBe(false);
    expect(Edit.safeParse({ do: 'set-layer', layer: 'a', set: { kind: 'fade' } }).success).toBe(false);
  });

  test('several changes are one step and go back together', () => {
    const hash = Sha256.parse('1'.repeat(64));
    const edit: Edit = {
      do: 'together',
      edits: [
        { do: 'pin-font', font: 'anton', hash },
        { do: 'set-particular', key: 'number', value: '12' },
        { do: 'set-sheet', sheet: 'face', set: { ready: true } },
        { do: 'add-colour', colour: { id: ColourId.parse('green'), name: 'Green', hex: '#00ff00' }, index: 9 },
        { do: 'remove-layer', layer: LayerId.parse('c') },
      ],
    };
    const { livery: next, inverse } = applyEdit(livery, edit);
    expect(next.pins.fonts.anton).toBe(hash);
    expect(next.scheme).toHaveLength(3);
    expect(applyEdit(next, inverse).livery).toEqual(livery);
  });
});

/** Any edit that may or may not apply to the small livery. */
const anyEdit: fc.Arbitrary<Edit> = fc.oneof(
  fc.record({
    do: fc.constant('add-layer' as const),
    sheet: fc.constant('face'),
    map: fc.constant('colour'),
    layer: fc.uuid().map(solid),
    index: fc.nat(6),
  }),
  fc.record({
    do: fc.constant('remove-layer' as const),
    layer: fc.constantFrom('a', 'b', 'c').map((id) => LayerId.parse(id)),
  }),
  fc.record({
    do: fc.constant('move-layer' as const),
    layer: fc.constantFrom('a', 'b', 'c').map((id) => LayerId.parse(id)),
    sheet: fc.constant('face'),
    map: fc.constant('colour'),
    index: fc.nat(6),
  }),
  fc.record({
    do: fc.constant('set-layer' as const),
    layer: fc.constantFrom('a', 'b').map((id) => LayerId.parse(id)),
    set: fc.record({ opacity: fc.nat(100) }),
  }),
  fc.record({
    do: fc.constant('set-particular' as const),
    key: fc.constantFrom('number', 'team'),
    value: fc.option(fc.string({ maxLength: 9 })),
  }),
  fc.record({
    do: fc.constant('set-colour' as const),
    colour: fc.constant(ColourId.parse('red')),
    set: fc.record({ hex: fc.constantFrom('#000000', '#abcdef') }),
  }),
);

test('any run of edits is taken back by its inverses, last first', () => {
  fc.assert(
    fc.property(fc.array(anyEdit, { maxLength: 12 }), (edits) => {
      const start = smallLivery([solid('a'), solid('b'), solid('c')]);
      let livery = start;
      const inverses: Edit[] = [];
      for (const edit of edits) {
        try {
          const result = applyEdit(livery, edit);
          livery = result.livery;
          inverses.unshift(result.inverse);
        } catch (error) {
          if (!(error instanceof TargetGone) && !/there already/.test((error as Error).message)) throw error;
        }
      }
      for (const inverse of inverses) livery = applyEdit(livery, inverse).livery;
      expect(livery).toEqual(start);
    }),
    { numRuns: 300 },
  );
});

describe('history', () => {
  let n = 0;
  const entry = (person: string, edit: Edit): Entry => ({
    id: EditId.parse(`e${++n}`),
    person,
    edit,
    undoes: null,
    redoes: null,
    label: 'x',
  });
  const opacity = (layer: string, value: number): Edit => ({
    do: 'set-layer',
    layer: LayerId.parse(layer),
    set: { opacity: value },
  });
  const play = (entries: Entry[]) => {
    let livery = smallLivery([solid('a'), solid('b')]);
    const log: AppliedEntry[] = [];
    const add = (next: Entry) => {
      const result = applyEntry(livery, next);
      livery = result.livery;
      log.push(result.applied);
    };
    entries.forEach(add);
    return { log, add, now: () => livery, of: (id: string) => findLayer(livery, LayerId.parse(id))?.layer.opacity };
  };

  test('undo takes back one’s own last step and leaves what others did since', () => {
    const game = play([entry('ann', opacity('a', 50)), entry('bob', opacity('b', 30))]);
    game.add(undoEntry(game.log, { id: EditId.parse('u1'), person: 'ann' })!);
    expect([game.of('a'), game.of('b')]).toEqual([100, 30]);
    expect(undoEntry(game.log, { id: EditId.parse('u2'), person: 'ann' })).toBeNull();
  });

  test('undo and redo run through the whole history, and a new step ends redo', () => {
    const game = play([10, 20, 30].map((value) => entry('ann', opacity('a', value))));
    const undo = () => game.add(undoEntry(game.log, { id: EditId.parse(`u${++n}`), person: 'ann' })!);
    const redo = () => game.add(redoEntry(game.log, { id: EditId.parse(`r${++n}`), person: 'ann' })!);
    undo();
    undo();
    expect(game.of('a')).toBe(10);
    redo();
    expect(game.of('a')).toBe(20);
    undo();
    undo();
    expect(game.of('a')).toBe(100);
    redo();
    redo();
    redo();
    expect(game.of('a')).toBe(30);
    expect(redoEntry(game.log, { id: EditId.parse('none'), person: 'ann' })).toBeNull();
    undo();
    game.add(entry('ann', opacity('a', 77)));
    expect(stacksOf(game.log, 'ann').redo).toHaveLength(0);
  });
});

test('lettering takes the particulars, and leaves names that it does not know', () => {
  expect(fillIn('No. {number}, {team}', { number: '7' })).toBe('No. 7, {team}');
});

test('a reference to a colour that is gone is mid grey', () => {
  expect(colourOf(smallLivery([]), { scheme: ColourId.parse('gone') })).toEqual([128, 128, 128]);
});

test('a new livery has a key that every game can take', () => {
  expect(slugOf('Ébène & Tide  Nº7!')).toBe('ebene-tide-n-7');
  const made = newLivery(smallTemplate(), Sha256.parse('0'.repeat(64)), 'Grey Heron, 2nd coat');
  expect(made.particulars.key).toBe('grey-heron-2nd-coat');
  expect(made.sheets.map((sheet) => sheet.key)).toEqual(['face']);
});
