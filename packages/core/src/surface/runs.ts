/** Sheets laid next to each other as one long surface, the way they meet on the model. */
import type { Subject, TemplateRun } from '../livery/template.ts';
import { weld } from './weld.ts';

/** Corners that meet must agree on where the next sheet lies, within this many texels ... */
const AGREE = 2;
/** ... for at least this share of them. */
const SHARE = 0.6;

/**
 * Finds where sheets lie beside the first one so that art runs on over the edges where they meet on the model: the place on which most of
 * the shared corners agree.
 * @returns null when two of them do not meet, or meet turned or at another scale
 */
export function proposeRun(subject: Subject, keys: readonly string[]): TemplateRun['pieces'] | null {
  const { of: placeOf } = weld(subject.mesh);
  /** Where a place on the model lies on each sheet, in texels. */
  const corners = new Map<string, Map<number, [number, number]>>();
  for (const part of subject.parts) {
    const sheet = subject.sheets.find((s) => s.key === part.sheet);
    if (!sheet || !keys.includes(sheet.key)) continue;
    const of = corners.get(sheet.key) ?? new Map<number, [number, number]>();
    corners.set(sheet.key, of);
    for (let k = part.first * 3; k < (part.first + part.count) * 3; k++) {
      const v = subject.mesh.indices[k];
      of.set(placeOf[v], [subject.mesh.uvs[v * 2] * sheet.width, subject.mesh.uvs[v * 2 + 1] * sheet.height]);
    }
  }
  const pieces = [{ sheet: keys[0], left: 0, top: 0 }];
  const waiting = new Set(keys.slice(1));
  while (waiting.size > 0) {
    const next = [...waiting].flatMap((sheet) => {
      const offsets = pieces.flatMap((piece) => {
        const [a, b] = [corners.get(piece.sheet), corners.get(sheet)];
        if (!a || !b) return [];
        return [...b].flatMap(([place, [x, y]]) => {
          const met = a.get(place);
          return met ? [[piece.left + met[0] - x, piece.top + met[1] - y] as const] : [];
        });
      });
      const agreed = agreement(offsets);
      return agreed ? [{ sheet, left: agreed[0], top: agreed[1] }] : [];
    })[0];
    if (!next) return null;
    pieces.push(next);
    waiting.delete(next.sheet);
  }
  return pieces;
}

/** The offset on which most agree, in whole texels; null when too few do. */
function agreement(offsets: readonly (readonly [number, number])[]): [number, number] | null {
  if (offsets.length < 2) return null;
  const near = (a: readonly [number, number]) =>
    offsets.filter((b) => Math.abs(a[0] - b[0]) <= AGREE && Math.abs(a[1] - b[1]) <= AGREE);
  const best = offsets.map(near).reduce((a, b) => (b.length > a.length ? b : a));
  if (best.length < 2 || best.length < offsets.length * SHARE) return null;
  const mean = (c: 0 | 1) => Math.round(best.reduce((sum, offset) => sum + offset[c], 0) / best.length);
  return [mean(0), mean(1)];
}
