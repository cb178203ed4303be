import type { SpecFile } from './spec.ts';
import type { StoredAs } from './template.ts';

/** How a file that came is stored, for its like that does not follow it. */
export const wayLike = ({ container, runs, bottomUp, quality, sampling }: StoredAs): SpecFile['way'] => ({
  ...(container === 'tga' && { runs: runs ?? false, bottomUp: bottomUp ?? false }),
  ...(container === 'jpg' && quality && { quality }),
  ...((sampling === '4:4:4' || sampling === '4:2:2' || sampling === '4:2:0') && { sampling }),
});
