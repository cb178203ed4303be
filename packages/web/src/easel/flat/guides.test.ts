import { describe, expect, test } from 'vitest';
import { contrast, rgbOfHex } from '@wet-lacquer/core/colour/hex.ts';
import { GUIDE_TONES } from '../../parts/guideShapes.ts';
import { GUIDE_CASING, GUIDE_LINE } from './guides.ts';
import { around, pieceAt, piecesOf } from './pieces.ts';
import { showChannel } from './artCanvas.ts';
import { newImage } from '@wet-lacquer/core/raster/image.ts';
import { smallTemplate } from '@wet-lacquer/core/testing/scenes.ts';

describe('guides', () => {
  test('every line and its casing are 3:1 apart at least (WCAG 2.2, 1.4.11 and "contrast ratio")', () => {
    for (const tone of [GUIDE_LINE, ...Object.values(GUIDE_TONES)])
      expect(contrast(rgbOfHex(tone), rgbOfHex(GUIDE_CASING)), tone).toBeGreaterThanOrEqual(3);
  });

  test('so whatever grey the art is, the line or the casing is 3:1 apart from it, or nearly so', () => {
    // Two tones a and b that are c:1 apart leave no colour nearer than the square root of c to both.
    const least = Math.sqrt(contrast(rgbOfHex(GUIDE_LINE), rgbOfHex(GUIDE_CASING)));
    expect(least).toBeGreaterThan(3);
    for (let v = 0; v < 256; v++) {
      const art = [v, v, v] as const;
      const best = Math.max(contrast(art, rgbOfHex(GUIDE_LINE)), contrast(art, rgbOfHex(GUIDE_CASING)));
      expect(best, String(v)).toBeGreaterThan(3);
    }
  });
});

describe('one channel alone', () => {
  const pixels = () => {
    const image = newImage(1, 2);
    image.data.set([10, 20, 30, 0, 40, 50, 60, 128]);
    return new Uint8ClampedArray(image.data);
  };
  test.each([
    ['all', [10, 20, 30, 0, 40, 50, 60, 128]],
    ['colour', [10, 20, 30, 255, 40, 50, 60, 255]],
    ['green', [20, 20, 20, 255, 50, 50, 50, 255]],
    ['alpha', [0, 0, 0, 255, 128, 128, 128, 255]],
  ] as const)('%s', (channel, expected) => {
    const shown = pixels();
    showChannel(shown, channel);
    expect([...shown]).toEqual(expected);
  });
});

describe('sheets that are shown together', () => {
  const sheet = smallTemplate().sheets[0];
  const template = {
    ...smallTemplate(),
    sheets: [sheet, { ...sheet, key: 'next' }, { ...sheet, key: 'far' }],
    runs: [
      {
        key: 'hull',
        name: 'Hull',
        pieces: [
          { sheet: 'face', left: 0, top: 0 },
          { sheet: 'next', left: 60, top: 4 },
        ],
      },
    ],
  };

  test('lie around the one that is worked on, in its texels', () => {
    const pieces = piecesOf(template, 'next', 'hull');
    expect(pieces.map((p) => [p.sheet.key, p.left, p.top])).toEqual([
      ['face', -60, -4],
      ['next', 0, 0],
    ]);
    expect(around(pieces)).toEqual({ left: -60, top: -4, width: 124, height: 68 });
    expect(pieceAt(pieces, -10, 0)).toMatchObject({ piece: { sheet: { key: 'face' } }, x: 50, y: 4 });
    expect(pieceAt(pieces, 1, 1)).toMatchObject({ piece: { sheet: { key: 'next' } }, x: 1, y: 1 });
    expect(pieceAt(pieces, 500, 0)).toBeNull();
  });

  test('are one alone without a run, or with one that it is no piece of', () => {
    expect(piecesOf(template, 'next', null)).toHaveLength(1);
    expect(piecesOf(template, 'far', 'hull')).toEqual([{ sheet: template.sheets[2], left: 0, top: 0 }]);
  });
});
