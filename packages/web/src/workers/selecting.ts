/** The region of a sheet that work keeps to, held beside the renderer. */
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
import type { SheetSurface } from '@wet-lacquer/core/surface/surface.ts';
import type { SelectAsk, SelectionShown } from './messages.ts';

/** Longest side of the picture that shows a selection. */
const SHOWN = 1024;

export interface SelectScene {
  livery: Livery;
  map: string;
  sources: Sources;
  size: { width: number; height: number };
}

export class Selecting {
  private region: Coverage8 | null = null;
  private of: string | null = null;

  /** Shares of 65535 by tile; null: nothing is selected, so everything may be worked on. */
  limitOf(sheet: string): ((tile: number) => Uint16Array | null) | null {
    const { region } = this;
    if (!region || this.of !== sheet) return null;
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

  /** Changes the selection. @returns how it is to be shown; null when nothing is selected any more */
  select(sheet: string, ask: SelectAsk, scene: SelectScene): SelectionShown | null {
    const { width, height } = scene.size;
    if (this.of !== sheet || (this.region && this.region.width !== width)) this.region = null;
    this.of = sheet;
    switch (ask.kind) {
      case 'none':
        this.region = null;
        return null;
      case 'invert':
        this.region ??= emptyCoverage(width, height);
        invert(this.region);
        break;
      case 'grow':
        if (this.region) grow(this.region, ask.by);
        break;
      case 'feather':
        if (this.region) feather(this.region, ask.sigma);
        break;
      default: {
        const made = regionOf(sheet, ask, scene);
        const how: SelectHow = this.region ? ask.how : ask.how === 'take away' ? 'take away' : 'new';
        if (!this.region) {
          this.region = emptyCoverage(width, height);
          if (how === 'take away') invert(this.region);
        }
        combine(this.region, made, how);
      }
    }
    return this.shown();
  }

  shown(): SelectionShown | null {
    const { region } = this;
    const box = region && boxOf(region);
    if (!region || !box) {
      this.region = null;
      return null;
    }
    const step = Math.max(1, Math.ceil(Math.max(region.width, region.height) / SHOWN));
    const [width, height] = [Math.ceil(region.width / step), Math.ceil(region.height / step)];
    const alpha = new Uint8Array(width * height);
    for (let y = 0; y < height; y++) {
      const row = Math.min(region.height - 1, y * step + (step >> 1)) * region.width;
      for (let x = 0; x < width; x++)
        alpha[y * width + x] = region.data[row + Math.min(region.width - 1, x * step + (step >> 1))];
    }
    return { box, step, width, height, alpha };
  }

  /** The selection as masks and named selections keep it. */
  stored(): { bytes: Uint8Array; tiles: number[] } | null {
    return this.region && storedRegion(this.region);
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
