/** All that is known of a template's UV layout, as plain data. */
import { ciede2000, labOf, type Lab } from '../colour/ciede2000.ts';
import { hexOfRgb, type SrgbRgb } from '../colour/hex.ts';
import type { Subject, Template } from '../livery/template.ts';
import { gridCells, LOCATOR_GRID } from './cells.ts';
import { islandsOf } from './islands.ts';
import { densityOf, examineLayout, sheetCover, type LayoutNote } from './layout.ts';
import { inkOn, LOCATOR_COLOURS, LOCATOR_DIFFERENCE, locatorOf } from './locator.ts';
import { partnersOf } from './symmetryPlane.ts';

export interface LayoutIsland {
  /** No two of a template have the same. */
  number: number;
  sheet: string;
  parts: string[];
  triangles: number[];
  /** It is a cell of a sheet without a model, of this number there; it has no triangles. */
  cell?: number;
  mirrored: boolean;
  /** The island across the model's plane of symmetry; null: none. */
  partner: number | null;
  /** Texels. */
  box: { left: number; top: number; right: number; bottom: number };
  /** Texels per metre; null: it has no area on the model. */
  density: number | null;
  /** `#rrggbb` of the locator, and of the number on it. */
  colour: string;
  ink: string;
  label: { x: number; y: number; radius: number };
}

export interface TemplateLayout {
  islands: LayoutIsland[];
  /** Null: not looked for; islands are known long before it is known which of them lie on one another. */
  notes: LayoutNote[] | null;
  /** Share of each sheet that no island covers, 0..1. */
  unused: Record<string, number>;
}

/** @param notes whether to look for what a painter should know, which takes longest */
export function layoutOf(subject: Subject & Pick<Template, 'plane' | 'boards'>, notes = true): TemplateLayout {
  if (subject.boards) return { notes: [], unused: {}, islands: boardCells(subject) };
  const islands = islandsOf(subject);
  const partners = subject.plane ? partnersOf(subject.mesh, islands, subject.plane) : new Map<number, number>();
  const covers = new Map(subject.sheets.map((sheet) => [sheet.key, sheetCover(subject, islands, sheet.key, 512)]));
  return {
    notes: notes ? examineLayout(subject, islands) : null,
    unused: Object.fromEntries([...covers].map(([key, cover]) => [key, cover.unused])),
    islands: locatorOf(subject, islands, covers).map(({ island, colour, ink, label }) => ({
      number: island.number,
      sheet: island.sheet,
      parts: [...island.parts],
      triangles: [...island.triangles],
      mirrored: island.mirrored,
      partner: partners.get(island.number) ?? null,
      box: island.box,
      density: densityOf([island]),
      colour: hexOfRgb(colour),
      ink: hexOfRgb(ink),
      label,
    })),
  };
}

/** Where nothing says what lies where, a numbered grid tells: each cell in a colour of its own, none like one that it touches. */
function boardCells({ sheets }: Subject): LayoutIsland[] {
  const islands: LayoutIsland[] = [];
  for (const sheet of sheets) {
    const grid = sheet.cells ?? LOCATOR_GRID;
    const uses = LOCATOR_COLOURS.map(() => 0);
    const labs: Lab[] = [];
    const before = islands.length;
    for (const { number, key, left, top, right, bottom } of gridCells(sheet, grid)) {
      const at = number - 1;
      const [first, last] = [at % grid.columns === 0, (at + 1) % grid.columns === 0];
      const beside = [at - grid.columns, ...(first ? [] : [at - 1, at - grid.columns - 1])];
      if (!last) beside.push(at - grid.columns + 1);
      const near = beside.flatMap((i) => (i < 0 ? [] : [labs[i]]));
      const far = (lab: Lab) => Math.min(...near.map((other) => ciede2000(lab, other)));
      // A colour that comes again comes darker, and where that is too like a neighbour, darker still.
      const tones = LOCATOR_COLOURS.flatMap((rgb, colour) =>
        [0, 1, 2].map((more) => {
          const turn = uses[colour] + more;
          const toned = rgb.map((value) => Math.round(value * 0.7 ** turn)) as unknown as SrgbRgb;
          return { colour, turn, rgb: toned, lab: labOf(toned) };
        }),
      ).sort((p, q) => p.turn - q.turn);
      const { colour, turn, rgb, lab } =
        tones.find((tone) => far(tone.lab) >= LOCATOR_DIFFERENCE) ??
        tones.reduce((p, q) => (far(q.lab) > far(p.lab) ? q : p));
      uses[colour] = turn + 1;
      labs.push(lab);
      islands.push({
        ...{ number: before + number, sheet: sheet.key, parts: [key], triangles: [], cell: number },
        ...{ mirrored: false, partner: null, density: null },
        box: { left, top, right, bottom },
        colour: hexOfRgb(rgb),
        ink: hexOfRgb(inkOn(rgb)),
        label: { x: (left + right) / 2, y: (top + bottom) / 2, radius: Math.min(right - left, bottom - top) / 2 },
      });
    }
  }
  return islands;
}
