import { layersOf, type Livery } from '../livery/livery.ts';
import { paintsOf, type Layer } from '../livery/layer.ts';
import { colourOf, fillIn } from '../livery/livery.ts';
import type { Region } from '../layers/kind.ts';
import { TILE } from '../raster/image.ts';
import { halve16 } from '../raster/tile16.ts';
import { blendOver } from './blend.ts';
import { drawLayer, envOf, touches, type Sources } from './renderTile.ts';

/**
 * Draws tiles through a cache keyed by content: by what the layers that touch a tile say, colours and particulars filled in.
 * Nothing is ever invalidated; the least lately used tiles go when the byte budget is reached.
 */
export class TileCache {
  private readonly tiles = new Map<string, Uint16Array>();
  private bytes = 0;
  private readonly names = new Map<string, number>();
  private readonly ofLayer = new WeakMap<Layer, { for: string; name: number }>();

  constructor(private readonly budget: number) {}

  /**
   * A tile of the sheet as it is: at level 0 native, at level n the average of 2^n x 2^n texels of the true composite.
   * @param hot the layer that is being worked on: the composite below it is kept as well
   */
  exact(
    livery: Livery,
    sheet: string,
    map: string,
    size: { width: number; height: number },
    level: number,
    tx: number,
    ty: number,
    sources: Sources,
    hot?: string,
  ): Uint16Array {
    if (level === 0)
      return this.composite(
        livery,
        sheet,
        map,
        { x: tx * TILE, y: ty * TILE, width: TILE, height: TILE, step: 1 },
        sources,
        hot,
      );
    const children: (Uint16Array | null)[] = [];
    for (let k = 0; k < 4; k++) {
      const x = tx * 2 + (k & 1);
      const y = ty * 2 + (k >> 1);
      const scale = TILE << (level - 1);
      const inSheet = x * scale < size.width && y * scale < size.height;
      children.push(inSheet ? this.exact(livery, sheet, map, size, level - 1, x, y, sources, hot) : null);
    }
    const out = new Uint16Array(TILE * TILE * 4);
    const half = TILE / 2;
    children.forEach((child, k) => {
      if (!child) return;
      const small = halve16(child, TILE, TILE);
      for (let y = 0; y < half; y++) {
        out.set(small.subarray(y * half * 4, (y + 1) * half * 4), (((k >> 1) * half + y) * TILE + (k & 1) * half) * 4);
      }
    });
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
    hot?: string,
  ): Uint16Array {
    const step = 1 << level;
    return this.composite(
      livery,
      sheet,
      map,
      { x: tx * TILE * step, y: ty * TILE * step, width: TILE, height: TILE, step },
      sources,
      hot,
    );
  }

  /** What the look of a tile depends on: equal text, equal texels. */
  keyOf(livery: Livery, sheet: string, map: string, level: number, tx: number, ty: number, sources: Sources): string {
    const step = 1 << level;
    const region: Region = { x: tx * TILE * step, y: ty * TILE * step, width: TILE, height: TILE, step };
    const env = envOf(livery, sources);
    const layers = layersOf(livery, sheet, map).filter((layer) => touches(layer, sheet, region, env, sources));
    const boxes = map === 'colour' ? sources.boxes(sheet).map((box) => box.hex) : [];
    return [livery.pins.template, sheet, map, boxes.join(), ...layers.map((layer) => this.nameOf(layer, livery))].join(
      '/',
    );
  }

  private composite(
    livery: Livery,
    sheet: string,
    map: string,
    region: Region,
    sources: Sources,
    hot?: string,
  ): Uint16Array {
    const env = envOf(livery, sources);
    const layers = layersOf(livery, sheet, map).filter((layer) => touches(layer, sheet, region, env, sources));
    const where = `${livery.pins.template}/${sheet}/${map}/${region.x},${region.y},${region.step}`;
    const keys: string[] = [];
    let key = where;
    for (const layer of layers) keys.push((key = `${key}/${this.nameOf(layer, livery)}`));
    const done = this.get(key);
    if (done) return done;
    const hotAt = layers.findIndex((layer) => layer.id === hot);
    let start = 0;
    let out: Uint16Array | null = null;
    if (hotAt > 0) {
      const below = this.get(keys[hotAt - 1]);
      if (below) {
        out = below.slice();
        start = hotAt;
      }
    }
    out ??= new Uint16Array(region.width * region.height * 4);
    for (let i = start; i < layers.length; i++) {
      if (i === hotAt && i > start) this.put(keys[i - 1], out.slice());
      const layer = layers[i];
      const draw = () => drawLayer(layer, region, env, () => sources.surface(sheet));
      blendOver(
        out,
        hotAt >= 0 && i > hotAt ? this.keep(`${where}:${this.nameOf(layer, livery)}`, draw) : draw(),
        layer.blend,
      );
    }
    this.put(key, out);
    return out;
  }

  private keep(key: string, make: () => Uint16Array): Uint16Array {
    const known = this.get(key);
    if (known) return known;
    const made = make();
    this.put(key, made);
    return made;
  }

  /** A small number that stands for all that a layer's look depends on. */
  private nameOf(layer: Layer, livery: Livery): number {
    const colours = paintsOf(layer).map((paint) => colourOf(livery, paint).join());
    const text =
      layer.kind === 'lettering' ? fillIn(layer.text, livery.particulars) + livery.pins.fonts[layer.font] : '';
    const outside = `${colours.join(';')}|${text}`;
    const known = this.ofLayer.get(layer);
    if (known?.for === outside) return known.name;
    const { id: _id, name: _name, phase: _phase, locked: _locked, ...looks } = layer;
    const content = JSON.stringify(looks) + outside;
    const name = this.names.get(content) ?? this.names.size;
    this.names.set(content, name);
    this.ofLayer.set(layer, { for: outside, name });
    return name;
  }

  private get(key: string): Uint16Array | undefined {
    const tile = this.tiles.get(key);
    if (tile) {
      this.tiles.delete(key);
      this.tiles.set(key, tile);
    }
    return tile;
  }

  private put(key: string, tile: Uint16Array): void {
    if (this.tiles.has(key)) return;
    this.tiles.set(key, tile);
    this.bytes += tile.byteLength;
    for (const [oldest, old] of this.tiles) {
      if (this.bytes <= this.budget) break;
      this.tiles.delete(oldest);
      this.bytes -= old.byteLength;
    }
  }
}
