/** What becomes of plates whose sheet a newer template took away. */
import { expect, test } from 'vitest';
import { Plate } from '@wet-lacquer/core/livery/plate.ts';
import { smallLivery, smallTemplate } from '@wet-lacquer/core/testing/scenes.ts';
import { judge, type Known } from './judge.ts';

const known: Known = {
  blob: () => undefined,
  template: () => smallTemplate(),
  spec: () => true,
  font: () => undefined,
};
const plate = Plate.parse({
  ...{ id: 'one', name: 'Board', sheet: 'plates', left: 0, top: 0, width: 64, height: 32, at: [0, 0, 0] },
  ...{ facing: [0, 0, 1], up: [0, 1, 0], across: 1, lift: 0, form: { kind: 'flat' } },
});

test('a livery with such a plate is opened, worked on and rid of it; none is added or changed', () => {
  const livery = { ...smallLivery([]), plates: [plate] };
  expect(() => judge(null, livery, known)).not.toThrow();
  const named = { ...livery, particulars: { ...livery.particulars, number: '8' } };
  expect(() => judge(livery, named, known)).not.toThrow();
  const { plates: _plates, ...without } = livery;
  expect(() => judge(livery, without, known)).not.toThrow();
  expect(() => judge(without, livery, known)).toThrow('The plate "Board": "plates" is not a sheet of plates.');
  const moved = { ...livery, plates: [{ ...plate, lift: 0.1 }] };
  expect(() => judge(livery, moved, known)).toThrow(/not a sheet of plates/);
});
