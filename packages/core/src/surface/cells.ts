/** Cells of an atlas. */
import type { TemplateSheet } from '../livery/template.ts';

/** Edges in texels; right and bottom lie beyond the last one. */
export interface Edges {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** One cell of an atlas, in whole texels. */
export interface Cell extends Edges {
  /** As layers name it. */
  readonly key: string;
  /** From 1: row by row from the top left. */
  readonly number: number;
}

type Grid = Pick<NonNullable<TemplateSheet['cells']>, 'columns' | 'rows'>;

/** Key of a cell by its number. Keys of parts have no colon. */
export const cellKey = (number: number): string => `cell:${number}`;

/** Cells that are looked through on a sheet without a model, where nobody said how it is divided. */
export const LOCATOR_GRID = { columns: 8, rows: 8 } as const;

/** The cells of a grid over a sheet. Where they do not divide it evenly, edges lie on the nearest texel. */
export function gridCells({ width, height }: Pick<TemplateSheet, 'width' | 'height'>, { columns, rows }: Grid): Cell[] {
  const across = (i: number) => Math.round((i * width) / columns);
  const down = (i: number) => Math.round((i * height) / rows);
  return Array.from({ length: columns * rows }, (_, i) => {
    const [column, row] = [i % columns, Math.floor(i / columns)];
    return {
      key: cellKey(i + 1),
      number: i + 1,
      left: across(column),
      top: down(row),
      right: across(column + 1),
      bottom: down(row + 1),
    };
  });
}

/** The cells of a sheet; none when it is no atlas. */
export const cellsOf = (sheet: TemplateSheet): Cell[] => (sheet.cells ? gridCells(sheet, sheet.cells) : []);

/** What a cell is called. */
export const cellName = (sheet: Pick<TemplateSheet, 'cells'>, number: number): string =>
  sheet.cells?.names?.[number] ?? `Cell ${number}`;

/** The cell at a point in texels; null: the sheet is no atlas, or the point lies beside it. */
export const cellAt = (sheet: TemplateSheet, x: number, y: number): Cell | null =>
  cellsOf(sheet).find((cell) => x >= cell.left && x < cell.right && y >= cell.top && y < cell.bottom) ?? null;
