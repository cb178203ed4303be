import { z } from 'zod';
import { Paint, percent, share } from '../../livery/values.ts';
import { slide, type FilterData } from '../data.ts';

/** A colour takes over, and the shading stays; see apply.ts. */
export const RecolourFilter = z.strictObject({
  kind: z.literal('recolour'),
  paint: Paint,
  strength: percent,
  contrast: z.number().min(0).max(300),
  /** Mean lightness of what is recoloured, OKLab L 0..1. */
  middle: share,
});

export const recolour: FilterData<z.infer<typeof RecolourFilter>> = {
  name: 'Recolour',
  what: 'a colour takes over, the shading stays',
  paints: ({ paint }) => [paint],
  rows: [
    { is: 'paint', key: 'paint', label: 'colour' },
    slide('strength', 'strength', 0, 100),
    slide('contrast', 'contrast kept', 0, 300),
    'shading',
  ],
  tones: true,
  alone: true,
  begin: ({ paint, middle }) => ({ paint, strength: 100, contrast: 100, middle: middle ?? 0.6 }),
};
