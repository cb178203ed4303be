/** Keeps the flat sheet's canvas up to the livery: asks the renderers for what is missing or stale, nearest to the middle first. */
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { DRAFT, type Looking, type PaintPatch } from '../../workers/messages.ts';
import type { RenderClient } from '../../workers/renderClient.ts';
import { ArtCanvas, TILE, type Looks, type Shown, type Tile, type Wanted } from './artCanvas.ts';
import type { Look } from './view.ts';

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

/** The painter of the sheet that is shown. */
export const shownPainter: { current: TilePainter | null } = { current: null };

export class TilePainter {
  private readonly art: ArtCanvas;
  private readonly asked = new Set<string>();
  /** Tiles that could not be drawn: asked for again when the livery changes, or after a while. */
  private readonly failed = new Set<string>();
  private livery: Livery | null = null;
  private hot: string | null = null;
  private version = 0;
  /** The livery that the renderers have, and the one before it. */
  private sent = -1;
  private before = -1;
  /** When the renderers were told of the livery that is being drawn, and whether all in view has been drawn of it. */
  private began = 0;
  private complete = true;
  /** What the renderers took for it so far, milliseconds. */
  private worked = 0;
  private troubled = false;
  /** Levels that are left out while things move. */
  private coarser = 0;
  private still = true;
  /** What the renderers are getting ready for, or are. */
  private warming = '';
  private settle: ReturnType<typeof setTimeout> | undefined;
  private closed = false;
  /** A stroke is on the tiles that is not in the livery yet. */
  private painting = false;

  private readonly forget: () => void;

  constructor(
    canvas: HTMLCanvasElement,
    private readonly client: RenderClient,
    private readonly onTrouble: (why: string | null) => void,
    private readonly brushInHand = () => false,
  ) {
    this.art = new ArtCanvas(canvas);
    this.forget = client.onWaiting(() => {
      if (!client.waiting && this.livery) this.show(this.livery, this.hot);
    });
  }

  look(view: Look, pieces: readonly Shown[], looks: Looks): void {
    this.art.look(view, pieces, looks);
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
  looking(): Looking {
    const { level } = this.art;
    return { level, tiles: this.art.visible(level).map(({ piece, tx, ty }) => ({ sheet: piece.sheet.key, tx, ty })) };
  }

  /** Shows what a stroke changed, at once. */
  patch(map: string, patches: readonly PaintPatch[]): void {
    this.art.patch(map, patches);
  }

  /** Begins or ends a stroke; what was shown of it is asked for again when it is over. */
  stroke(painting: boolean): void {
    this.painting = painting;
    if (painting) return;
    for (const tile of this.art.tiles.values()) if (!tile.exact) tile.version = -1;
    this.pump();
  }

  close(): void {
    this.closed = true;
    this.forget();
    clearTimeout(this.settle);
    this.art.close();
  }

  private get moving(): boolean {
    return !this.still || this.painting;
  }

  /** The tiles in view that are still to be asked for, of the livery that the renderers have. */
  private wanted(): { tile: Wanted; exact: boolean }[] {
    const { level } = this.art;
    const drafted = this.moving && !this.painting ? Math.min(level + this.coarser, this.art.topLevel) : level;
    const visible = this.art.visible(drafted);
    // First a draft of everything that is missing or stale, then, when all is still, each tile exactly.
    for (const exact of this.moving ? [false] : level === 0 ? [true] : [false, true]) {
      const open = visible.filter(({ id }) => {
        const tile = this.art.tiles.get(id);
        return !this.asked.has(id) && !this.failed.has(id) && !(tile?.version === this.sent && (tile.exact || !exact));
      });
      if (open.length > 0) return open.map((tile) => ({ tile, exact }));
    }
    return [];
  }

  private pump(): void {
    if (this.closed || !this.art.view || !this.livery) return;
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
      this.askTile(tile, this.art.tiles.get(tile.id), exact);
    }
    if (this.asked.size === 0 && !this.moving && this.hot !== null) void this.warm();
  }

  /** When all is drawn and still, the renderers get ready for the next change of the chosen layer: one tile at a time. */
  private async warm(): Promise<void> {
    const { version } = this;
    const { level, map } = this.art;
    const brush = this.brushInHand();
    const visible = this.art.visible(level);
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
    if (this.art.unpainted) this.art.repaint();
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
    this.before = this.sent;
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
    const { sent: version, before } = this;
    const { channel } = this.art;
    this.asked.add(id);
    this.client
      .ask('tile', {
        sheet: piece.sheet.key,
        map: this.art.map,
        level,
        tx,
        ty,
        draft: !exact && level > 0,
        live: !exact && this.hot !== null,
        maskOf: this.art.maskOf,
        known: tile?.key ?? null,
      })
      .then(({ key, pixels, took }) => {
        this.worked += took;
        if (key === null) return;
        const kept = tile ?? { canvas: new OffscreenCanvas(TILE, TILE), key, version, changed: version, exact: false };
        // One that was left out for a while shows what it showed then: beside the others it is news all the same.
        const isNews = pixels !== null || (kept.version !== version && kept.version !== before);
        if (pixels) this.art.put(kept, pixels, channel);
        if (isNews) kept.changed = version;
        Object.assign(kept, { key, version, exact: !key.endsWith(DRAFT) });
        this.art.tiles.set(id, kept);
        this.art.forget();
        if (!isNews) return;
        // While things move, the view is painted once for each livery.
        this.art.unpainted = true;
        if (!this.moving || this.painting || performance.now() - this.began > PATIENCE_MS) this.art.repaint();
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
}
