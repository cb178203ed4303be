import { describe, expect, test } from 'vitest';
import fc from '@wet-lacquer/core/testing/property.ts';
import { applyEdit } from '@wet-lacquer/core/livery/edit.ts';
import { layerOf, smallLivery } from '@wet-lacquer/core/testing/scenes.ts';
import { applyChange, changeOf } from './sharing.ts';

/** As it comes out at the other side: a copy in which nothing is shared with this one. */
const sent = <T>(value: T): T => structuredClone(value);

describe('what changed', () => {
  test('comes out at the other side as it is here, step after step', () => {
    const value = fc.anything({ withObjectString: false, maxDepth: 3, withNullPrototype: false });
    fc.assert(
      fc.property(fc.array(value, { minLength: 2, maxLength: 5 }), (states) => {
        let there: unknown = sent(states[0]);
        for (let i = 1; i < states.length; i++) {
          there = applyChange(there, sent(changeOf(states[i - 1], states[i])));
          expect(there).toEqual(states[i]);
        }
      }),
    );
  });

  test('items that move, come and go within lists are found by themselves or by their names', () => {
    const item = fc.record({ id: fc.integer({ min: 0, max: 12 }).map(String), value: fc.integer({ min: 0, max: 3 }) });
    const lists = fc.array(fc.uniqueArray(item, { selector: ({ id }) => id, maxLength: 12 }), {
      minLength: 2,
      maxLength: 6,
    });
    fc.assert(
      fc.property(lists, (states) => {
        // Equal items of two states are one object, as in a livery of which one layer changed.
        const known = new Map<string, unknown>();
        const shared = states.map((list) =>
          list.map((one) => {
            const name = JSON.stringify(one);
            if (!known.has(name)) known.set(name, one);
            return known.get(name);
          }),
        );
        let there: unknown = sent(shared[0]);
        for (let i = 1; i < shared.length; i++) {
          there = applyChange(there, sent(changeOf(shared[i - 1], shared[i])));
          expect(there).toEqual(shared[i]);
        }
      }),
    );
  });

  test('of a livery with one layer set is that layer alone, and all others stay the objects that they were', () => {
    const layers = ['a', 'b', 'c'].map((id) => layerOf('solid', { id, paint: { hex: '#102030' } }));
    const before = smallLivery(layers);
    const { livery: after } = applyEdit(before, { do: 'set-layer', layer: layers[1].id, set: { opacity: 40 } });
    const change = changeOf(before, after);
    expect(JSON.stringify(change).length).toBeLessThan(400);
    const there = sent(before);
    const next = applyChange(there, sent(change)) as typeof before;
    expect(next).toEqual(after);
    const [old, now] = [there, next].map((one) => one.sheets[0].maps[0].layers);
    expect([now[0] === old[0], now[1] === old[1], now[2] === old[2]]).toEqual([true, false, true]);
    expect(next.scheme).toBe(there.scheme);
  });

  test('one more stroke on a thousand is one stroke', () => {
    const strokes = Array.from({ length: 1000 }, (_, i) => ({ id: `s${i}`, tiles: [i] }));
    const change = changeOf({ strokes }, { strokes: [...strokes, { id: 'new', tiles: [1, 2] }] });
    expect(JSON.stringify(change).length).toBeLessThan(200);
  });
});
