import { compareImages } from '@wet-lacquer/core/texture/compare.ts';
import { readImage } from '../files.ts';
import type { Verb } from '../verb.ts';

/** lacquer compare painted.png hull.dds */
export const compare: Verb = {
  name: 'compare',
  usage: 'A B',
  what: 'how far two pictures are apart: PSNR, largest error, CIEDE2000',
  args: 2,
  async run([a, b]) {
    const result = compareImages(await readImage(a), await readImage(b));
    const db = (value: number) => (value === Infinity ? 'equal' : `${value.toFixed(2)} dB`);
    // JSON has no infinity: equal channels are null.
    const finite = (value: number) => (value === Infinity ? null : value);
    return {
      json: { ...result, psnrRgb: finite(result.psnrRgb), psnrAlpha: finite(result.psnrAlpha) },
      text: `RGB ${db(result.psnrRgb)}, alpha ${db(result.psnrAlpha)}, largest ${result.largest}, CIEDE2000 mean ${result.deltaE.mean.toFixed(3)}, 95 % under ${result.deltaE.percentile95.toFixed(3)}`,
    };
  },
};
