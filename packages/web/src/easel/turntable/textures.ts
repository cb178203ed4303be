/** The model's textures: every sheet at about so many texels, tile by tile, only what changed. */
import type { Texture } from 'three';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { MAIN_MAP, type Template } from '@wet-lacquer/core/livery/template.ts';
import { liveLevels, putLive, type LiveLevel } from '@wet-lacquer/core/texture/liveLevels.ts';
import { showChannel } from '../flat/artCanvas.ts';
import type { Channel } from '../session.ts';
import type { Looking, PaintPatch } from '../../workers/messages.ts';
import type { RenderClient } from '../../workers/renderClient.ts';
import { liveTexture } from '../../parts/stageTextures.ts';

const TILE = 256;
const SIDE = 1024;
/** Tiles that are asked for at a time. */
const IN_FLIGHT = 4;
/** The flat sheet, where the work is done, comes first; a model that takes long to follow takes at most a third of the time. */
const AFTER_MS = 60;
const LATEST_MS = 500;

interface SheetTexture {
  key: string;
  level: number;
  across: number;
  levels: LiveLevel[];
  texture: Texture;
  known: (string | null)[];
}

/** Which map of a sheet is shown, and which channel of it alone. */
export type ShownOf = (sheet: string) => { map: string; channel: Channel | null };
const PAINT: ShownOf = () => ({ map: MAIN_MAP, channel: null });

/** What textures show. */
interface Shown {
  shownOf: ShownOf;
  /** Texels along a sheet's longer side, about. */
  side: number;
  /** They hold colours, or values as they stand. */
  coloured: boolean;
}

interface Wish {
  livery: Livery;
  first: string;
  hot: string | null;
}

export class ModelTextures {
  private readonly sheets: SheetTexture[];
  private shownOf: ShownOf;
  private next: Wish | null = null;
  /** What was asked for last. */
  private last: Wish | null = null;
  private readonly forget: () => void;
  private busy = false;
  private restUntil = 0;
  private closed = false;

  constructor(
    template: Template,
    private readonly client: RenderClient,
    private readonly onChange: () => void,
    { shownOf = PAINT, side = SIDE, coloured = true }: Partial<Shown> = {},
  ) {
    this.shownOf = shownOf;
    this.forget = client.onWaiting(() => {
      if (!client.waiting && this.last) this.show(this.last.livery, this.last.first, this.last.hot);
    });
    this.sheets = template.sheets.map(({ key, width, height }) => {
      const level = Math.max(0, Math.ceil(Math.log2(Math.max(width, height) / side)));
      const levels = liveLevels(Math.max(1, width >> level), Math.max(1, height >> level));
      const [across, down] = [Math.ceil(levels[0].width / TILE), Math.ceil(levels[0].height / TILE)];
      return {
        key,
        level,
        across,
        levels,
        texture: liveTexture(levels, coloured),
        known: new Array<string | null>(across * down).fill(null),
      };
    });
  }

  get bySheet(): ReadonlyMap<string, Texture> {
    return new Map(this.sheets.map((sheet) => [sheet.key, sheet.texture]));
  }

  /** Brings the textures up to a livery, the named sheet first; `hot` is the layer that is worked on. Liveries that come meanwhile replace one another. */
  show(livery: Livery, first: string, hot: string | null): void {
    this.last = { livery, first, hot };
    this.next = this.last;
    if (this.busy) return;
    this.busy = true;
    setTimeout(() => void this.work(), Math.max(AFTER_MS, this.restUntil - performance.now()));
  }

  /** Shows something else of each sheet, with what comes next. */
  showOf(shownOf: ShownOf): void {
    this.shownOf = shownOf;
    for (const { known } of this.sheets) known.fill(null);
  }

  /** The tiles of all textures. */
  looking(): Looking[] {
    return this.sheets.map(({ key, level, across, known }) => ({
      level,
      tiles: known.map((_, i) => ({ sheet: key, tx: i % across, ty: Math.floor(i / across) })),
    }));
  }

  /** Shows what a stroke changed, at once. */
  patch(patches: readonly PaintPatch[]): void {
    for (const { sheet: key, level, tx, ty, x, y, width, height, pixels } of patches) {
      const sheet = this.sheets.find((one) => one.key === key && one.level === level);
      if (!sheet || this.shownOf(key).map !== MAIN_MAP) continue;
      putLive(sheet.levels, pixels, width, tx * TILE + x, ty * TILE + y, height);
      sheet.texture.needsUpdate = true;
    }
    if (patches.length > 0) this.onChange();
  }

  close(): void {
    this.closed = true;
    this.forget();
    for (const sheet of this.sheets) sheet.texture.dispose();
  }

  private async work(): Promise<void> {
    try {
      while (this.next && !this.closed) {
        const { livery, first, hot } = this.next;
        const began = performance.now();
        this.next = null;
        await this.client.ask('livery', { livery, hot });
        for (const sheet of this.sheets.toSorted((a, b) => Number(b.key === first) - Number(a.key === first))) {
          if (await this.update(sheet)) this.onChange();
          if (this.next || this.closed) break;
        }
        const gap = Math.min(LATEST_MS, 2 * (performance.now() - began));
        this.restUntil = performance.now() + gap;
        if (this.next) await new Promise((resolve) => setTimeout(resolve, gap));
      }
    } catch {
      // The flat view's worker draws the same livery and says what is wrong.
    } finally {
      this.busy = false;
    }
  }

  /** Several tiles are on their way at a time: the renderer need not wait until the page has taken the last one. */
  private async update(sheet: SheetTexture): Promise<boolean> {
    const left = sheet.known.map((_, i) => i).reverse();
    let changed = false;
    const next = async (): Promise<void> => {
      for (let i = left.pop(); i !== undefined; i = left.pop()) if (await this.updateTile(sheet, i)) changed = true;
    };
    await Promise.all(Array.from({ length: IN_FLIGHT }, next));
    if (changed) sheet.texture.needsUpdate = true;
    return changed;
  }

  private async updateTile(sheet: SheetTexture, i: number): Promise<boolean> {
    const [tx, ty] = [i % sheet.across, Math.floor(i / sheet.across)];
    const { map, channel } = this.shownOf(sheet.key);
    const { key, pixels } = await this.client.ask('tile', {
      sheet: sheet.key,
      map,
      level: sheet.level,
      tx,
      ty,
      draft: true,
      live: true,
      known: sheet.known[i],
    });
    if (key === null) return false;
    sheet.known[i] = key;
    if (!pixels || this.closed) return false;
    if (channel) showChannel(pixels, channel);
    putLive(sheet.levels, pixels, TILE, tx * TILE, ty * TILE);
    return true;
  }
}
