import { z } from 'zod';
import { layerBase } from '../../livery/layerBase.ts';
import { degrees, length, Paint, texels } from '../../livery/paint.ts';
import { directionIn, PAINT, round, shortNumber, TURN, type LayerData } from '../data.ts';

/** Slanting bars in a box. */
export const HazardLayer = z.strictObject({
  kind: z.literal('hazard'),
  ...layerBase,
  paint: Paint,
  /** Between the bars; null leaves it open. */
  other: Paint.nullable(),
  x: texels,
  y: texels,
  width: length,
  height: length,
  turn: degrees,
  /** Width of a bar, across it. */
  bar: z.number().min(1).max(8192),
  /** Of the bars against the box's upright. */
  slant: z.number().min(-80).max(80),
});

export const hazard: LayerData<z.infer<typeof HazardLayer>> = {
  name: 'Hazard stripes',
  paints: ({ paint, other }) => (other ? [paint, other] : [paint]),
  frame: ({ x, y, width, height, turn }) => ({ x, y, width, height, turn }),
  sides: () => 'apart',
  sized: (_layer, width, height) => ({ width: round(width), height: round(height) }),
  turns: 'turn',
  // Bars begin at the left of the box: turned round, they begin at its right.
  mirrored: ({ turn, slant }, how) => ({ turn: directionIn(turn, how), slant: -slant }),
  handles: () => [],
  place: () => [
    [
      { key: 'width', label: 'width', min: 1, max: 32768 },
      { key: 'height', label: 'height', min: 1, max: 32768 },
    ],
    [
      { key: 'bar', label: 'bar', min: 1, max: 8192 },
      { key: 'slant', label: 'slant', unit: '°', min: -80, max: 80 },
    ],
    [TURN],
  ],
  colours: [PAINT, { is: 'maybe', key: 'other', label: 'between', tick: 'Paint between the bars' }],
  numbers: ({ width, height, turn }) => `w ${shortNumber(width)} h ${shortNumber(height)} ${shortNumber(turn)}°`,
  makers: [
    {
      key: 'hazard',
      phase: 'Pattern',
      name: 'Hazard stripes',
      what: 'slanting bars in a box',
      make: ({ x, y, sheet, paint }) => ({
        paint: paint(1),
        other: paint(2),
        x,
        y,
        width: Math.round(sheet.width / 4),
        height: Math.round(sheet.height / 24),
        turn: 0,
        bar: Math.round(sheet.height / 40),
        slant: 40,
      }),
    },
  ],
};
