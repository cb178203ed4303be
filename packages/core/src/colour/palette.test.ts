import { formatHex, oklch } from 'culori';
import { describe, expect, test } from 'vitest';
import { picture, randomFrom } from '../testing/images.ts';
import { rgbOfHex } from './hex.ts';
import { paletteOf, readPalette, writeHexList, writeTokens } from './palette.ts';

const scheme = [
  { name: 'Signal coral', hex: '#e9624c' },
  { name: 'Sea grey', hex: '#5b7a87' },
  { name: 'Fog.{x}', hex: '#f1e8d4' },
];

describe('hex lists', () => {
  test('what is written is read again', () => {
    expect(readPalette(writeHexList(scheme))).toEqual(scheme);
  });

  test('name before or after, with or without the sign, short values, comments and empty lines', () => {
    const text = '; harbour\r\n#AbC\r\n\nTide: 5b7a87\n"Deep water", #2f454f;\n// nothing here\nfacade is a word\n';
    expect(readPalette(text)).toEqual([
      { name: '#aabbcc', hex: '#aabbcc' },
      { name: 'Tide', hex: '#5b7a87' },
      { name: 'Deep water', hex: '#2f454f' },
    ]);
  });

  test('no colour is said', () => {
    expect(() => readPalette('only words\n')).toThrow('There is no colour in this file.');
  });
});

describe('design tokens', () => {
  // After the examples of the Design Tokens Color Module 2025.10, sections 3 and 4; values from memory of it.
  test('the form of 2025.10: space and components, alpha and hex beside them, the type from the group', () => {
    const tokens = {
      $description: 'harbour',
      hull: {
        $type: 'color',
        'hot pink': { $value: { colorSpace: 'srgb', components: [1, 0, 1], alpha: 1, hex: '#ff00ff' } },
        deep: { tone: { $value: { colorSpace: 'oklch', components: [0.7016, 0.3225, 328.363] } } },
        alias: { $value: '{hull.hot pink}' },
        other: { $value: { colorSpace: 'display-p3', components: [1, 0, 0], hex: '#FF0000' } },
      },
      gap: { $type: 'dimension', $value: { value: 4, unit: 'px' } },
      draft: { $type: 'color', $value: '#1a2B3cff' },
    };
    const read = readPalette(JSON.stringify(tokens));
    expect(read.map(({ name }) => name)).toEqual([
      'hull hot pink',
      'hull deep tone',
      'hull alias',
      'hull other',
      'draft',
    ]);
    expect(read.map(({ hex }) => hex)).toEqual([
      '#ff00ff',
      expect.stringMatching(/^#f[de]00f[def]$|^#ff00ff$/),
      '#ff00ff',
      '#ff0000',
      '#1a2b3c',
    ]);
  });

  test('OKLCH agrees with an independent library', () => {
    const random = randomFrom(5);
    for (let k = 0; k < 50; k++) {
      const rgb = [random(), random(), random()];
      const hex = formatHex({ mode: 'rgb', r: rgb[0], g: rgb[1], b: rgb[2] });
      const { l, c, h } = oklch(hex)!;
      const text = JSON.stringify({
        a: { $type: 'color', $value: { colorSpace: 'oklch', components: [l, c, h ?? 0] } },
      });
      const [own, theirs] = [rgbOfHex(readPalette(text)[0].hex), rgbOfHex(hex)];
      own.forEach((v, i) => expect(Math.abs(v - theirs[i])).toBeLessThanOrEqual(1));
    }
  });

  test('what is written is read again, with names that tokens can have', () => {
    const back = readPalette(writeTokens(scheme));
    expect(back.map(({ hex }) => hex)).toEqual(scheme.map(({ hex }) => hex));
    expect(back.map(({ name }) => name)).toEqual(['scheme Signal coral', 'scheme Sea grey', 'scheme Fog x']);
  });

  test.each([
    ['{"a":{"$type":"color","$value":"{b}"}}', /refers to b/],
    ['{"a":{"$type":"color","$value":"{b}"},"b":{"$type":"color","$value":"{a}"}}', /circle/],
    ['{"a":{"$type":"color","$value":{"colorSpace":"lab","components":[1,2,3]}}}', /cannot be read/],
    ['{"a":', /not JSON/],
    ['{"a":{"$type":"dimension","$value":1}}', /no colour/],
  ])('%s is refused in a sentence', (text, sentence) => {
    expect(() => readPalette(text)).toThrow(sentence);
  });
});

describe('the palette of a picture', () => {
  test('flat colours come back as they are, by how much there is of them; what is clear does not count', () => {
    const flat = picture(60, 60, (x, y) =>
      y < 10 ? [255, 255, 0, 0] : x < 30 ? [91, 122, 135, 255] : x < 50 ? [233, 98, 76, 255] : [241, 232, 212, 255],
    );
    const found = paletteOf(flat, 8);
    expect(found.map(({ hex }) => hex)).toEqual(['#5b7a87', '#e9624c', '#f1e8d4']);
    expect(found.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 9);
    expect(found[0].share).toBeCloseTo(0.5, 2);
  });

  test('noise about three colours is three colours, each within two steps of its middle', () => {
    const random = randomFrom(3);
    const middles = [
      [40, 60, 80],
      [200, 90, 60],
      [220, 215, 200],
    ];
    const noisy = picture(90, 90, (x) => {
      const own = middles[Math.floor(x / 30)];
      return [...own.map((v) => Math.round(v + (random() - 0.5) * 12)), 255] as [number, number, number, number];
    });
    const found = paletteOf(noisy, 3).map(({ hex }) => rgbOfHex(hex));
    for (const middle of middles)
      expect(found.some((rgb) => rgb.every((v, i) => Math.abs(v - middle[i]) <= 2))).toBe(true);
  });

  test('a clear picture has none', () => {
    expect(
      paletteOf(
        picture(4, 4, () => [9, 9, 9, 0]),
        5,
      ),
    ).toEqual([]);
  });
});
