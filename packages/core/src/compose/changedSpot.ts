/** Where two states of a livery differ, for small pictures of steps. */
import { isDrawn, boundsOf } from '../layers/index.ts';
import type { Box } from '../layers/kind.ts';
import type { Layer } from '../livery/layer.ts';
import type { Livery } from '../livery/livery.ts';
import type { Stroke } from '../livery/paint.ts';
import { boxOfTiles } from '../paint/drawStrokes.ts';
import { envOf, type Sources } from './scene.ts';

export interface ChangedSpot {
  sheet: string;
  map: string;
  /** Texels; null: all over the map. */
  box: Box | null;
}

/**
 * The first map on which something differs, and where; null when no map does (particulars, the checklist).
 * @param sources of both states
 */
export function changedSpot(
  before: Livery,
  after: Livery,
  sources: { before: Sources; after: Sources },
): ChangedSpot | null {
  for (const sheet of after.sheets) {
    for (const map of sheet.maps) {
      const was =
        before.sheets.find(({ key }) => key === sheet.key)?.maps.find(({ key }) => key === map.key)?.layers ?? [];
      const boxes = changedLayers(was, map.layers).map(([old, now]) => {
        const strokes = strokesApart(old, now);
        if (strokes) return boxOfTiles(strokes);
        const boxOf = (layer: Layer | null, of: Livery, from: Sources): Box | null | undefined =>
          layer ? (isDrawn(layer) ? boundsOf(layer, envOf(of, from, sheet.key)) : null) : undefined;
        return joined(boxOf(old, before, sources.before), boxOf(now, after, sources.after));
      });
      if (boxes.length > 0) {
        const box = boxes.reduce<Box | null | undefined>(
          (all, one) => (all === null ? null : joined(all, one)),
          undefined,
        );
        return { sheet: sheet.key, map: map.key, box: box ?? null };
      }
    }
  }
  return null;
}

/** Layers that are not the same in both, as they were and as they are; one that is in only one of them has null in the other. */
function changedLayers(before: readonly Layer[], after: readonly Layer[]): [Layer | null, Layer | null][] {
  const old = new Map(before.map((layer) => [layer.id, layer]));
  const now = new Map(after.map((layer) => [layer.id, layer]));
  const gone = before.filter(({ id }) => !now.has(id)).map((layer): [Layer, null] => [layer, null]);
  const other = after
    .filter((layer) => old.get(layer.id) !== layer)
    .map((layer): [Layer | null, Layer] => [old.get(layer.id) ?? null, layer]);
  if (gone.length + other.length > 0) return [...gone, ...other];
  // The same layers in another order: those that have others before them.
  return after.flatMap((layer, i): [Layer, Layer][] => (before[i] === layer ? [] : [[layer, layer]]));
}

/** The strokes by which two states of a layer differ, when nothing else of it does. */
function strokesApart(old: Layer | null, now: Layer | null): readonly Stroke[] | null {
  if (old?.kind !== 'brush' || now?.kind !== 'brush') return null;
  const known = new Set(old.strokes.map(({ id }) => id));
  const stays = new Set(now.strokes.map(({ id }) => id));
  const apart = [...now.strokes.filter(({ id }) => !known.has(id)), ...old.strokes.filter(({ id }) => !stays.has(id))];
  return apart.length > 0 ? apart : null;
}

/** Around both; null is all over, undefined nothing. */
function joined(a: Box | null | undefined, b: Box | null | undefined): Box | null | undefined {
  if (a === undefined) return b;
  if (b === undefined) return a;
  if (!a || !b) return null;
  return {
    left: Math.min(a.left, b.left),
    top: Math.min(a.top, b.top),
    right: Math.max(a.right, b.right),
    bottom: Math.max(a.bottom, b.bottom),
  };
}

/**
 * The part of a sheet that a small picture shows: what changed with as much again around it, within the sheet, in whole samples.
 * @param width,height of the picture, samples
 */
export function spotRegion(
  { box }: ChangedSpot,
  sheet: { width: number; height: number },
  width: number,
  height: number,
) {
  const whole = { left: 0, top: 0, right: sheet.width, bottom: sheet.height };
  const cut = (of: Box): Box => ({
    left: Math.max(0, of.left),
    top: Math.max(0, of.top),
    right: Math.min(sheet.width, of.right),
    bottom: Math.min(sheet.height, of.bottom),
  });
  const inner = cut(box ?? whole);
  const { left, top, right, bottom } = inner.left < inner.right && inner.top < inner.bottom ? inner : whole;
  const needed = Math.max(((right - left) * 2) / width, ((bottom - top) * 2) / height, 1);
  const most = Math.ceil(Math.max(sheet.width / width, sheet.height / height));
  const step = Math.min(Math.max(1, most), Math.ceil(needed));
  return {
    x: Math.floor((left + right) / 2 - (width * step) / 2),
    y: Math.floor((top + bottom) / 2 - (height * step) / 2),
    width,
    height,
    step,
  };
}
