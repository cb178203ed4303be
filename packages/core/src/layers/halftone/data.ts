import { z } from 'zod';
import { layerBase } from '../../livery/layerBase.ts';
import { degrees, length, Paint, texels } from '../../livery/paint.ts';
import { ANGLE, directionIn, NO_BOX, PAINT, shortNumber, type LayerData } from '../data.ts';

/** Dots that shrink along a line: a fade that stays two colours. */
export const HalftoneLayer = z.strictObject({
  kind: z.literal('halftone'),
  ...layerBase,
  paint: Paint,
  /** Where it is full. */
  x: texels,
  y: texels,
  /** From full to nothing. */
  length,
  angle: degrees,
  /** From dot to dot. */
  pitch: z.number().min(4).max(1024),
});

export const halftone: LayerData<z.infer<typeof HalftoneLayer>> = {
  ...NO_BOX,
  name: 'Half-tone',
  paints: ({ paint }) => [paint],
  mirrored: ({ angle }, how) => ({ angle: directionIn(angle, how) }),
  handles: () => ['run'],
  place: () => [
    'along',
    [{ key: 'length', label: 'length', min: 1, max: 32768 }, ANGLE],
    [{ key: 'pitch', label: 'dot to dot', min: 4, max: 1024 }],
  ],
  colours: [PAINT],
  numbers: ({ length: reach, angle }) => `length ${shortNumber(reach)} ${shortNumber(angle)}°`,
  makers: [
    {
      key: 'halftone',
      phase: 'Pattern',
      name: 'Half-tone',
      what: 'dots that shrink: a fade of two colours',
      make: ({ x, y, sheet, paint }) => ({
        paint: paint(1),
        x,
        y,
        length: Math.round(sheet.width / 4),
        angle: 0,
        pitch: Math.max(4, Math.round(sheet.width / 100)),
      }),
    },
  ],
};
