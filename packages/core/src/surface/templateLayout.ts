/** All that is known of a template's UV layout, as plain data. */
import { hexOfRgb } from '../colour/hex.ts';
import type { Subject, Template } from '../livery/template.ts';
import { islandsOf } from './islands.ts';
import { densityOf, examineLayout, sheetCover, type LayoutNote } from './layout.ts';
import { locatorOf } from './locator.ts';
import { partnersOf } from './symmetryPlane.ts';

export interface LayoutIsland {
  number: number;
  sheet: string;
  parts: string[];
  triangles: number[];
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
  notes: LayoutNote[];
  /** Share of each sheet that no island covers, 0..1. */
  unused: Record<string, number>;
}

export function layoutOf(subject: Subject & Pick<Template, 'plane'>): TemplateLayout {
  const islands = islandsOf(subject);
  const partners = subject.plane ? partnersOf(subject.mesh, islands, subject.plane) : new Map<number, number>();
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
      partner: partners.get(island.number) ?? null,
      box: island.box,
      density: densityOf([island]),
      colour: hexOfRgb(colour),
      ink: hexOfRgb(ink),
      label,
    })),
  };
}
