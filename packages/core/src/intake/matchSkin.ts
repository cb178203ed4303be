/** Which file of a finished skin goes on which sheet of a template that is here. */
import type { TemplateSheet } from '../livery/template.ts';
import { stemOf } from '../paths.ts';
import { wayUp } from '../surface/wayUp.ts';
import type { FileRole } from './fileRoles.ts';
import { wordsOf } from './words.ts';

export interface SkinPicture {
  readonly name: string;
  readonly width: number;
  readonly height: number;
  /** What it is taken for; null: nothing is known. */
  readonly role: FileRole | null;
  /** It carries the same art as another. */
  readonly copy: boolean;
  /** How much happens where; see wayUp.ts. */
  readonly detail?: readonly number[];
}

export interface SkinMatch {
  sheet: string;
  /** Null: none of them fits. */
  file: string | null;
  upsideDown: boolean;
  reason: string;
}

/**
 * Files go on sheets of their size, the likeliest pairs first: by the words of their names, by how far their art lies on the islands of
 * the sheet, and because no other one fits.
 * @param covers by sheet: for each cell of wayUp.ts whether an island covers its middle
 */
export function matchSkin(
  sheets: readonly Pick<TemplateSheet, 'key' | 'name' | 'width' | 'height'>[],
  covers: Readonly<Record<string, readonly boolean[]>>,
  files: readonly SkinPicture[],
): SkinMatch[] {
  const usable = files.filter(({ role, copy }) => !copy && (role === null || role === 'colour'));
  const pairs = sheets.flatMap((sheet) => {
    const fits = usable.filter(({ width, height }) => width === sheet.width && height === sheet.height);
    return fits.map((file) => {
      const words = new Set(wordsOf(stemOf(file.name)));
      const named = [...new Set([...wordsOf(sheet.key), ...wordsOf(sheet.name)])].filter((word) => words.has(word));
      const cover = covers[sheet.key];
      const way = cover && file.detail ? wayUp(file.detail, cover) : null;
      const lies = cover && file.detail ? livelier(file.detail, cover, way === 'upside-down') : 0;
      const alone =
        fits.length === 1 && sheets.filter((s) => s.width === sheet.width && s.height === sheet.height).length === 1;
      const why = [
        ...(named.length > 0 ? [`its name says “${named.join(' ')}”`] : []),
        ...(lies > 0.5 ? ['its art lies on the islands'] : []),
        ...(alone ? ['it is the only one of its size'] : []),
      ];
      const score = named.length * 2 + lies + (alone ? 1 : 0);
      return { sheet, file, way, score, reason: why.join(', ') || 'it has the size' };
    });
  });
  const taken = new Set<string>();
  const found = new Map<string, SkinMatch>();
  for (const { sheet, file, way, reason, score } of pairs.toSorted((a, b) => b.score - a.score)) {
    if (found.has(sheet.key) || taken.has(file.name) || score <= 0) continue;
    taken.add(file.name);
    found.set(sheet.key, { sheet: sheet.key, file: file.name, upsideDown: way === 'upside-down', reason });
  }
  return sheets.map(
    ({ key, width, height }) =>
      found.get(key) ?? {
        sheet: key,
        file: null,
        upsideDown: false,
        reason: pairs.some(({ sheet }) => sheet.key === key)
          ? 'more than one could be it'
          : `none of them is ${width} x ${height}`,
      },
  );
}

/** How much more happens on the islands than beside them, 0 (no more) to 1. */
function livelier(detail: readonly number[], cover: readonly boolean[], flipped: boolean): number {
  const side = Math.sqrt(detail.length);
  let [on, onCount, off, offCount] = [0, 0, 0, 0];
  detail.forEach((value, i) => {
    const row = Math.floor(i / side);
    if (cover[flipped ? (side - 1 - row) * side + (i % side) : i]) [on, onCount] = [on + value, onCount + 1];
    else [off, offCount] = [off + value, offCount + 1];
  });
  if (onCount === 0 || offCount === 0) return 0;
  const ratio = (on / onCount + 0.3) / (off / offCount + 0.3);
  return Math.max(0, Math.min(1, (ratio - 1) / 2));
}
