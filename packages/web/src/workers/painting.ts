/** A stroke while it is being painted: it lies on the livery as one more stroke whose coverage grows. */
import { heldIn } from '@wet-lacquer/core/held.ts';
import { finished, sceneOf, type Sources } from '@wet-lacquer/core/compose/renderTile.ts';
import type { TileCache } from '@wet-lacquer/core/compose/tileCache.ts';
import { LIVE_STROKE } from '@wet-lacquer/core/compose/tileNames.ts';
import { sha256 } from '@wet-lacquer/core/files/sha256.ts';
import { applyEdit } from '@wet-lacquer/core/livery/edit.ts';
import type { LayerId, Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { normalise, shiftedTile, throughCoverage } from '@wet-lacquer/core/paint/clone.ts';
import { ModelSource } from '@wet-lacquer/core/paint/cloneOnModel.ts';
import { StrokeMaker, type PointerPoint } from '@wet-lacquer/core/paint/strokeMaker.ts';
import { SurfaceStroke } from '@wet-lacquer/core/paint/surfaceStroke.ts';
import { packTiles, TILE_COLUMNS, type StrokePatches } from '@wet-lacquer/core/paint/strokes.ts';
import type { TexelBox } from '@wet-lacquer/core/raster/cover.ts';
import { TILE } from '@wet-lacquer/core/raster/image.ts';
import type { Looking, PaintAsk, PaintedStroke, PaintMove, PaintPatch } from './messages.ts';

const LIVE_BLOB = '0'.repeat(64) as Sha256;

type Box = Parameters<typeof throughCoverage>[3];
/** Texels that a tile takes, those of a box at least where they are covered. */
type Taking = (number: number, coverage: Uint16Array, box: Box) => Uint16Array;

interface Around {
  livery: Livery;
  sources: Sources;
  cache: TileCache;
  size: { width: number; height: number };
  sizeOf(sheet: string): { width: number; height: number };
  /** Shares that a selection lets through, by tile; null: there is no selection. */
  limit: ((tile: number) => Uint16Array | null) | null;
}

export class Painting {
  private readonly maker: StrokeMaker;
  /** Four channels, for strokes that bring pixels of their own. */
  private readonly pixels = new Map<number, Uint16Array>();
  private taking: Taking | null = null;
  private live: Livery;
  private tiles: number[] = [];
  private readonly sources: Sources;

  constructor(
    readonly ask: PaintAsk,
    private readonly around: Around,
  ) {
    const { brush, symmetry, wrap, seed, model, sheet } = ask;
    const rules = { ...around.size, seed, ...(around.limit && { limit: around.limit }) };
    this.maker = model
      ? new SurfaceStroke(brush, { ...rules, ...model, surface: around.sources.surface(sheet) })
      : new StrokeMaker(brush, { ...rules, symmetry, wrap });
    this.live = around.livery;
    this.sources = {
      ...around.sources,
      stroke: (stroke) => (stroke.blob === LIVE_BLOB ? this.patches() : around.sources.stroke(stroke)),
    };
  }

  /** Follows the pointer. @returns what changed of the tiles that are in view */
  move({ points, straight, looks }: PaintMove): PaintPatch[] {
    for (const point of points)
      if (straight) this.maker.straightTo(this.onSheet(point));
      else this.maker.to(this.onSheet(point));
    return this.drawn(looks);
  }

  private onSheet(point: PointerPoint): PointerPoint {
    return { ...point, x: point.x - this.ask.left, y: point.y - this.ask.top };
  }

  /** A tile with the stroke on it, or a rectangle of its samples: straight RGBA8. */
  tile(level: number, tx: number, ty: number, rect = { x: 0, y: 0, width: TILE, height: TILE }): Uint8Array {
    const { sheet, map, layer } = this.ask;
    const picture = this.around.cache.rect(this.live, sheet, map, level, tx, ty, rect, this.sources, layer);
    const step = 1 << level;
    const region = { ...rect, x: (tx * TILE + rect.x) * step, y: (ty * TILE + rect.y) * step, step };
    return finished(picture, sheet, map, region, this.sources);
  }

  private drawn(looks: readonly Looking[]): PaintPatch[] {
    const boxes = this.maker.changed();
    if (boxes.length === 0) return [];
    if (this.ask.clone) for (const box of boxes) this.bring(box);
    this.put();
    return looks.flatMap(({ level, tiles }) =>
      this.patchesIn(
        level,
        tiles.filter(({ sheet }) => sheet === this.ask.sheet),
        boxes,
      ),
    );
  }

  private patchesIn(level: number, tiles: Looking['tiles'], boxes: readonly TexelBox[]): PaintPatch[] {
    const step = 1 << level;
    const span = TILE * step;
    return tiles.flatMap(({ tx, ty }) => {
      let [left, top, right, bottom] = [TILE, TILE, 0, 0];
      for (const box of boxes) {
        const x0 = Math.max(0, Math.floor((box.left - tx * span) / step));
        const x1 = Math.min(TILE, Math.ceil((box.right - tx * span) / step));
        const y0 = Math.max(0, Math.floor((box.top - ty * span) / step));
        const y1 = Math.min(TILE, Math.ceil((box.bottom - ty * span) / step));
        if (x0 >= x1 || y0 >= y1) continue;
        left = Math.min(left, x0);
        right = Math.max(right, x1);
        top = Math.min(top, y0);
        bottom = Math.max(bottom, y1);
      }
      if (left >= right || top >= bottom) return [];
      const rect = { x: left, y: top, width: right - left, height: bottom - top };
      const bytes = this.tile(level, tx, ty, rect);
      return [
        { sheet: this.ask.sheet, level, tx, ty, ...rect, pixels: new Uint8ClampedArray(bytes.buffer as ArrayBuffer) },
      ];
    });
  }

  /**
   * The stroke as it is kept; nothing when it touched nothing.
   * @param last where the hand was when it was lifted
   * @param also other maps on which the same texels are cloned
   */
  async end(last: PointerPoint | null, also: readonly string[]): Promise<PaintedStroke[]> {
    const { sheet, map, clone } = this.ask;
    this.maker.end(last && this.onSheet(last));
    const boxes = this.maker.changed();
    if (clone) for (const box of boxes) this.bring(box);
    const kept = async (on: string, tiles: ReadonlyMap<number, Uint16Array>, channels: 1 | 4) => {
      const packed = packTiles(tiles, channels);
      if (!packed) return [];
      const stroke = { ...this.looks(), blob: await sha256(packed.bytes), tiles: packed.tiles };
      return [{ sheet, map: on, stroke, bytes: packed.bytes }];
    };
    if (!clone) return kept(map, this.maker.tiles, 1);
    const own = await kept(map, this.pixels, 4);
    const others = await Promise.all(also.map((on) => kept(on, this.clonedOn(on), 4)));
    return [...own, ...others.flat()];
  }

  /** What the whole stroke clones on another map: from the same places to the same places. */
  private clonedOn(map: string): Map<number, Uint16Array> {
    const whole = { left: 0, top: 0, right: TILE, bottom: TILE };
    const all = new Map<number, Uint16Array>();
    const source = this.sourceOf(map, map);
    for (const [number, coverage] of this.maker.tiles) {
      const moved = source(number, coverage, whole);
      const out = new Uint16Array(TILE * TILE * 4);
      throughCoverage(moved, coverage, out, whole);
      all.set(number, out);
    }
    return all;
  }

  /** What covered texels of a tile take of one map for another. */
  private sourceOf(from: string, onto: string): Taking {
    const clone = this.ask.clone!;
    const moved = new Map<number, Uint16Array>();
    if ('dx' in clone)
      return (number) => {
        const tile = moved.get(number) ?? this.movedTile(number, clone.dx, clone.dy, from, onto);
        moved.set(number, tile);
        return tile;
      };
    const { cache, livery, sources, sizeOf } = this.around;
    const tiles = new Map<string, Uint16Array | null>();
    const tileOf = (sheet: string, tx: number, ty: number) => {
      const name = `${sheet} ${tx} ${ty}`;
      let tile = tiles.get(name);
      if (tile === undefined) {
        const size = sizeOf(sheet);
        const outside = tx * TILE >= size.width || ty * TILE >= size.height;
        tile = outside ? null : cache.exact(livery, sheet, from, size, 0, tx, ty, sources);
        tiles.set(name, tile);
      }
      return tile;
    };
    const whole = sources.holds(this.ask.sheet, onto) === 'ids';
    const model = new ModelSource(sources.surface(this.ask.sheet), clone.way, tileOf, whole);
    const there = new Map<number, Uint8Array>();
    return (number, coverage, box) => {
      const tile = moved.get(number) ?? new Uint16Array(TILE * TILE * 4);
      const done = there.get(number) ?? new Uint8Array(TILE * TILE);
      moved.set(number, tile);
      there.set(number, done);
      model.bring(number, coverage, tile, done, box);
      return tile;
    };
  }

  /** A map's composite as it lies under a tile when it is moved; on a map of directions these have length one, wherever they are from. */
  private movedTile(number: number, dx: number, dy: number, from: string, onto: string): Uint16Array {
    const { cache, livery, sources, size } = this.around;
    const moved = shiftedTile(number, dx, dy, (tx, ty) => {
      if (tx < 0 || ty < 0 || tx * TILE >= size.width || ty * TILE >= size.height) return null;
      return cache.exact(livery, this.ask.sheet, from, size, 0, tx, ty, sources);
    });
    if (sources.holds(this.ask.sheet, onto) === 'normal') normalise(moved);
    return moved;
  }

  private looks() {
    const { clone, how, paint, brush } = this.ask;
    return clone
      ? { how: 'pixels' as const, opacity: brush.opacity }
      : { how, opacity: brush.opacity, ...(how === 'paint' && { paint }) };
  }

  private patches(): StrokePatches {
    const channels = this.ask.clone ? 4 : 1;
    const from = channels === 4 ? this.pixels : this.maker.tiles;
    const whole = { left: 0, top: 0, width: TILE, height: TILE };
    return { channels, patches: this.tiles.map((tile) => ({ ...whole, values: heldIn(from, tile) })) };
  }

  /** Puts the stroke on the livery anew when it has reached another tile. */
  private put(): void {
    const tiles = [...(this.ask.clone ? this.pixels : this.maker.tiles).keys()];
    if (tiles.length === this.tiles.length) return;
    this.tiles = tiles;
    const { layer, on } = this.ask;
    const stroke = { id: LIVE_STROKE, blob: LIVE_BLOB, tiles, ...this.looks() };
    this.live = applyEdit(this.around.livery, { do: 'add-stroke', layer: layer as LayerId, on, stroke }).livery;
  }

  /** Cloned texels of a box, through what is covered by now. */
  private bring(box: TexelBox): void {
    const { map, clone } = this.ask;
    for (const [number, coverage] of this.maker.tiles) {
      const tx = number % TILE_COLUMNS;
      const ty = Math.floor(number / TILE_COLUMNS);
      const within = {
        left: Math.max(0, box.left - tx * TILE),
        top: Math.max(0, box.top - ty * TILE),
        right: Math.min(TILE, box.right - tx * TILE),
        bottom: Math.min(TILE, box.bottom - ty * TILE),
      };
      if (within.left >= within.right || within.top >= within.bottom) continue;
      this.taking ??= this.sourceOf(clone!.map ?? map, map);
      const moved = this.taking(number, coverage, within);
      let out = this.pixels.get(number);
      if (!out) this.pixels.set(number, (out = new Uint16Array(TILE * TILE * 4)));
      throughCoverage(moved, coverage, out, within);
    }
  }
}

/** The composite of a map under a texel as straight 8-bit sRGB; null where nothing is painted. */
export function colourUnder(
  livery: Livery,
  sheet: string,
  map: string,
  x: number,
  y: number,
  sources: Sources,
  cache: TileCache,
): [number, number, number] | null {
  const scene = sceneOf(livery, sheet, map, sources);
  const size = { width: TILE, height: TILE };
  const tile = cache.exact(scene.livery, sheet, map, size, 0, Math.floor(x / TILE), Math.floor(y / TILE), sources);
  const i = ((Math.floor(y) % TILE) * TILE + (Math.floor(x) % TILE)) * 4;
  const a = tile[i + 3];
  if (a === 0) return null;
  const value = (c: number) => Math.round((tile[i + c] / a) * 255);
  return [value(0), value(1), value(2)];
}
