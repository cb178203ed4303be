import { expect, test } from 'vitest';
import { heldIn, holdLatest, lastOf } from './held.ts';

test('what is not there is said by its key', () => {
  expect(heldIn(new Map([['a', 0]]), 'a')).toBe(0);
  expect(() => heldIn(new Map([['a', 1]]), 'b')).toThrow('"b"');
  expect(lastOf([1, 2])).toBe(2);
  expect(() => lastOf([])).toThrow('empty');
});

test('of more than so many, what was held longest ago goes', () => {
  const map = new Map<string, number>();
  for (const key of ['a', 'b', 'a', 'c', 'd']) holdLatest(map, key, key.charCodeAt(0), 3);
  expect([...map.keys()]).toEqual(['a', 'c', 'd']);
});
