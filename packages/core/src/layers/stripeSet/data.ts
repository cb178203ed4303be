import { z } from 'zod';
import { layerBase } from '../../livery/layerBase.ts';
import { degrees, length, Paint, softness, texels } from '../../livery/paint.ts';
import { ANGLE, NO_BOX, shortNumber, turnedWithin, type LayerData } from '../data.ts';

export const StripeSetLayer = z.strictObject({
  kind: z.literal('stripe-set'),
  ...layerBase,
  /** The paints of the stripes in turn. */
  paints: z.array(Paint).min(1).max(12),
  x: texels,
  y: texels,
  angle: degrees,
  width: length,
  gap: z.number().min(0).max(32768),
  count: z.number().int().min(1).max(400),
  softness,
});

export const stripeSet: LayerData<z.infer<typeof StripeSetLayer>> = {
  ...NO_BOX,
  name: 'Stripe set',
  paints: ({ paints }) => paints,
  mirrored: ({ angle }) => ({ angle: turnedWithin(-angle) }),
  handles: () => ['line'],
  place: () => [
    [{ key: 'width', label: 'width', min: 0.25, max: 32768 }, ANGLE],
    [
      { key: 'softness', label: 'softness', min: 0, max: 4096 },
      { key: 'gap', label: 'gap', min: 0, max: 32768 },
    ],
    [{ key: 'count', label: 'stripes', unit: '', min: 1, max: 400, digits: 0 }],
  ],
  colours: [{ is: 'paints', key: 'paints', most: 12 }],
  numbers: ({ width, angle }) => `width ${shortNumber(width)} ${shortNumber(angle)}°`,
  makers: [
    {
      key: 'stripe-set',
      phase: 'Pattern',
      name: 'Stripe set',
      what: 'parallel stripes with gaps',
      make: ({ x, y, sheet, paint }) => ({
        paints: [paint(2), paint(1)],
        x,
        y,
        angle: 0,
        width: Math.round(sheet.height / 48),
        gap: Math.round(sheet.height / 64),
        count: 4,
        softness: 0,
      }),
    },
  ],
};
