import { z } from 'zod';
import { layerBase } from '../../livery/layerBase.ts';
import { degrees, length, Paint, percent, texels } from '../../livery/paint.ts';
import { ANGLE, directionIn, NO_BOX, shortNumber, type LayerData, type MakerPlace } from '../data.ts';

export const FadeStop = z.strictObject({
  at: z.number().min(0).max(1),
  paint: Paint,
  opacity: percent,
});
export const FadeLayer = z.strictObject({
  kind: z.literal('fade'),
  ...layerBase,
  shape: z.enum(['linear', 'radial']),
  /** Where the fade begins: a point of the first line, or the centre. */
  x: texels,
  y: texels,
  /** From the first stop to the last. */
  length,
  angle: degrees,
  stops: z.array(FadeStop).min(2).max(64),
});

const begin =
  (shape: 'linear' | 'radial') =>
  ({ x, y, sheet, paint }: MakerPlace) => {
    const reach = Math.round(sheet.width / 3);
    const stops = [0, 1].map((at) => ({ at, paint: paint(at), opacity: 100 }));
    return { shape, x: shape === 'linear' ? x - reach / 2 : x, y, length: reach, angle: 0, stops };
  };

export const fade: LayerData<z.infer<typeof FadeLayer>> = {
  ...NO_BOX,
  name: 'Fade',
  paints: ({ stops }) => stops.map(({ paint }) => paint),
  mirrored: ({ angle }, how) => ({ angle: directionIn(angle, how) }),
  handles: () => ['run'],
  place: ({ shape }) => {
    const reach = { key: 'length', label: shape === 'radial' ? 'radius' : 'length', min: 0.25, max: 32768 };
    return shape === 'linear' ? [[reach, ANGLE], 'along'] : [[reach]];
  },
  colours: ['stops'],
  numbers: ({ length: reach, angle }) => `length ${shortNumber(reach)} ${shortNumber(angle)}°`,
  makers: [
    { key: 'fade', phase: 'Base', name: 'Fade', what: 'along a line, any number of stops', make: begin('linear') },
    { key: 'radial', phase: 'Base', name: 'Radial fade', what: 'outwards from a centre', make: begin('radial') },
  ],
};
