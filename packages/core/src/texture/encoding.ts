/** How hard to look for the best encoding: fast while painting, normal for a delivery, best for the last one. */
export type Effort = 'fast' | 'normal' | 'best';

/** What the block kernels are told of a format. */
export interface BlockKernel {
  /** The number by which they know it. */
  readonly number: number;
  /** Their settings for each effort, i32 each, without those of BC4 that follow; see SETTINGS in kernels/bc1.ts and bc7.ts. */
  readonly settings: Readonly<Record<Effort, readonly number[]>>;
  /** Places of the settings that are errors from which something is tried, or left: they grow where errors count more. */
  readonly errors: readonly number[];
}

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

/** For BC4, BC5 and the alpha of BC3: rounds of steps, their reach, ends beyond the range. */
const BC4: Record<Effort, readonly number[]> = { fast: [0, 0, 1], normal: [2, 4, 1], best: [2, 16, 1] };

/** The kernels' settings, i32 each, after the weights; see SETTINGS in kernels/bc1.ts, bc4.ts and bc7.ts. */
export function settingsOf(
  { settings, errors }: BlockKernel,
  encoding: Encoding,
): { weights: readonly number[]; numbers: number[] } {
  const { effort, weights = 'uniform', freeClear = false } = encoding;
  const numbers = [...settings[effort], ...BC4[effort], freeClear ? 1 : 0];
  // Errors count about three times as much: so do those that are good enough.
  if (weights === 'perceptual') for (const at of errors) numbers[at] = Math.min(0x7fffffff, numbers[at] * 3);
  return { weights: WEIGHTS[weights], numbers };
}
