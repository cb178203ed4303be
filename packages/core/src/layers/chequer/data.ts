import { z } from 'zod';
import { layerBase } from '../../livery/layerBase.ts';
import { degrees, Paint, texels } from '../../livery/paint.ts';
import { ANGLE, PAINT, round, shortNumber, turnedWithin, type LayerData } from '../data.ts';

export const ChequerLayer = z.strictObject({
  kind: z.literal('chequer'),
  ...layerBase,
  paint: Paint,
  /** Paint of the other cells; null leaves them open. */
  other: Paint.nullable(),
  x: texels,
  y: texels,
  angle: degrees,
  cell: z.number().min(1).max(8192),
  columns: z.number().int().min(1).max(400),
  rows: z.number().int().min(1).max(400),
});

export const chequer: LayerData<z.infer<typeof ChequerLayer>> = {
  name: 'Chequer',
  paints: ({ paint, other }) => (other ? [paint, other] : [paint]),
  frame: ({ x, y, columns, rows, cell, angle }) => ({ x, y, width: columns * cell, height: rows * cell, turn: angle }),
  sides: () => 'together',
  sized: ({ columns }, width) => ({ cell: round(width / columns) }),
  turns: 'angle',
  mirrored: ({ angle }) => ({ angle: turnedWithin(-angle) }),
  handles: () => [],
  place: () => [
    [{ key: 'cell', label: 'cell', min: 1, max: 8192 }, ANGLE],
    [
      { key: 'columns', label: 'across', unit: '', min: 1, max: 400, digits: 0 },
      { key: 'rows', label: 'down', unit: '', min: 1, max: 400, digits: 0 },
    ],
  ],
  colours: [PAINT, { is: 'maybe', key: 'other', label: 'other cells', tick: 'Paint the other cells too' }],
  numbers: ({ cell, angle }) => `cell ${shortNumber(cell)} ${shortNumber(angle)}°`,
  makers: [
    {
      key: 'chequer',
      phase: 'Pattern',
      name: 'Chequer',
      what: 'a field of two colours in turn',
      make: ({ x, y, sheet, paint }) => ({
        paint: paint(1),
        other: null,
        x,
        y,
        angle: 0,
        cell: Math.round(sheet.height / 40),
        columns: 8,
        rows: 3,
      }),
    },
  ],
};
