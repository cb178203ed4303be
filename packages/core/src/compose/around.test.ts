/** Where a layer lies, told from what it covers, and the picture of it. */
import { describe, expect, test } from 'vitest';
import { layerOf, smallLivery, smallTemplate, sourcesFor } from '../testing/scenes.ts';
import { boxOfLayer, pictureAround } from './around.ts';

const template = smallTemplate(512);
const [sheet] = template.sheets;
const red = layerOf('solid', { paint: { hex: '#ff0000' } });
const square = layerOf('shape', {
  ...{ x: 300, y: 100, line: null, paint: { hex: '#0000ff' } },
  paths: [
    {
      closed: true,
      how: 'add',
      knots: [
        [-40, -20],
        [40, -20],
        [40, 20],
        [-40, 20],
      ].map(([x, y]) => ({ x, y, smooth: false })),
    },
  ],
});
const livery = smallLivery([red, square], template);

describe('where a layer lies', () => {
  test('is the box of what it covers, as fine as it was looked for; whatever lies over it, and hidden too', async () => {
    const sources = await sourcesFor(livery, template);
    const box = boxOfLayer(livery, sheet.key, 'colour', sheet, square.id, sources)!;
    expect(Math.abs(box.left - 260)).toBeLessThanOrEqual(2);
    expect(Math.abs(box.right - 340)).toBeLessThanOrEqual(2);
    expect(Math.abs(box.top - 80)).toBeLessThanOrEqual(2);
    expect(Math.abs(box.bottom - 120)).toBeLessThanOrEqual(2);
    const hidden = smallLivery([{ ...square, hidden: true }, red], template);
    expect(boxOfLayer(hidden, sheet.key, 'colour', sheet, square.id, sources)).toEqual(box);
    expect(boxOfLayer(livery, sheet.key, 'colour', sheet, red.id, sources)).toEqual({
      left: 0,
      top: 0,
      right: 512,
      bottom: 512,
    });
  });

  test('what covers nothing is nowhere', async () => {
    const away = { ...square, x: 3000 };
    const none = smallLivery([away], template);
    expect(boxOfLayer(none, sheet.key, 'colour', sheet, away.id, await sourcesFor(none, template))).toBeNull();
  });
});

describe('its picture', () => {
  const at = ({ data, width }: { data: Uint8Array; width: number }, x: number, y: number) => [
    ...data.subarray((y * width + x) * 4, (y * width + x) * 4 + 4),
  ];

  test('shows the sheet about it, with a line in two tones', async () => {
    const sources = await sourcesFor(livery, template);
    const box = { left: 260, top: 80, right: 340, bottom: 120 };
    const image = pictureAround(livery, sheet.key, 'colour', sheet, box, { width: 200, height: 100 }, sources);
    expect([image.width, image.height]).toEqual([200, 100]);
    // Its middle is the box's.
    expect(at(image, 100, 50)).toEqual([0, 0, 255, 255]);
    expect(at(image, 100, 5)).toEqual([255, 0, 0, 255]);
    const left = 100 - 40;
    expect(at(image, left - 1, 50)).toEqual([255, 0, 0, 255]);
    expect(at(image, left - 2, 50)).toEqual([16, 16, 16, 255]);
    expect(at(image, left - 3, 50)).toEqual([255, 255, 255, 255]);
  });

  test('stays within the sheet, and within what was asked for', async () => {
    const sources = await sourcesFor(livery, template);
    for (const box of [
      { left: 0, top: 0, right: 512, bottom: 512 },
      { left: 500, top: 500, right: 512, bottom: 512 },
      { left: 0, top: 0, right: 512, bottom: 3 },
      { left: 4, top: 0, right: 5, bottom: 512 },
    ]) {
      const image = pictureAround(livery, sheet.key, 'colour', sheet, box, { width: 160, height: 70 }, sources);
      expect(image.width).toBeLessThanOrEqual(160);
      expect(image.height).toBeLessThanOrEqual(70);
      expect(image.data.every((value, i) => i % 4 < 3 || value === 255)).toBe(true);
    }
  });
});
