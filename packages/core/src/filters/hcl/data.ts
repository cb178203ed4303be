import { z } from 'zod';
import { slide, type FilterData } from '../data.ts';

/** In OKLCh: degrees added to the hue, chroma and lightness in percent of what is there. */
export const HclFilter = z.strictObject({
  kind: z.literal('hcl'),
  hue: z.number().min(-180).max(180),
  chroma: z.number().min(-100).max(200),
  lightness: z.number().min(-100).max(100),
});

export const hcl: FilterData<z.infer<typeof HclFilter>> = {
  name: 'Hue and chroma',
  what: 'turned hue, stronger or weaker colour',
  paints: () => [],
  rows: [
    slide('hue', 'hue', -180, 180, '°'),
    slide('chroma', 'chroma', -100, 200),
    slide('lightness', 'lightness', -100, 100),
  ],
  tones: false,
  alone: true,
  begin: () => ({ hue: 0, chroma: 0, lightness: 0 }),
};
