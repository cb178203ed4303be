import { z } from 'zod';
import { layerBase } from '../../livery/layerBase.ts';
import { degrees, length, Paint, softness, texels } from '../../livery/paint.ts';
import { ANGLE, NO_BOX, PAINT, shortNumber, turnedWithin, type LayerData } from '../data.ts';

export const StripeLayer = z.strictObject({
  kind: z.literal('stripe'),
  ...layerBase,
  paint: Paint,
  /** A point on the stripe's middle line. */
  x: texels,
  y: texels,
  angle: degrees,
  width: length,
  softness,
});

export const stripe: LayerData<z.infer<typeof StripeLayer>> = {
  ...NO_BOX,
  name: 'Stripe',
  paints: ({ paint }) => [paint],
  mirrored: ({ angle }) => ({ angle: turnedWithin(-angle) }),
  handles: () => ['line'],
  place: () => [
    [{ key: 'width', label: 'width', min: 0.25, max: 32768 }, ANGLE],
    [{ key: 'softness', label: 'softness', min: 0, max: 4096 }],
  ],
  colours: [PAINT],
  numbers: ({ width, angle }) => `width ${shortNumber(width)} ${shortNumber(angle)}°`,
  makers: [
    {
      key: 'stripe',
      phase: 'Pattern',
      name: 'Stripe',
      what: 'straight, width in texels',
      make: ({ x, y, sheet, paint }) => ({
        paint: paint(2),
        x,
        y,
        angle: 0,
        width: Math.round(sheet.height / 24),
        softness: 0,
      }),
    },
  ],
};
