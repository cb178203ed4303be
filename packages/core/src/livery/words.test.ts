/** Texts that are cut to fit are texts still, whatever alphabet they are in. */
import { expect, test } from 'vitest';
import fc from '../testing/property.ts';
import { layerOf, smallLivery } from '../testing/scenes.ts';
import { wordsOf } from './edit.ts';
import { cutTo, words } from './words.ts';

const PADDLE = '\u{1f6f6}';

test('what is cut is the beginning, as long as is allowed, and nothing in it is half', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', maxLength: 80 }), fc.integer({ min: 0, max: 60 }), (text, most) => {
      const cut = cutTo(text, most);
      expect(words(most).safeParse(cut).success).toBe(true);
      expect(text.startsWith(cut)).toBe(true);
      expect([...cut]).toHaveLength(Math.min(most, [...text].length));
    }),
  );
});

test('a step on a layer with a long name of signs beyond the first plane has a label that can be kept', () => {
  for (let n = 50; n <= 80; n++) {
    const layer = layerOf('solid', { name: PADDLE.repeat(n), paint: { hex: '#ffffff' } });
    const label = wordsOf(smallLivery([layer]), {
      do: 'set-layer',
      layer: layer.id,
      set: { opacity: 50, hidden: true },
    });
    expect(words(120).safeParse(label).success, String(n)).toBe(true);
  }
});
