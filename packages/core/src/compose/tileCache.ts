import { putStroke } from '../layers/brush/draw.ts';
import type { Region } from '../layers/kind.ts';
import type { Layer } from '../livery/layer.ts';
import { MAIN_MAP } from '../livery/template.ts';
import type { Livery } from '../livery/livery.ts';
import type { LayerNode } from '../livery/tree.ts';
import { newTile, scoped, zeroedTile, taken } from '../raster/arena.ts';
import { blendOver } from '../raster/blend.ts';
import { TILE } from '../raster/image.ts';
import { halve16 } from '../raster/tile16.ts';
import {
  drawNode,
  hasPicture,
  isSourceOver,
  putNode,
  sceneOf,
  touches,
  uniformOf,
  type Scene,
  type Sources,
} from './renderTile.ts';
import { TileNames, type Plan, type Step } from './tileNames.ts';

/** How a tile is asked for. */
export interface TileLook {
  /** The layer that is being worked on: what lies below it is kept. */
  hot?: string;
  /**
   * While things move: what lies above is kept too, and put together once as far as it is plain source-over; the last of 16 bits may
   * differ.
   */
  live?: boolean;
}

/**
 * Draws tiles through a cache keyed by content: by what the layers that touch a tile say, colours and particulars filled in.
 * Nothing is ever invalidated; the least lately used tiles go when the byte budget is reached.
 */
export class TileCache {
  private readonly tiles = new Map<number, Uint16Array>();
  private bytes = 0;
  readonly names = new TileNames(() => {
    this.tiles.clear();
    this.bytes = 0;
  });

  constructor(private readonly budget: number) {}

  /**
   * A tile of the sheet as it is: at level 0 native, at level n the average of 2^n x 2^n texels of the true composite.
   */
  exact(...of: Parameters<TileCache['exactly']>): Uint16Array {
    const steps = this.exactly(...of);
    for (;;) {
      const { done, value } = steps.next();
      if (done) return value;
    }
  }

  /** The same, with a pause after each native tile. */
  *exactly(
    livery: Livery,
    sheet: string,
    map: string,
    size: { width: number; height: number },
    level: number,
    tx: number,
    ty: number,
    sources: Sources,
    look: TileLook = {},
  ): Generator<undefined, Uint16Array> {
    if (level === 0) {
      const tile = this.composite(sceneOf(livery, sheet, map, sources), tileRegion(0, tx, ty), look);
      yield;
      return tile;
    }
    const out = new Uint16Array(TILE * TILE * 4);
    const half = TILE / 2;
    for (let k = 0; k < 4; k++) {
      const x = tx * 2 + (k & 1);
      const y = ty * 2 + (k >> 1);
      const scale = TILE << (level - 1);
      if (x * scale >= size.width || y * scale >= size.height) continue;
      const child = yield* this.exactly(livery, sheet, map, size, level - 1, x, y, sources, look);
      scoped(() => {
        const small = halve16(taken(child), TILE, TILE);
        for (let row = 0; row < half; row++) {
          out.set(
            small.subarray(row * half * 4, (row + 1) * half * 4),
            (((k >> 1) * half + row) * TILE + (k & 1) * half) * 4,
          );
        }
      });
    }
    return out;
  }

  /** A quick draft of a zoomed-out tile: layers drawn straight at the coarse step. */
  draft(
    livery: Livery,
    sheet: string,
    map: string,
    level: number,
    tx: number,
    ty: number,
    sources: Sources,
    look: TileLook = {},
  ): Uint16Array {
    return this.composite(sceneOf(livery, sheet, map, sources), tileRegion(level, tx, ty), look);
  }

  /**
   * A rectangle of a tile, not kept: for a stroke that grows. What lies around the hot layer comes from the cache.
   * @param rect in the tile's samples
   */
  rect(
    livery: Livery,
    sheet: string,
    map: string,
    level: number,
    tx: number,
    ty: number,
    rect: { x: number; y: number; width: number; height: number },
    sources: Sources,
    hot: string,
  ): Uint16Array {
    const scene = sceneOf(livery, sheet, map, sources);
    const tile = tileRegion(level, tx, ty);
    return scoped(() => {
      const out = zeroedTile(rect.width * rect.height * 4);
      new Composer(this, tile, rect, { hot, live: true }).compose(scene.nodes, scene, out, true);
      return out.slice();
    });
  }

  /** What the look of a tile depends on: equal text, equal texels. */
  keyOf(livery: Livery, sheet: string, map: string, level: number, tx: number, ty: number, sources: Sources): string {
    const region = tileRegion(level, tx, ty);
    const scene = sceneOf(livery, sheet, map, sources);
    const nodes = scene.nodes.filter((node) => touches(node, region, scene));
    const boxes = map === MAIN_MAP ? sources.boxes(sheet).map((box) => box.hex) : [];
    const names = nodes.map((node) => this.names.nameOf(node, region, scene));
    return [livery.pins.template, sheet, map, boxes.join(), ...names].join('/');
  }

  private composite(scene: Scene, region: Region, look: TileLook): Uint16Array {
    const { nodes } = scene;
    const key = this.keyAt(nodes, region, scene, look.live === true && look.hot !== undefined);
    const done = this.get(key);
    if (done) return done;
    return scoped(() => {
      const out = zeroedTile(region.width * region.height * 4);
      const all = { x: 0, y: 0, width: region.width, height: region.height };
      new Composer(this, region, all, look).compose(nodes, scene, out, true);
      return this.put(key, out.slice());
    });
  }

  /** The name of a whole composite. */
  private keyAt(nodes: readonly LayerNode[], region: Region, scene: Scene, live: boolean): number {
    let key = this.names.chain(this.names.where(region, scene), live ? 'live' : '');
    for (const node of nodes)
      if (touches(node, region, scene)) key = this.names.chain(key, this.names.nameOf(node, region, scene));
    return key;
  }

  /** A cached picture, or one that is made in the arena and kept. */
  keep(key: number, texels: number, make: (out: Uint16Array) => void): Uint16Array {
    const known = this.get(key);
    if (known) return known;
    return scoped(() => {
      const out = zeroedTile(texels * 4);
      make(out);
      return this.put(key, out.slice());
    });
  }

  get(key: number): Uint16Array | undefined {
    const tile = this.tiles.get(key);
    if (tile) {
      this.tiles.delete(key);
      this.tiles.set(key, tile);
    }
    return tile;
  }

  put(key: number, tile: Uint16Array): Uint16Array {
    if (this.tiles.has(key)) return tile;
    this.tiles.set(key, tile);
    this.bytes += tile.byteLength;
    for (const [oldest, old] of this.tiles) {
      if (this.bytes <= this.budget) break;
      this.tiles.delete(oldest);
      this.bytes -= old.byteLength;
    }
    return tile;
  }
}

const tileRegion = (level: number, tx: number, ty: number): Region => {
  const step = 1 << level;
  return { x: tx * TILE * step, y: ty * TILE * step, width: TILE, height: TILE, step };
};

const holds = ({ layer, inside, clipped }: LayerNode, id: string): boolean =>
  layer.id === id ||
  (inside.length > 0 && inside.some((inner) => holds(inner, id))) ||
  (clipped.length > 0 && clipped.some((inner) => holds(inner, id)));

/** Composes a tile, or a rectangle of it, from pictures of whole tiles that are kept; only what holds the hot layer is drawn anew. */
class Composer {
  private readonly region: Region;
  private readonly whole: boolean;

  constructor(
    private readonly cache: TileCache,
    private readonly tile: Region,
    private readonly rect: { x: number; y: number; width: number; height: number },
    private readonly look: TileLook,
  ) {
    this.whole = rect.width === tile.width && rect.height === tile.height;
    this.region = this.whole
      ? tile
      : {
          x: tile.x + rect.x * tile.step,
          y: tile.y + rect.y * tile.step,
          width: rect.width,
          height: rect.height,
          step: tile.step,
        };
  }

  /**
   * Puts nodes on what `out` holds.
   * @param empty nothing is there yet
   * @param home the group that holds them
   */
  compose(all: readonly LayerNode[], scene: Scene, out: Uint16Array, empty: boolean, home = ''): void {
    const { cache, tile, region, look } = this;
    const hooks = {
      compose: (of: LayerNode, where: Region, on: Scene, into: Uint16Array, fresh: boolean) => {
        // Regions that filters widened are not tiles: they are drawn as they are.
        if (where === region) this.compose(of.inside, on, into, fresh, of.layer.id);
        else for (const node of of.inside) if (touches(node, where, on)) putNode(node, where, on, into);
      },
      draw: (layer: Layer, where: Region, of: Scene, into: Uint16Array) =>
        layer.kind === 'brush' && where === region && this.drawBrush(layer, of, into),
    };
    const hotAt = look.hot === undefined ? -1 : all.findIndex((node) => holds(node, look.hot!));
    if (hotAt < 0) {
      for (const node of all) if (touches(node, tile, scene)) putNode(node, region, scene, out, hooks);
      return;
    }
    const name = [cache.names.where(tile, scene), look.hot, look.live ? 'live' : '', home, empty].join();
    const plan = cache.names.plan(name, scene, look.hot!, () => this.planFor(all, hotAt, scene, empty));
    if (plan.below.key !== null) {
      this.copy(
        cache.keep(plan.below.key, tile.width * tile.height, (into) => {
          for (const node of plan.below.nodes) putNode(node, tile, scene, into);
        }),
        out,
      );
    } else for (const node of plan.below.nodes) this.putStep(this.stepOf([node], scene), scene, out);
    if (touches(all[hotAt], tile, scene)) putNode(all[hotAt], region, scene, out, hooks);
    for (const step of plan.above) this.putStep(step, scene, out);
  }

  private planFor(all: readonly LayerNode[], hotAt: number, scene: Scene, empty: boolean): Plan {
    const { cache, tile, look } = this;
    const below = all.slice(0, hotAt).filter((node) => touches(node, tile, scene));
    const above = all.slice(hotAt + 1).filter((node) => touches(node, tile, scene));
    const steps: Step[] = [];
    for (let i = 0; i < above.length;) {
      let to = i + 1;
      if (look.live && isSourceOver(above[i])) while (to < above.length && isSourceOver(above[to])) to++;
      steps.push(this.stepOf(above.slice(i, to), scene));
      i = to;
    }
    let key: number | null = null;
    if (empty && below.length > 0) {
      key = cache.names.where(tile, scene);
      for (const node of below) key = cache.names.chain(key, cache.names.nameOf(node, tile, scene));
    }
    return { of: scene, below: { nodes: below, key }, above: steps };
  }

  /** One node, or several that are plain source-over: with a name where their picture is worth keeping. */
  private stepOf(nodes: readonly LayerNode[], scene: Scene): Step {
    const { cache, tile } = this;
    const simple = nodes.length === 1 && uniformOf(nodes[0], tile, scene) !== null;
    if (!this.look.live || !hasPicture(nodes[0]) || simple) return { nodes, key: null };
    let key = cache.names.chain(cache.names.where(tile, scene), 'alone');
    for (const node of nodes) key = cache.names.chain(key, cache.names.nameOf(node, tile, scene));
    return { nodes, key };
  }

  private putStep({ nodes, key }: Step, scene: Scene, out: Uint16Array): void {
    const { cache, tile, region } = this;
    if (key === null) return putNode(nodes[0], region, scene, out);
    const kept = cache.keep(key, tile.width * tile.height, (into) => {
      if (nodes.length === 1) into.set(scoped(() => drawNode(nodes[0], tile, scene)));
      else for (const node of nodes) putNode(node, tile, scene, into);
    });
    scoped(() => {
      const drawn = newTile(out.length);
      this.copy(kept, drawn);
      if (nodes.length === 1) putNode(nodes[0], region, scene, out, undefined, drawn);
      else blendOver(out, drawn, 'normal');
    });
  }

  /** The strokes so far are kept as one picture; a new one goes on the picture of those before it. */
  private drawBrush(layer: Extract<Layer, { kind: 'brush' }>, scene: Scene, out: Uint16Array): boolean {
    const { cache, tile, region } = this;
    const { here, live, before, key } = cache.names.strokesOn(layer.strokes, tile, scene);
    if (here.length > 0) {
      this.copy(
        cache.keep(key, tile.width * tile.height, (into) => {
          const known = cache.get(before);
          if (known) into.set(known);
          for (const stroke of known ? here.slice(-1) : here) putStroke(stroke, tile, scene.env, into);
        }),
        out,
      );
    }
    if (live) putStroke(live, region, scene.env, out);
    return true;
  }

  /** The rectangle of a whole tile's picture. */
  private copy(kept: Uint16Array, out: Uint16Array): void {
    if (this.whole) {
      out.set(kept);
      return;
    }
    const { x, y, width, height } = this.rect;
    for (let row = 0; row < height; row++) {
      const from = ((y + row) * this.tile.width + x) * 4;
      out.set(kept.subarray(from, from + width * 4), row * width * 4);
    }
  }
}
