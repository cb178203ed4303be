import fc from '../testing/property.ts';
import { describe, expect, test } from 'vitest';
import { layerOf, NO_HASH, smallLivery } from '../testing/scenes.ts';
import { applyEdit, Edit, expandAcross, storedIn, TargetGone } from './edit.ts';
import { ColourId, EditId, LayerId, Sha256 } from './ids.ts';
import { applyEntry, redoEntry, stacksOf, undoEntry, type AppliedEntry, type Entry } from './history.ts';
import type { Layer } from './layer.ts';
import { colourOf, fillIn, findLayer, layersOf, type Livery } from './livery.ts';
import { newLivery } from './newLivery.ts';
import { newMask, type MaskFrom } from './paint.ts';
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

describe('layers that run over several sheets', () => {
  const template = { ...smallTemplate(), sheets: ['a', 'b'].map((key) => ({ ...smallTemplate().sheets[0], key })) };
  const id = (name: string) => LayerId.parse(name);
  const run = (k: number, more: object = {}) =>
    layerOf('stripe', { id: `s${k}`, across: 'run', paint: { hex: '#112233' }, ...place(k), ...more });
  const place = (k: number) => ({ x: 100 - k * 960, y: 50, angle: 0, width: 9, softness: 0 });
  const begin = (...extra: [string, Layer][]) => {
    let livery = newLivery(template, NO_HASH, 'One');
    for (const [sheet, layer] of [...extra, ['a', run(0)] as const, ['b', run(1)] as const])
      livery = applyEdit(livery, { do: 'add-layer', sheet, map: 'colour', index: 9, layer }).livery;
    return livery;
  };
  const both = (livery: Livery, edit: Edit) => {
    const { livery: next, inverse } = applyEdit(livery, expandAcross(livery, edit));
    expect(applyEdit(next, inverse).livery).toEqual(livery);
    return ['s0', 's1'].map((name) => findLayer(next, id(name))!.layer);
  };
  const stroke = (name: string) => ({ id: name, how: 'erase' as const, opacity: 100, blob: NO_HASH, tiles: [3] });
  const masked = (from: MaskFrom, more: object = {}) => ({ ...newMask(from), ...more });

  test('a mask comes to every sheet: its settings alike, its fade where it lies there, tiles and parts on their own sheet alone', () => {
    const livery = begin();
    const set = (mask: object | null): Edit => ({ do: 'set-layer', layer: id('s0'), set: { mask: mask as never } });
    const fade = { kind: 'fade', shape: 'linear', x: 10, y: 20, length: 30, angle: 0 } as const;
    const [a, b] = both(livery, set(masked(fade, { feather: 4, linked: { x: 100, y: 50 } })));
    expect(a.mask).toMatchObject({ from: fade, feather: 4, linked: { x: 100, y: 50 } });
    expect(b.mask).toMatchObject({ from: { ...fade, x: -950 }, feather: 4, linked: { x: -860, y: 50 } });
    const tiles: MaskFrom = { kind: 'coverage', blob: NO_HASH, tiles: [1] };
    expect(both(livery, set(masked(tiles, { inverted: true })))[1].mask).toEqual({
      ...newMask({ kind: 'all' }),
      inverted: true,
    });
    expect(both(livery, set(masked({ kind: 'parts', parts: ['a-side'] })))[1].mask!.from).toEqual({ kind: 'all' });
    expect(both(livery, set(masked({ kind: 'all' }, { strokes: [stroke('p')] })))[1].mask!.strokes).toEqual([]);
    expect(both(livery, set(null)).map(({ mask }) => mask)).toEqual([undefined, undefined]);
  });

  test('a change of a mask is one of all, and what was painted on each stays', () => {
    let livery = begin();
    for (const [k, name] of ['p', 'q'].entries()) {
      const mask = masked({ kind: 'all' }, { strokes: [stroke(name)] });
      livery = applyEdit(livery, { do: 'set-layer', layer: id(`s${k}`), set: { mask } }).livery;
    }
    const [a, b] = both(livery, { do: 'set-mask', layer: id('s1'), set: { feather: 7, inverted: true } });
    expect([a.mask, b.mask].map((mask) => [mask!.feather, mask!.inverted, mask!.strokes[0].id])).toEqual([
      [7, true, 'p'],
      [7, true, 'q'],
    ]);
    const own: Edit = { do: 'set-mask', layer: id('s0'), set: { from: { kind: 'parts', parts: ['a-side'] } } };
    expect(both(livery, own)[1].mask!.from).toEqual({ kind: 'all' });
  });

  test('a group, and a layer that masks, are those of the own sheet, or none', () => {
    const group = (name: string, across?: string) =>
      layerOf('group', { id: name, through: false, ...(across && { across }) });
    const livery = begin(['a', group('ga', 'g')], ['b', group('gb', 'g')], ['a', group('alone')]);
    const into = (name: string): Edit => ({ do: 'set-layer', layer: id('s0'), set: { group: name } });
    expect(both(livery, into('ga')).map(({ group: of }) => of)).toEqual(['ga', 'gb']);
    expect(both(livery, into('alone')).map(({ group: of }) => of)).toEqual(['alone', undefined]);
    const by = (name: string): Edit => ({
      do: 'set-layer',
      layer: id('s0'),
      set: { mask: masked({ kind: 'layer', layer: id(name) }) },
    });
    expect(both(livery, by('ga'))[1].mask!.from).toEqual({ kind: 'layer', layer: 'gb' });
    expect(both(livery, by('alone'))[1].mask!.from).toEqual({ kind: 'all' });
  });
});

test('all that an edit brings in tiles is named, whatever its mask begins with', () => {
  const blob = (n: number) => Sha256.parse(String(n).repeat(64));
  const stroke = { id: 'p', how: 'erase' as const, opacity: 100, blob: blob(1), tiles: [3] };
  const mask = { ...newMask({ kind: 'all' }), strokes: [stroke] };
  expect(storedIn({ do: 'set-layer', layer: LayerId.parse('a'), set: { mask } })).toEqual([blob(1)]);
  const from = { kind: 'coverage', blob: blob(2), tiles: [1] } as const;
  const layer = layerOf('solid', { id: 'a', paint: { hex: '#000000' }, mask: { ...mask, from } });
  expect(storedIn({ do: 'add-layer', ...at, layer, index: 0 })).toEqual([blob(1), blob(2)]);
});

test('a setting is looked at by itself: thousands of strokes are not read for an opacity', () => {
  const strokes = Array.from({ length: 20_000 }, (_, i) => ({
    ...{ id: `s${i}`, how: 'erase', opacity: 100, blob: NO_HASH },
    get tiles(): number[] {
      throw new Error('The strokes were read.');
    },
  }));
  const brush = Object.assign(layerOf('brush', { id: 'b', strokes: [] }), { strokes });
  const livery = smallLivery([brush as never]);
  const set = { do: 'set-layer' as const, layer: LayerId.parse('b'), set: { opacity: 40 } };
  expect(findLayer(applyEdit(livery, set).livery, LayerId.parse('b'))!.layer.opacity).toBe(40);
  const wrong = { ...set, set: { angle: 4 } };
  expect(() => applyEdit(livery, wrong)).toThrow('there is no setting "angle"');
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
