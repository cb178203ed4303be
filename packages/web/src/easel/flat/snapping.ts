/** What things that are dragged snap to, and the numbers that are read while they are. */
import { create } from 'zustand';
import type { Bounds } from '@wet-lacquer/core/livery/arrange.ts';
import { boundsOf } from '@wet-lacquer/core/livery/arrange.ts';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { sheetNamed, type Template } from '@wet-lacquer/core/livery/template.ts';
import { cellAt, cellName, cellsOf } from '@wet-lacquer/core/surface/cells.ts';
import { placesOf } from '@wet-lacquer/core/surface/places.ts';
import { planeOn } from '../../parts/planeOn.ts';
import { useSession } from '../session.ts';
import { GRID_FROM_ZOOM } from './guides.ts';
import { frameOf, type Point } from './placing.ts';
import { useView } from './view.ts';

/** A line of the sheet: x = at, or y = at. */
export interface SnapLine {
  axis: 'x' | 'y';
  at: number;
  name: string;
}

/** How near something has to come, screen pixels. */
export const SNAP_PX = 6;

interface Snapped {
  /** The lines that hold what is dragged. */
  lines: readonly SnapLine[];
  /** Where the drag began and where it is, texels; null while nothing is dragged. */
  way: { from: Point; to: Point } | null;
}
export const useSnapped = create<Snapped>(() => ({ lines: [], way: null }));

const sidesOf = ({ left, top, right, bottom }: Bounds, name: string): SnapLine[] => [
  { axis: 'x', at: left, name },
  { axis: 'x', at: right, name },
  { axis: 'x', at: (left + right) / 2, name: `middle of ${name}` },
  { axis: 'y', at: top, name },
  { axis: 'y', at: bottom, name },
  { axis: 'y', at: (top + bottom) / 2, name: `middle of ${name}` },
];

/** Whether two layers show the same mark. */
const alike = (a: Layer, b: Layer) =>
  (a.kind === 'decal' && b.kind === 'decal' && a.blob === b.blob) ||
  (a.kind === 'lettering' && b.kind === 'lettering' && a.text === b.text);

/** Everything on a sheet that a layer can snap to: axis, edges, parts, atlas cells, other layers, and where its likenesses lie on their parts. */
export function snapLines(template: Template, sheetKey: string, layers: readonly Layer[], moving: Layer): SnapLine[] {
  const sheet = sheetNamed(template, sheetKey);
  const { width, height, axis } = sheet;
  const lines = sidesOf({ left: 0, top: 0, right: width, bottom: height }, 'the sheet');
  if (axis) lines.unshift({ axis: axis.kind === 'vertical' ? 'x' : 'y', at: axis.at, name: 'the axis' });
  for (const line of planeOn(template, sheetKey).straight) lines.push({ ...line, name: 'the middle of the model' });
  const parts = placesOf(template, sheetKey).filter(({ kind }) => kind === 'part');
  for (const part of parts) lines.push(...sidesOf(part, part.name));
  const cells = cellsOf(sheet);
  // Cells of a column, or of a row, share their lines.
  const column = new Map(cells.map((cell) => [cell.left, cell]));
  const row = new Map(cells.map((cell) => [cell.top, cell]));
  for (const cell of column.values())
    for (const line of sidesOf(cell, 'a cell')) if (line.axis === 'x') lines.push(line);
  for (const cell of row.values()) for (const line of sidesOf(cell, 'a cell')) if (line.axis === 'y') lines.push(line);
  const boxAt = (p: Point) =>
    parts.find(({ left, top, right, bottom }) => p.x >= left && p.x <= right && p.y >= top && p.y <= bottom);
  for (const layer of layers) {
    if (layer.id === moving.id || layer.hidden || layer.on || !('x' in layer)) continue;
    const frame = frameOf(layer, null);
    if (frame) lines.push(...sidesOf(boundsOf(frame), layer.name));
    else lines.push({ axis: 'x', at: layer.x, name: layer.name }, { axis: 'y', at: layer.y, name: layer.name });
    if (!alike(layer, moving)) continue;
    const cell = cellAt(sheet, layer.x, layer.y);
    if (cell) {
      const name = `as ${layer.name} in ${cellName(sheet, cell.number)}`;
      for (const { left } of column.values()) lines.push({ axis: 'x', at: left + layer.x - cell.left, name });
      for (const { top } of row.values()) lines.push({ axis: 'y', at: top + layer.y - cell.top, name });
    }
    const home = boxAt(layer);
    if (!home) continue;
    // The same place on another part: as far from its left or its right, and from its top.
    for (const part of parts) {
      if (part === home) continue;
      const name = `as ${layer.name} on ${home.name}`;
      lines.push({ axis: 'x', at: part.left + layer.x - home.left, name });
      lines.push({ axis: 'x', at: part.right - (layer.x - home.left), name });
      lines.push({ axis: 'y', at: part.top + layer.y - home.top, name });
    }
  }
  return lines;
}

/** Lines nearer to each other than this are one to the eye, texels. */
const AS_NEAR = 0.5;

/**
 * The nearest line to any of some places on one axis; of two about as near the first, so the axis comes before parts
 * and marks, and the first of the places before the others.
 */
function nearest(lines: readonly SnapLine[], axis: 'x' | 'y', places: readonly number[], within: number) {
  let best: { line: SnapLine; by: number } | null = null;
  for (const place of places) {
    for (const line of lines) {
      const by = line.at - place;
      if (line.axis !== axis || Math.abs(by) > within) continue;
      if (!best || Math.abs(by) < Math.abs(best.by) - AS_NEAR) best = { line, by };
    }
  }
  return best;
}

/** Texels between the lines of the block grid while it is shown; 0: it is not. */
export const shownGrid = (): number =>
  useSession.getState().guides.has('grid') && useView.getState().zoom >= GRID_FROM_ZOOM ? 4 : 0;

/** The nearest line of a grid to any of some places, where nothing else holds them. */
function onGrid(grid: number, axis: 'x' | 'y', places: readonly number[], within: number) {
  if (grid === 0) return null;
  const [best] = places
    .map((place) => ({ at: Math.round(place / grid) * grid, place }))
    .sort((a, b) => Math.abs(a.at - a.place) - Math.abs(b.at - b.place));
  const by = best.at - best.place;
  return Math.abs(by) <= within ? { line: { axis, at: best.at, name: 'the block grid' }, by } : null;
}

/**
 * A point brought to the lines near it.
 * @param within texels
 * @param grid texels between lines that hold where no other does; 0: none
 */
export function snapPoint(
  p: Point,
  lines: readonly SnapLine[],
  within: number,
  grid = 0,
): { point: Point; lines: SnapLine[] } {
  const x = nearest(lines, 'x', [p.x], within) ?? onGrid(grid, 'x', [p.x], within);
  const y = nearest(lines, 'y', [p.y], within) ?? onGrid(grid, 'y', [p.y], within);
  return {
    point: { x: p.x + (x?.by ?? 0), y: p.y + (y?.by ?? 0) },
    lines: [x, y].flatMap((one) => (one ? [one.line] : [])),
  };
}

/**
 * How much further a box has to go for a side or its middle to lie on a line.
 * @param within texels
 * @param grid texels between lines that hold a side where no other line does; 0: none
 */
export function snapBox(
  { left, top, right, bottom }: Bounds,
  lines: readonly SnapLine[],
  within: number,
  grid = 0,
): { by: Point; lines: SnapLine[] } {
  const x = nearest(lines, 'x', [(left + right) / 2, left, right], within) ?? onGrid(grid, 'x', [left, right], within);
  const y = nearest(lines, 'y', [(top + bottom) / 2, top, bottom], within) ?? onGrid(grid, 'y', [top, bottom], within);
  return { by: { x: x?.by ?? 0, y: y?.by ?? 0 }, lines: [x, y].flatMap((one) => (one ? [one.line] : [])) };
}

/** The width of another mark that a width comes near; null: none. @param within texels */
export function snapWidth(width: number, layers: readonly Layer[], moving: Layer, within: number): number | null {
  const widths = layers.flatMap((layer) => {
    const frame = layer.id !== moving.id && layer.kind === moving.kind ? frameOf(layer, null) : null;
    return frame ? [frame.width] : [];
  });
  const near = widths.filter((one) => Math.abs(one - width) <= within);
  return near.length > 0 ? near.reduce((a, b) => (Math.abs(a - width) <= Math.abs(b - width) ? a : b)) : null;
}
