/** Room for plates' pictures on a sheet of plates. */
import type { Plate } from '../livery/plate.ts';

interface Rect {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** Texels between pictures: so far the coarser mip levels of one do not show in its neighbours (common practice, no source). */
export const BETWEEN = 8;
/** Pictures begin and end with blocks of texels. */
const BLOCK = 4;

export const inBlocks = (texels: number): number => Math.max(BLOCK, Math.round(texels / BLOCK) * BLOCK);

const meets = (a: Rect, b: Rect): boolean =>
  a.left < b.left + b.width + BETWEEN &&
  b.left < a.left + a.width + BETWEEN &&
  a.top < b.top + b.height + BETWEEN &&
  b.top < a.top + a.height + BETWEEN;

/**
 * Where a picture of a size finds room on a sheet: as near to its top as can be, then to its left; what is there stays where it is.
 * @returns null: there is none
 */
export function roomFor(
  taken: readonly Rect[],
  sheet: { width: number; height: number },
  size: { width: number; height: number },
): { left: number; top: number } | null {
  const after = (at: number) => Math.ceil((at + BETWEEN) / BLOCK) * BLOCK;
  const lefts = [0, ...taken.map(({ left, width }) => after(left + width))];
  const tops = [0, ...taken.map(({ top, height }) => after(top + height))];
  let best: { left: number; top: number } | null = null;
  for (const top of tops)
    for (const left of lefts) {
      if (left + size.width > sheet.width || top + size.height > sheet.height) continue;
      if (best && (top > best.top || (top === best.top && left >= best.left))) continue;
      if (!taken.some((one) => meets(one, { left, top, ...size }))) best = { left, top };
    }
  return best;
}

/** Pictures of plates on a sheet. */
export const picturesOn = (plates: readonly Plate[] | undefined, sheet: string): Plate[] =>
  (plates ?? []).filter((one) => one.sheet === sheet);
