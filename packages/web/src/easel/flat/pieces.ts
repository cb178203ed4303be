/** Sheets that the flat view shows together. */
import type { Reference } from '@wet-lacquer/core/livery/livery.ts';
import { sheetNamed, type Template, type TemplateSheet } from '@wet-lacquer/core/livery/template.ts';

export interface Piece {
  sheet: TemplateSheet;
  /** Where its first texel lies, in texels of the sheet that is worked on. */
  left: number;
  top: number;
}

/** The sheets of a run around the one that is worked on; that one alone when it is in no such run. */
export function piecesOf(template: Template, sheetKey: string, runKey: string | null): Piece[] {
  const sheet = sheetNamed(template, sheetKey);
  const run = template.runs?.find((r) => r.key === runKey);
  const own = run?.pieces.find((piece) => piece.sheet === sheetKey);
  if (!run || !own) return [{ sheet, left: 0, top: 0 }];
  return run.pieces.flatMap((piece) => {
    const found = template.sheets.find((s) => s.key === piece.sheet);
    return found ? [{ sheet: found, left: piece.left - own.left, top: piece.top - own.top }] : [];
  });
}

/** The piece under a texel, and that texel on its own sheet; null beside all of them. */
export function pieceAt(pieces: readonly Piece[], x: number, y: number) {
  const piece = pieces.findLast(
    ({ sheet, left, top }) => x >= left && y >= top && x < left + sheet.width && y < top + sheet.height,
  );
  return piece ? { piece, x: x - piece.left, y: y - piece.top } : null;
}

/** The box around all of them, and around the pictures that are pinned beside them. */
export function around(pieces: readonly Piece[], pinned: readonly Reference[] = []) {
  const boxes = [
    ...pieces.map(({ sheet, left, top }) => ({ left, top, width: sheet.width, height: sheet.height })),
    ...pinned,
  ];
  const left = Math.min(...boxes.map((box) => box.left));
  const top = Math.min(...boxes.map((box) => box.top));
  const right = Math.max(...boxes.map((box) => box.left + box.width));
  const bottom = Math.max(...boxes.map((box) => box.top + box.height));
  return { left, top, width: right - left, height: bottom - top };
}
