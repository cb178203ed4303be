/** What the flat sheet's canvas shows: the tiles that are there, the ground and the ghost under them, and coarser tiles until finer ones come. */
import { context2d } from '../../parts/context2d.ts';
import type { PaintPatch } from '../../workers/messages.ts';
import type { Channel, SessionState, Surround } from '../session.ts';
import { toScreen, toTexel, type Look } from './view.ts';
import { ART } from '../../theme.ts';

export const TILE = 256;
const MAX_TILES = 320;
const SURROUND: Record<Surround, string> = { black: '#000000', grey: ART.ground, white: '#ffffff' };

export interface Tile {
  canvas: OffscreenCanvas;
  key: string | null;
  /** The livery that it was checked against, and the one that changed it last. */
  version: number;
  changed: number;
  exact: boolean;
}

/** A sheet, and where its first texel lies in the view's texels. */
export interface Shown {
  readonly sheet: { readonly key: string; readonly width: number; readonly height: number };
  readonly left: number;
  readonly top: number;
}

/** How the sheets are shown. */
export interface Looks extends Pick<SessionState, 'map' | 'channel' | 'under' | 'surround'> {
  /** The mask of a layer instead of the art. */
  maskOf?: string | null;
  /** Originals under the art, by sheet; strength 0..1. */
  ghosts?: { of: ReadonlyMap<string, ImageBitmap>; strength: number } | null;
}

export interface Wanted {
  id: string;
  piece: Shown;
  level: number;
  tx: number;
  ty: number;
}

/** Straight RGBA8 in place: one channel as opaque grey, or the colour as if alpha were not there. */
export function showChannel(pixels: Uint8ClampedArray, channel: Channel): void {
  if (channel === 'all') return;
  const from = { colour: -1, red: 0, green: 1, blue: 2, alpha: 3 }[channel];
  for (let i = 0; i < pixels.length; i += 4) {
    if (from >= 0) pixels.fill(pixels[i + from], i, i + 3);
    pixels[i + 3] = 255;
  }
}

export class ArtCanvas {
  readonly tiles = new Map<string, Tile>();
  view: Look | null = null;
  private readonly ctx: CanvasRenderingContext2D;
  private pieces: readonly Shown[] = [];
  private looks: Looks = { map: 'colour', channel: 'all', under: 'checker', surround: 'grey' };
  private frame = 0;
  private closed = false;
  /** Something is there that has not been painted yet. */
  unpainted = false;

  constructor(private readonly canvas: HTMLCanvasElement) {
    this.ctx = context2d(canvas, { alpha: false });
  }

  get map(): string {
    return this.looks.map;
  }
  get channel(): Channel {
    return this.looks.channel;
  }
  get maskOf(): string | null {
    return this.looks.maskOf ?? null;
  }

  look(view: Look, pieces: readonly Shown[], looks: Looks): void {
    this.view = view;
    this.pieces = pieces;
    this.looks = looks;
    const ratio = devicePixelRatio;
    const [width, height] = [Math.round(view.width * ratio), Math.round(view.height * ratio)];
    if (this.canvas.width !== width || this.canvas.height !== height) {
      this.canvas.width = width;
      this.canvas.height = height;
      this.paint();
    }
    this.repaint();
  }

  close(): void {
    this.closed = true;
    cancelAnimationFrame(this.frame);
  }

  get level(): number {
    // A tile may be stretched by a tenth: that looks the same, and saves three tiles of four just below a step.
    return Math.max(0, Math.floor(Math.log2(1 / (this.view!.zoom * devicePixelRatio)) + 0.14));
  }

  idOf(sheet: string, level: number, tx: number, ty: number): string {
    return `${sheet}/${this.map}/${this.channel}/${this.maskOf ?? ''}/${level}/${tx}/${ty}`;
  }

  /** The tiles of a level that are in view, nearest to the middle first. */
  visible(level: number): Wanted[] {
    const view = this.view!;
    const span = TILE << level;
    const from = toTexel(view, 0, 0);
    const to = toTexel(view, view.width, view.height);
    const range = (low: number, high: number, size: number) => [
      Math.max(0, Math.floor(low / span)),
      Math.min(Math.ceil(size / span) - 1, Math.floor(high / span)),
    ];
    const found = this.pieces.flatMap((piece) => {
      const { sheet, left, top } = piece;
      const [x0, x1] = range(from.x - left, to.x - left, sheet.width);
      const [y0, y1] = range(from.y - top, to.y - top, sheet.height);
      const tiles: Wanted[] = [];
      for (let ty = y0; ty <= y1; ty++)
        for (let tx = x0; tx <= x1; tx++) tiles.push({ id: this.idOf(sheet.key, level, tx, ty), piece, level, tx, ty });
      return tiles;
    });
    const far = ({ piece, tx, ty }: Wanted) =>
      Math.hypot(piece.left + (tx + 0.5) * span - view.x, piece.top + (ty + 0.5) * span - view.y);
    return found.sort((a, b) => far(a) - far(b));
  }

  /** The level at which every sheet is one tile. */
  get topLevel(): number {
    const side = Math.max(...this.pieces.map(({ sheet }) => Math.max(sheet.width, sheet.height)));
    return Math.max(this.level, Math.ceil(Math.log2(side / TILE)));
  }

  /** Takes in a tile's pixels, straight RGBA8. @param channel what was shown when they were asked for */
  put(kept: Tile, pixels: Uint8ClampedArray<ArrayBuffer>, channel: Channel): void {
    showChannel(pixels, channel);
    context2d(kept.canvas).putImageData(new ImageData(pixels, TILE, TILE), 0, 0);
  }

  /** Shows what a stroke changed, at once. */
  patch(map: string, patches: readonly PaintPatch[]): void {
    if (map !== this.map || !this.view || this.closed) return;
    const ratio = devicePixelRatio;
    const only = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity };
    for (const { sheet, level, tx, ty, x, y, width, height, pixels } of patches) {
      const tile = this.tiles.get(this.idOf(sheet, level, tx, ty));
      const piece = this.pieces.find((one) => one.sheet.key === sheet);
      if (!tile || !piece) continue;
      showChannel(pixels, this.channel);
      context2d(tile.canvas).putImageData(new ImageData(pixels, width, height), x, y);
      tile.key = null;
      tile.exact = false;
      const step = 1 << level;
      const at = (px: number, py: number) =>
        toScreen(this.view!, piece.left + (tx * TILE + px) * step, piece.top + (ty * TILE + py) * step);
      const [from, to] = [at(x - 1, y - 1), at(x + width + 1, y + height + 1)];
      only.left = Math.min(only.left, Math.floor(from.x * ratio) - 1);
      only.top = Math.min(only.top, Math.floor(from.y * ratio) - 1);
      only.right = Math.max(only.right, Math.ceil(to.x * ratio) + 1);
      only.bottom = Math.max(only.bottom, Math.ceil(to.y * ratio) + 1);
    }
    if (only.right > only.left) this.paint(only);
  }

  forget(): void {
    if (this.tiles.size <= MAX_TILES) return;
    const needed = new Set(this.visible(this.level).map((tile) => tile.id));
    for (const id of this.tiles.keys()) {
      if (this.tiles.size <= MAX_TILES) return;
      if (!needed.has(id)) this.tiles.delete(id);
    }
  }

  repaint(): void {
    if (this.frame) return;
    this.frame = requestAnimationFrame(() => {
      this.frame = 0;
      this.paint();
    });
  }

  /** @param only a rectangle of the canvas; all of it when left out */
  paint(only?: { left: number; top: number; right: number; bottom: number }): void {
    const { ctx, view, level } = this;
    const { ghosts } = this.looks;
    if (!view || this.closed) return;
    if (!only) this.unpainted = false;
    const ratio = devicePixelRatio;
    const edge = (texel: number, axis: 'x' | 'y') => Math.round(toScreen(view, texel, texel)[axis] * ratio);
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.save();
    if (only) {
      ctx.beginPath();
      ctx.rect(only.left, only.top, only.right - only.left, only.bottom - only.top);
      ctx.clip();
    }
    ctx.fillStyle = SURROUND[this.looks.surround];
    ctx.fillRect(0, 0, this.canvas.width, this.canvas.height);
    const visible = this.visible(level);
    for (const piece of this.pieces) {
      const [left, top] = [edge(piece.left, 'x'), edge(piece.top, 'y')];
      ctx.save();
      ctx.beginPath();
      ctx.rect(
        left,
        top,
        edge(piece.left + piece.sheet.width, 'x') - left,
        edge(piece.top + piece.sheet.height, 'y') - top,
      );
      ctx.clip();
      this.paintGround(left, top, ratio);
      const ghost = ghosts?.of.get(piece.sheet.key);
      if (ghost) {
        const [right, bottom] = [edge(piece.left + piece.sheet.width, 'x'), edge(piece.top + piece.sheet.height, 'y')];
        ctx.globalAlpha = ghosts!.strength;
        ctx.drawImage(ghost, left, top, right - left, bottom - top);
        ctx.globalAlpha = 1;
      }
      ctx.imageSmoothingEnabled = level > 0 || view.zoom * ratio < 1;
      // Two texels at most lie between two pixels: all of them are looked at, and a better filter takes four times as long.
      ctx.imageSmoothingQuality = 'low';
      for (const { id, piece: of, tx, ty } of visible) {
        if (of !== piece) continue;
        const span = TILE << level;
        const [x, y] = [edge(piece.left + tx * span, 'x'), edge(piece.top + ty * span, 'y')];
        const [w, h] = [edge(piece.left + (tx + 1) * span, 'x') - x, edge(piece.top + (ty + 1) * span, 'y') - y];
        if (only && (x >= only.right || y >= only.bottom || x + w <= only.left || y + h <= only.top)) continue;
        const tile = this.tiles.get(id);
        const least = tile ? tile.version + 1 : -Infinity;
        if (!this.paintCoarser(least, piece.sheet.key, level, tx, ty, x, y, w, h) && tile)
          ctx.drawImage(tile.canvas, x, y, w, h);
      }
      ctx.restore();
    }
    ctx.restore();
  }

  /** What shows through where the art does not cover. */
  private paintGround(left: number, top: number, ratio: number): void {
    const { ctx, canvas } = this;
    const { under } = this.looks;
    ctx.fillStyle = under === 'checker' ? this.checker(left, top, ratio) : under;
    ctx.fillRect(0, 0, canvas.width, canvas.height);
  }

  private pattern: { ratio: number; made: CanvasPattern } | null = null;
  private checker(left: number, top: number, ratio: number): CanvasPattern {
    if (this.pattern?.ratio !== ratio) {
      const cell = Math.round(8 * ratio);
      const tile = new OffscreenCanvas(cell * 2, cell * 2);
      const c = context2d(tile);
      c.fillStyle = '#808080';
      c.fillRect(0, 0, cell * 2, cell * 2);
      c.fillStyle = '#747474';
      c.fillRect(0, 0, cell, cell);
      c.fillRect(cell, cell, cell, cell);
      this.pattern = { ratio, made: this.ctx.createPattern(tile, 'repeat')! };
    }
    this.pattern.made.setTransform({ e: left, f: top });
    return this.pattern.made;
  }

  /** Until a tile is there, or has been brought up to what changed, the part of a coarser one that covers it and is no older than `least`. */
  private paintCoarser(
    least: number,
    sheet: string,
    level: number,
    tx: number,
    ty: number,
    x: number,
    y: number,
    w: number,
    h: number,
  ): boolean {
    for (let up = 1; up <= 5; up++) {
      const coarse = this.tiles.get(this.idOf(sheet, level + up, tx >> up, ty >> up));
      if (!coarse || coarse.changed < least) continue;
      const part = TILE >> up;
      const mask = (1 << up) - 1;
      this.ctx.drawImage(coarse.canvas, (tx & mask) * part, (ty & mask) * part, part, part, x, y, w, h);
      return true;
    }
    return false;
  }
}
