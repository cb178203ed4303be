/** Places of a sheet that layers keep to: the parts of a model, and the cells of an atlas. */
import type { Subject, Template, TemplateSheet } from '../livery/template.ts';
import { cellAt, cellName, cellsOf, type Cell, type Edges } from './cells.ts';
import { boxOfTriangles } from './triangles.ts';

/** Something with a name that a layer can keep to. */
export interface Place extends Edges {
  /** Keys of the part, or of all cells of that name. */
  readonly keys: readonly [string, ...string[]];
  readonly name: string;
  readonly kind: 'part' | 'cell';
  /** Somebody gave it its name; cells that nobody named are numbers. */
  readonly named: boolean;
}

/** More cells than these are called up by pressing on them, not from a list. */
const MOST_LISTED = 64;

/** The cell at a point of a sheet, with all that share its name; null: it is no atlas, or the point lies beside it. */
export function cellPlaceAt(sheet: TemplateSheet, x: number, y: number): Place | null {
  const here = cellAt(sheet, x, y);
  if (!here) return null;
  const name = cellName(sheet, here.number);
  const same = cellsOf(sheet).filter(({ number }) => number === here.number || cellName(sheet, number) === name);
  return placeOf(name, same, !!sheet.cells?.names?.[here.number]);
}

function placeOf(name: string, cells: readonly Cell[], named: boolean): Place {
  const keys = cells.map(({ key }) => key) as [string, ...string[]];
  return { keys, name, kind: 'cell', named, ...around(cells) };
}

const around = (boxes: readonly Edges[]): Edges => ({
  left: Math.min(...boxes.map(({ left }) => left)),
  top: Math.min(...boxes.map(({ top }) => top)),
  right: Math.max(...boxes.map(({ right }) => right)),
  bottom: Math.max(...boxes.map(({ bottom }) => bottom)),
});

/**
 * Parts and cells of a sheet by name, cells of one name together. Of a sheet that stands as a board the board itself is no
 * place; of an atlas with very many cells only those with a name are told.
 */
export function placesOf(template: Subject & Pick<Template, 'boards'>, sheetKey: string): Place[] {
  const sheet = template.sheets.find(({ key }) => key === sheetKey);
  if (!sheet) return [];
  const cells = cellsOf(sheet);
  const parts = template.boards ? [] : template.parts.filter((part) => part.sheet === sheetKey);
  const named = new Map<string, Cell[]>();
  for (const cell of cells) {
    if (cells.length > MOST_LISTED && !sheet.cells?.names?.[cell.number]) continue;
    const name = cellName(sheet, cell.number);
    named.set(name, [...(named.get(name) ?? []), cell]);
  }
  return [
    ...parts.map((part): Place => ({
      keys: [part.key],
      name: part.name,
      kind: 'part',
      named: true,
      ...boxOfTriangles(template, sheet, [part]),
    })),
    ...[...named].map(([name, some]) => placeOf(name, some, !!sheet.cells?.names?.[some[0].number])),
  ];
}

/** What the places of a layer's keys are called, each once; a key that is not known stands for itself. */
export function placeNames(
  template: Subject & Pick<Template, 'boards'>,
  sheetKey: string | null,
  keys: readonly string[],
): string[] {
  const sheets = template.sheets.filter(({ key }) => sheetKey === null || key === sheetKey);
  return [
    ...new Set(
      keys.map((key) => {
        const part = template.parts.find((one) => one.key === key);
        if (part) return part.name;
        const sheet = sheets.find((one) => cellsOf(one).some((cell) => cell.key === key));
        return sheet ? cellName(sheet, Number(key.slice(5))) : key;
      }),
    ),
  ];
}
