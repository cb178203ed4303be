/** How hard to look for the best encoding: fast while painting, normal for a delivery, best for the last one. */
export type Effort = 'fast' | 'normal' | 'best';

/** How a block format is to be encoded. */
export interface Encoding {
  effort: Effort;
  /** What an error in each channel counts: alike, or as the eye sees it (nearly the weights of luma, Rec. 601). */
  weights?: 'uniform' | 'perceptual';
  /** Colour under alpha 0 may become anything: only where alpha is coverage and the game never looks under it. */
  freeClear?: boolean;
  /** Ordered dither, in formats of few bits. */
  dither?: boolean;
}

/** Weights r g b a. */
const WEIGHTS = { uniform: [1, 1, 1, 1], perceptual: [3, 6, 1, 3] } as const;

/**
 * Numbers for BC7: rounds of least squares, rounds of nudging, partitions of two, of three, turns, enough, split at, partitions of two where
 * there is alpha; and an error from which a block is a hard one, on which more of each is tried: thin lettering, edges of emblems.
 */
const BC7: Record<Effort, readonly number[]> = {
  fast: [1, 0, 1, 0, 0, 40, 400, 1, 0x7fffffff],
  normal: [2, 0, 2, 0, 1, 8, 8, 4, 1200],
  best: [2, 2, 6, 4, 3, 2, 2, 20, 60],
};
/** For BC1 and the colour of BC2 and BC3: rounds, nudges, cuts, three levels, clear, enough, whole, nudge under, remaps. */
const BC1: Record<Effort, readonly number[]> = {
  fast: [1, 0, 0, 0, 0, 0, 0, 300, 0],
  normal: [2, 0, 0, 1, 0, 8, 0, 300, 3],
  best: [2, 8, 2, 1, 0, 0, 1, 0x7fffffff, 11],
};
/** For BC4, BC5 and the alpha of BC3: rounds of steps, their reach, ends beyond the range. */
const BC4: Record<Effort, readonly number[]> = { fast: [0, 0, 1], normal: [2, 4, 1], best: [2, 16, 1] };

/** The kernels' settings, i32 each, after the weights; see SETTINGS in kernels/bc1.ts, bc4.ts and bc7.ts. */
export function settingsOf(key: string, encoding: Encoding): { weights: readonly number[]; numbers: number[] } {
  const { effort, weights = 'uniform', freeClear = false } = encoding;
  const numbers = [...(key === 'bc7' ? BC7[effort] : BC1[effort]), ...BC4[effort], freeClear ? 1 : 0];
  if (key === 'bc1a') numbers[4] = 1;
  if (weights === 'perceptual') {
    // Errors count about three times as much: so do those that are good enough.
    for (const at of key === 'bc7' ? [5, 6, 8] : [5, 7]) numbers[at] = Math.min(0x7fffffff, numbers[at] * 3);
  }
  return { weights: WEIGHTS[weights], numbers };
}
