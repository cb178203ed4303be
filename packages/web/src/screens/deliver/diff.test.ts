import fc from '@wet-lacquer/core/testing/property.ts';
import { expect, test } from 'vitest';
import { diffLines } from './diff.ts';

test('a changed line goes out and comes in, the others stay', () => {
  expect(diffLines('a\nb\nc\n', 'a\nx\nc\n')).toEqual([
    { kind: 'same', text: 'a' },
    { kind: 'out', text: 'b' },
    { kind: 'in', text: 'x' },
    { kind: 'same', text: 'c' },
  ]);
});

test('without what comes in it is the old text, without what goes out the new', () => {
  const text = fc
    .array(fc.constantFrom('a', 'b', 'c', ''), { minLength: 1, maxLength: 9 })
    .map((lines) => lines.join('\n'));
  fc.assert(
    fc.property(text, text, (before, after) => {
      const lines = diffLines(before, after);
      const without = (kind: string) =>
        lines
          .filter((line) => line.kind !== kind)
          .map((line) => line.text)
          .join('\n');
      expect(without('in')).toBe(before.replace(/\n$/, ''));
      expect(without('out')).toBe(after.replace(/\n$/, ''));
    }),
  );
});
