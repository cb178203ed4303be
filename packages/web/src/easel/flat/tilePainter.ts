/** Keeps a canvas showing the visible tiles of a sheet: asks the worker for what is missing or stale, nearest to the middle first. */
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { DRAFT, type PaintPatch } from '../../workers/messages.ts';
import type { RenderClient } from '../../workers/renderClient.ts';
import type { Channel, SessionState, Surround } from '../session.ts';
import { toScreen, toTexel, type Look } from './view.ts';

const TILE = 256;
const MAX_TILES = 320;
/** Tiles that are asked of each renderer at a time. */
const IN_FLIGHT = 2;
/** A zoomed-out view is drawn coarsely while things move, and exactly when they have been still for so long. */
const SETTLE_MS = 180;
/** While things move, a picture of the whole view that takes longer is drawn more coarsely the next time, one that takes less, more finely. */
const SLOW_MS = 22;
const QUICK_MS = 4;
const COARSEST = 2;
/** A picture that is not complete after so long gives way to the next. */
const PATIENCE_MS = 150;
const RETRY_MS = 2000;
const SURROUND: Record<Surround, string> = { black: '#000000', grey: '#777777', white: '#ffffff' };

interface Tile {
  canvas: OffscreenCanvas;
  key: string | null;
  /** The livery that it was checked against, and the one that changed it last. */
  version: number;
  changed: number;
  exact: boolean;
}

/** A sheet, and where its first texel lies in the view's texels. */
interface Shown {
  readonly sheet: { readonly key: string; readonly width: number; readonly height: number };
  readonly left: number;
  readonly top: number;
}

/** How the sheets are shown. */
interface Looks extends Pick<SessionState, 'map' | 'channel' | 'under' | 'surround'> {
  /** The mask of a layer instead of the art. */
  maskOf?: string | null;
  /** Originals under the art, by sheet; strength 0..1. */
  ghosts?: { of: ReadonlyMap<string, ImageBitmap>; strength: number } | null;
}

interface Wanted {
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

export class TilePainter {
  private readonly ctx: CanvasRenderingContext2D;
  private readonly tiles = new Map<string, Tile>();
  private readonly asked = new Set<string>();
  /** Tiles that could not be drawn: asked for again when the livery changes, or after a while. */
  private readonly failed = new Set<string>();
  private view: Look | null = null;
  private pieces: readonly Shown[] = [];
  private map = 'colour';
  private channel: Channel = 'all';
  private maskOf: string | null = null;
  private under: SessionState['under'] = 'checker';
  private ghosts: Looks['ghosts'] = null;
  private livery: Livery | null = null;
  private hot: string | null = null;
  private surround: Surround = 'grey';
  private version = 0;
  private sent = -1;
  /** When the renderers were told of the livery that is being drawn, and whether all in view has been drawn of it. */
  private began = 0;
  private complete = true;
  /** What the renderers took for it so far, milliseconds. */
  private worked = 0;
  private unpainted = false;
  private troubled = false;
  /** Levels that are left out while things move. */
  private coarser = 0;
  private still = true;
  /** What the renderers are getting ready for, or are. */
  private warming = '';
  private settle: ReturnType<typeof setTimeout> | undefined;
  private frame = 0;
  private closed = false;
  /** A stroke is on the tiles that is not in the livery yet. */
  private painting = false;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly client: RenderClient,
    private readonly onTrouble: (why: string | null) => void,
    private readonly brushInHand = () => false,
  ) {
    this.ctx = canvas.getContext('2d', { alpha: false })!;
  }

  look(
    view: Look,
    pieces: readonly Shown[],
    { map, channel, under, surround, ghosts = null, maskOf = null }: Looks,
  ): void {
    this.view = view;
    this.pieces = pieces;
    this.map = map;
    this.channel = channel;
    this.under = under;
    this.surround = surround;
    this.ghosts = ghosts;
    this.maskOf = maskOf;
    const ratio = devicePixelRatio;
    const [width, height] = [Math.round(view.width * ratio), Math.round(view.height * ratio)];
    if (this.canvas.width !== width || this.canvas.height !== height) {
      this.canvas.width = width;
      this.canvas.height = height;
      this.paint();
    }
    this.repaint();
    this.pump();
  }

  show(livery: Livery, hot: string | null): void {
    this.livery = livery;
    if (this.hot !== hot) this.coarser = 0;
    this.hot = hot;
    this.version++;
    this.still = false;
    clearTimeout(this.settle);
    this.settle = setTimeout(() => {
      this.still = true;
      this.pump();
    }, SETTLE_MS);
    this.pump();
  }

  /** Something else is in hand. */
  ready(): void {
    this.pump();
  }

  /** The tiles that are in view: what a stroke has to show. */
  looking(): { level: number; tiles: { sheet: string; tx: number; ty: number }[] } {
    const { level } = this;
    return { level, tiles: this.visible(level).map(({ piece, tx, ty }) => ({ sheet: piece.sheet.key, tx, ty })) };
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
      tile.canvas.getContext('2d')!.putImageData(new ImageData(pixels, width, height), x, y);
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

  /** Begins or ends a stroke; what was shown of it is asked for again when it is over. */
  stroke(painting: boolean): void {
    this.painting = painting;
    if (painting) return;
    for (const tile of this.tiles.values()) if (!tile.exact) tile.version = -1;
    this.pump();
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.settle);
    cancelAnimationFrame(this.frame);
  }

  private get level(): number {
    // A tile may be stretched by a tenth: that looks the same, and saves three tiles of four just below a step.
    return Math.max(0, Math.floor(Math.log2(1 / (this.view!.zoom * devicePixelRatio)) + 0.14));
  }

  private idOf(sheet: string, level: number, tx: number, ty: number): string {
    return `${sheet}/${this.map}/${this.channel}/${this.maskOf ?? ''}/${level}/${tx}/${ty}`;
  }

  /** The tiles of a level that are in view, nearest to the middle first. */
  private visible(level: number): Wanted[] {
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

  private get moving(): boolean {
    return !this.still || this.painting;
  }

  /** The tiles in view that are still to be asked for, of the livery that the renderers have. */
  private wanted(): { tile: Wanted; exact: boolean }[] {
    const { level } = this;
    const drafted = this.moving && !this.painting ? Math.min(level + this.coarser, this.topLevel) : level;
    const visible = this.visible(drafted);
    // First a draft of everything that is missing or stale, then, when all is still, each tile exactly.
    for (const exact of this.moving ? [false] : level === 0 ? [true] : [false, true]) {
      const open = visible.filter(({ id }) => {
        const tile = this.tiles.get(id);
        return !this.asked.has(id) && !this.failed.has(id) && !(tile?.version === this.sent && (tile.exact || !exact));
      });
      if (open.length > 0) return open.map((tile) => ({ tile, exact }));
    }
    return [];
  }

  /** The level at which every sheet is one tile. */
  private get topLevel(): number {
    const side = Math.max(...this.pieces.map(({ sheet }) => Math.max(sheet.width, sheet.height)));
    return Math.max(this.level, Math.ceil(Math.log2(side / TILE)));
  }

  private pump(): void {
    if (this.closed || !this.view || !this.livery) return;
    let open = this.wanted();
    if (open.length === 0 && this.asked.size === 0) this.finish();
    // What is still to come is the same picture, exactly.
    if (this.sent >= 0 && this.asked.size === 0 && open.every(({ exact }) => exact)) this.client.sayDrawn();
    // What is seen is of one moment: the next livery is drawn when all that is in view shows this one, unless that takes long.
    if (this.sent !== this.version && (this.complete || performance.now() - this.began > PATIENCE_MS)) {
      this.sendLivery();
      open = this.wanted();
    }
    for (const { tile, exact } of open) {
      if (this.asked.size >= IN_FLIGHT * this.client.count) return;
      this.askTile(tile, this.tiles.get(tile.id), exact);
    }
    if (this.asked.size === 0 && !this.moving && this.hot !== null) void this.warm();
  }

  /** When all is drawn and still, the renderers get ready for the next change of the chosen layer: one tile at a time. */
  private async warm(): Promise<void> {
    const { version, level, map } = this;
    const brush = this.brushInHand();
    const visible = this.visible(level);
    const what = `${version} ${brush} ${visible.map(({ id }) => id).join()}`;
    if (this.warming === what) return;
    this.warming = what;
    for (const { piece, tx, ty } of visible) {
      if (this.closed || this.moving || this.warming !== what || this.version !== version) return;
      const asked = { sheet: piece.sheet.key, map, level, tx, ty, painting: brush };
      await this.client.ask('warm', asked).catch(() => {});
    }
  }

  /** All that is in view shows the livery that the renderers have. */
  private finish(): void {
    if (this.unpainted) this.repaint();
    if (this.complete) return;
    this.complete = true;
    if (!this.moving || this.painting) return;
    const took = this.worked / this.client.count;
    if (took > SLOW_MS) this.coarser = Math.min(COARSEST, this.coarser + 1);
    else if (took < QUICK_MS) this.coarser = Math.max(0, this.coarser - 1);
  }

  /** Says what is wrong with drawing, or that it no longer is; what others said in the same place stays. */
  private report(why: string | null): void {
    if (why === null && !this.troubled) return;
    this.troubled = why !== null;
    this.onTrouble(why);
  }

  private sendLivery(): void {
    this.failed.clear();
    this.sent = this.version;
    this.began = performance.now();
    this.worked = 0;
    this.complete = false;
    this.client
      .ask('livery', { livery: this.livery!, hot: this.hot })
      .then(() => this.report(null))
      .catch((error: Error) => this.report(error.message));
  }

  private askTile({ id, piece, level, tx, ty }: Wanted, tile: Tile | undefined, exact: boolean): void {
    const { sent: version, channel } = this;
    this.asked.add(id);
    this.client
      .ask('tile', {
        sheet: piece.sheet.key,
        map: this.map,
        level,
        tx,
        ty,
        draft: !exact && level > 0,
        live: !exact && this.hot !== null,
        maskOf: this.maskOf,
        known: tile?.key ?? null,
      })
      .then(({ key, pixels, took }) => {
        this.worked += took;
        if (key === null) return;
        const kept = tile ?? { canvas: new OffscreenCanvas(TILE, TILE), key, version, changed: version, exact: false };
        if (pixels) {
          showChannel(pixels, channel);
          kept.canvas.getContext('2d')!.putImageData(new ImageData(pixels, TILE, TILE), 0, 0);
          kept.changed = version;
        }
        Object.assign(kept, { key, version, exact: !key.endsWith(DRAFT) });
        this.tiles.set(id, kept);
        this.forget();
        if (!pixels) return;
        // While things move, the view is painted once for each livery.
        this.unpainted = true;
        if (!this.moving || this.painting || performance.now() - this.began > PATIENCE_MS) this.repaint();
      })
      .catch((error: Error) => {
        this.report(error.message);
        this.failed.add(id);
        setTimeout(() => {
          this.failed.delete(id);
          this.pump();
        }, RETRY_MS);
      })
      .finally(() => {
        this.asked.delete(id);
        this.pump();
      });
  }

  private forget(): void {
    if (this.tiles.size <= MAX_TILES) return;
    const needed = new Set(this.visible(this.level).map((tile) => tile.id));
    for (const id of this.tiles.keys()) {
      if (this.tiles.size <= MAX_TILES) return;
      if (!needed.has(id)) this.tiles.delete(id);
    }
  }

  private repaint(): void {
    if (this.frame) return;
    this.frame = requestAnimationFrame(() => {
      this.frame = 0;
      this.paint();
    });
  }

  /** @param only a rectangle of the canvas; all of it when left out */
  private paint(only?: { left: number; top: number; right: number; bottom: number }): void {
    const { ctx, view, level } = this;
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
    ctx.fillStyle = SURROUND[this.surround];
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
      const ghost = this.ghosts?.of.get(piece.sheet.key);
      if (ghost) {
        const [right, bottom] = [edge(piece.left + piece.sheet.width, 'x'), edge(piece.top + piece.sheet.height, 'y')];
        ctx.globalAlpha = this.ghosts!.strength;
        ctx.drawImage(ghost, left, top, right - left, bottom - top);
        ctx.globalAlpha = 1;
      }
      ctx.imageSmoothingEnabled = level > 0 || view.zoom * ratio < 1;
      ctx.imageSmoothingQuality = 'medium';
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
    const { ctx, canvas, under } = this;
    ctx.fillStyle = under === 'checker' ? this.checker(left, top, ratio) : under;
    ctx.fillRect(0, 0, canvas.width, canvas.height);
  }

  private pattern: { ratio: number; made: CanvasPattern } | null = null;
  private checker(left: number, top: number, ratio: number): CanvasPattern {
    if (this.pattern?.ratio !== ratio) {
      const cell = Math.round(8 * ratio);
      const tile = new OffscreenCanvas(cell * 2, cell * 2);
      const c = tile.getContext('2d')!;
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
