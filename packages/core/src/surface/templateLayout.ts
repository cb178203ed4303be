/** All that is known of a template's UV layout, as plain data. */
import { hexOfRgb } from '../colour/hex.ts';
import type { Subject } from '../livery/template.ts';
import { islandsOf } from './islands.ts';
import { densityOf, examineLayout, sheetCover, type LayoutNote } from './layout.ts';
import { locatorOf } from './locator.ts';

export interface LayoutIsland {
  number: number;
  sheet: string;
  parts: string[];
  triangles: number[];
  mirrored: boolean;
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
  notes: LayoutNote[];
  /** Share of each sheet that no island covers, 0..1. */
  unused: Record<string, number>;
}

export function layoutOf(subject: Subject): TemplateLayout {
  const islands = islandsOf(subject);
  const covers = new Map(subject.sheets.map((sheet) => [sheet.key, sheetCover(subject, islands, sheet.key, 512)]));
  return {
    notes: examineLayout(subject, islands),
    unused: Object.fromEntries([...covers].map(([key, cover]) => [key, cover.unused])),
    islands: locatorOf(subject, islands, covers).map(({ island, colour, ink, label }) => ({
      number: island.number,
      sheet: island.sheet,
      parts: [...island.parts],
      triangles: [...island.triangles],
      mirrored: island.mirrored,
      box: island.box,
      density: densityOf([island]),
      colour: hexOfRgb(colour),
      ink: hexOfRgb(ink),
      label,
    })),
  };
}
