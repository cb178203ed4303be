import { VISIBLE } from '@wet-lacquer/core/delivery/proof/encodedLevel.ts';
import type { Measure } from './proofState.ts';

/** Where the scale goes from grey to colour, and where it ends. */
export const SCALE: Record<Measure, { visible: number; worst: number; says: [string, string, string] }> = {
  deltaE: { visible: VISIBLE, worst: 8, says: ['0', `${VISIBLE} visible`, '8 CIEDE2000'] },
  psnr: { visible: 38, worst: 22, says: ['54 dB', '38', '22'] },
};
const BEST_DB = 54;

/** Colour of a difference: grey while nobody sees it, then amber to red. */
export function heat(value: number, measure: Measure): [number, number, number] {
  const { visible, worst } = SCALE[measure];
  const t = measure === 'deltaE' ? value / visible : (BEST_DB - value) / (BEST_DB - visible);
  if (t < 1) {
    const grey = Math.round(24 + Math.max(0, t) * 96);
    return [grey, grey, grey];
  }
  const u = Math.min(
    1,
    measure === 'deltaE' ? (value - visible) / (worst - visible) : (visible - value) / (visible - worst),
  );
  return [Math.round(232 + u * 23), Math.round(163 - u * 105), Math.round(61 - u * 21)];
}
