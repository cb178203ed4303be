/** The regions of sheets that work keeps to, held beside the renderer. */
import { renderSheet } from '@wet-lacquer/core/compose/renderSheet.ts';
import { drawAlone, sceneOf, type Sources } from '@wet-lacquer/core/compose/renderTile.ts';
import { oklabInto, oklabOf, type Oklab } from '@wet-lacquer/core/colour/oklab.ts';
import { gaussian } from '@wet-lacquer/core/filters/gaussian.ts';
import { shareOf } from '@wet-lacquer/core/filters/replace/apply.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { StrokePatches } from '@wet-lacquer/core/paint/strokes.ts';
import { packTiles, TILE_COLUMNS } from '@wet-lacquer/core/paint/strokes.ts';
import { spreadPatches, tilesReach } from '@wet-lacquer/core/paint/drawStrokes.ts';
import { TILE } from '@wet-lacquer/core/raster/image.ts';
import {
  boxOf,
  combine,
  emptyCoverage,
  grow,
  invert,
  selectLike,
  tilesOf,
  type Coverage8,
  type SelectHow,
} from '@wet-lacquer/core/raster/selection.ts';
import { fillCoverage } from '@wet-lacquer/core/shapes/coverage.ts';
import { seenRegion, ViewDepth, ViewOutline } from '@wet-lacquer/core/surface/seenRegion.ts';
import type { SheetSurface } from '@wet-lacquer/core/surface/surface.ts';
import type { SeenAsk, SelectAsk, SelectionShown } from './messages.ts';

/** Longest side of the picture that shows a selection. */
const SHOWN = 1024;

export interface SelectScene {
  livery: Livery;
  map: string;
  sources: Sources;
  size: { width: number; height: number };
}

export class Selecting {
  /** By sheet; of a sheet without one nothing is open while others have one. */
  private readonly regions = new Map<string, Coverage8>();

  /** Shares of 65535 by tile; null: nothing is selected, so everything may be worked on. */
  limitOf(sheet: string): ((tile: number) => Uint16Array | null) | null {
    const region = this.regions.get(sheet);
    if (!region) return null;
    const kept = new Map<number, Uint16Array>();
    return (tile) => {
      let shares = kept.get(tile);
      if (!shares) {
        shares = new Uint16Array(TILE * TILE);
        const [left, top] = [(tile % TILE_COLUMNS) * TILE, Math.floor(tile / TILE_COLUMNS) * TILE];
        for (let y = 0; y < TILE && top + y < region.height; y++)
          for (let x = 0; x < TILE && left + x < region.width; x++)
            shares[y * TILE + x] = region.data[(top + y) * region.width + left + x] * 257;
        kept.set(tile, shares);
      }
      return shares;
    };
  }

  /** Changes what is selected on a sheet. @returns how all of it is to be shown; empty when nothing is selected any more */
  select(sheet: string, ask: SelectAsk, scene: SelectScene): SelectionShown[] {
    const { width, height } = scene.size;
    const { regions } = this;
    switch (ask.kind) {
      case 'none':
        regions.clear();
        return [];
      case 'invert': {
        if (regions.size === 0) regions.set(sheet, emptyCoverage(width, height));
        for (const region of regions.values()) invert(region);
        break;
      }
      case 'grow':
        for (const region of regions.values()) grow(region, ask.by);
        break;
      case 'feather':
        for (const region of regions.values()) feather(region, ask.sigma);
        break;
      default:
        this.change([{ sheet, size: scene.size }], ask.how, () => regionOf(sheet, ask, scene));
    }
    return this.shown();
  }

  /** Changes what is selected on all of a model's sheets, to what is seen of them within an outline. */
  selectSeen(
    { how, look, outline, not }: SeenAsk,
    sheets: readonly { sheet: string; size: { width: number; height: number } }[],
    surfaceOf: (sheet: string) => SheetSurface,
  ): SelectionShown[] {
    const [first] = sheets;
    if (!first) return this.shown();
    const depth = new ViewDepth(surfaceOf(first.sheet).subject, look, not);
    const filled = new ViewOutline(Float64Array.from(outline.flatMap(({ x, y }) => [x, y])));
    this.change(sheets, how, (sheet) => seenRegion(surfaceOf(sheet), depth, filled, not));
    return this.shown();
  }

  private change(
    sheets: readonly { sheet: string; size: { width: number; height: number } }[],
    asked: SelectHow,
    made: (sheet: string) => Coverage8,
  ): void {
    const { regions } = this;
    const any = regions.size > 0;
    // Where nothing is taped off everything is open: only taking away leaves some of that.
    const how: SelectHow = any || asked === 'take away' ? asked : 'new';
    if (how === 'new') regions.clear();
    for (const { sheet, size } of sheets) {
      let region = regions.get(sheet);
      if (region && (region.width !== size.width || region.height !== size.height)) region = undefined;
      if (!region) {
        region = emptyCoverage(size.width, size.height);
        if (!any && how === 'take away') invert(region);
        regions.set(sheet, region);
      }
      combine(region, made(sheet), how);
    }
    if (how === 'intersect')
      for (const sheet of regions.keys()) if (!sheets.some((one) => one.sheet === sheet)) regions.delete(sheet);
  }

  shown(): SelectionShown[] {
    return [...this.regions].flatMap(([sheet, region]) => {
      const box = boxOf(region);
      if (!box) {
        this.regions.delete(sheet);
        return [];
      }
      const step = Math.max(1, Math.ceil(Math.max(region.width, region.height) / SHOWN));
      const [width, height] = [Math.ceil(region.width / step), Math.ceil(region.height / step)];
      const alpha = new Uint8Array(width * height);
      for (let y = 0; y < height; y++) {
        const row = Math.min(region.height - 1, y * step + (step >> 1)) * region.width;
        for (let x = 0; x < width; x++)
          alpha[y * width + x] = region.data[row + Math.min(region.width - 1, x * step + (step >> 1))];
      }
      return [{ sheet, box, step, width, height, alpha }];
    });
  }

  /** The selection on a sheet as masks and named selections keep it. */
  stored(sheet: string): { bytes: Uint8Array; tiles: number[] } | null {
    const region = this.regions.get(sheet);
    return region ? storedRegion(region) : null;
  }
}

/** A region as masks keep it; null when it is empty. */
export const storedRegion = (region: Coverage8) => packTiles(tilesOf(region, TILE_COLUMNS), 1);

function feather(region: Coverage8, sigma: number): void {
  const wide = Uint16Array.from(region.data, (v) => v * 257);
  gaussian(wide, region.width, region.height, 1, sigma);
  for (let i = 0; i < wide.length; i++) region.data[i] = Math.round(wide[i] / 257);
}

type Making = Exclude<SelectAsk, { kind: 'none' | 'invert' | 'grow' | 'feather' }>;

/** Coverage of what is asked for. */
export function regionOf(sheet: string, ask: Making, scene: SelectScene): Coverage8 {
  const { size, sources, livery, map } = scene;
  const out = emptyCoverage(size.width, size.height);
  switch (ask.kind) {
    case 'outline':
      fillOutline(out, Float64Array.from(ask.points.flatMap(({ x, y }) => [x, y])));
      return out;
    case 'ellipse': {
      const points: number[] = [];
      for (let k = 0; k < 256; k++) {
        const angle = (k / 256) * 2 * Math.PI;
        points.push(ask.x + Math.cos(angle) * ask.rx, ask.y + Math.sin(angle) * ask.ry);
      }
      fillOutline(out, Float64Array.from(points));
      return out;
    }
    case 'island':
    case 'part':
    case 'parts':
      fillOwned(out, sources.surface(sheet), ask);
      return out;
    case 'layer': {
      const all = sceneOf(livery, sheet, map, sources);
      eachTile(size, (region) => {
        const drawn = drawAlone(all, ask.layer, region, 'as it is');
        if (!drawn) return;
        for (let y = 0, i = 0; y < region.height; y++)
          for (let x = 0; x < region.width; x++, i++)
            out.data[(region.y + y) * out.width + region.x + x] = drawn[i * 4 + 3] >> 8;
      });
      return out;
    }
    case 'stored': {
      const patches: StrokePatches = sources.stroke(ask);
      eachTile(size, (region) => {
        const values = new Uint16Array(region.width * region.height);
        if (!tilesReach(ask.tiles, region)) return;
        spreadPatches(patches, ask.tiles, region, values);
        for (let y = 0, i = 0; y < region.height; y++)
          for (let x = 0; x < region.width; x++, i++)
            out.data[(region.y + y) * out.width + region.x + x] = values[i] >> 8;
      });
      return out;
    }
    case 'colour': {
      const { data } = renderSheet(livery, sheet, map, size, sources);
      const [x, y] = [Math.floor(ask.x), Math.floor(ask.y)];
      const at = (y * size.width + x) * 4;
      const wanted = oklabOf(data[at] / 255, data[at + 1] / 255, data[at + 2] / 255);
      const clear = data[at + 3] < 13;
      const known = new Map<number, number>();
      const lab: Oklab = [0, 0, 0];
      const near = (i: number) => {
        const o = i * 4;
        if (clear || data[o + 3] < 13) return clear === data[o + 3] < 13 ? 1 : 0;
        const rgb = (data[o] << 16) | (data[o + 1] << 8) | data[o + 2];
        let share = known.get(rgb);
        if (share === undefined) {
          oklabInto(data[o] / 255, data[o + 1] / 255, data[o + 2] / 255, lab);
          known.set(rgb, (share = shareOf(lab, wanted, ask.tolerance / 100, ask.tolerance / 400)));
        }
        return share;
      };
      return selectLike(size.width, size.height, [y * size.width + x], near, ask.connected);
    }
  }
}

/** Fills an outline by exact area, a band of rows at a time. */
function fillOutline(out: Coverage8, outline: Float64Array): void {
  const xs = outline.filter((_, i) => i % 2 === 0);
  const left = Math.max(0, Math.floor(xs.reduce((a, b) => Math.min(a, b), Infinity)));
  const right = Math.min(out.width, Math.ceil(xs.reduce((a, b) => Math.max(a, b), -Infinity)));
  if (right <= left) return;
  for (let top = 0; top < out.height; top += TILE) {
    const rows = Math.min(TILE, out.height - top);
    const local = outline.map((v, i) => v - (i % 2 ? top : left));
    const coverage = fillCoverage([local], right - left, rows);
    for (let y = 0, i = 0; y < rows; y++)
      for (let x = left; x < right; x++, i++) out.data[(top + y) * out.width + x] = Math.round(coverage[i] * 255);
  }
}

/** Texels of some parts and cells, or of the island at a place. */
function fillOwned(
  out: Coverage8,
  surface: SheetSurface,
  ask: Extract<Making, { kind: 'island' | 'part' | 'parts' }>,
): void {
  const fill = (is: (owner: number) => boolean) => {
    const window = { left: 0, top: 0, right: out.width, bottom: out.height };
    const [inside, owner] = [surface.insideIn(window), surface.ownersIn(window)];
    for (let i = 0; i < out.data.length; i++) out.data[i] = inside[i] && is(owner[i]) ? 255 : 0;
  };
  if (ask.kind === 'parts') {
    const kept = new Uint8Array(surface.parts.length + 1);
    surface.parts.forEach((part, i) => (kept[i + 1] = ask.parts.includes(part.key) ? 1 : 0));
    fill((owner) => kept[owner] === 1);
    for (const { key, left, top, right, bottom } of surface.cells)
      if (ask.parts.includes(key))
        for (let y = top; y < bottom; y++) out.data.fill(255, y * out.width + left, y * out.width + right);
    return;
  }
  const [x, y] = [Math.floor(ask.x), Math.floor(ask.y)];
  if (ask.kind === 'part') {
    const own = surface.insideAt(x, y) ? surface.ownerAt(x, y) : 0;
    if (own > 0) fill((owner) => owner === own);
    return;
  }
  const inside = surface.insideIn({ left: 0, top: 0, right: out.width, bottom: out.height });
  const made = selectLike(out.width, out.height, [y * out.width + x], (i) => inside[i], true);
  out.data.set(made.data);
}

function eachTile(
  size: { width: number; height: number },
  visit: (region: { x: number; y: number; width: number; height: number; step: number }) => void,
): void {
  for (let y = 0; y < size.height; y += TILE)
    for (let x = 0; x < size.width; x += TILE)
      visit({ x, y, width: Math.min(TILE, size.width - x), height: Math.min(TILE, size.height - y), step: 1 });
}
