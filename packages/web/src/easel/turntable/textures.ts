/** The model's textures: every sheet at about 1024, tile by tile, only what changed. */
import type { Texture } from 'three';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { RenderClient } from '../../workers/renderClient.ts';
import { sheetTexture } from './stage.ts';

const TILE = 256;
const SIDE = 1024;
/** The flat sheet, where the work is done, comes first; a model that takes long to follow takes at most a third of the time. */
const AFTER_MS = 60;
const LATEST_MS = 500;

interface SheetTexture {
  key: string;
  level: number;
  across: number;
  down: number;
  ctx: OffscreenCanvasRenderingContext2D;
  texture: Texture;
  known: (string | null)[];
}

export class ModelTextures {
  private readonly sheets: SheetTexture[];
  private next: { livery: Livery; first: string; hot: string | null } | null = null;
  private busy = false;
  private restUntil = 0;
  private closed = false;

  constructor(
    template: Template,
    private readonly client: RenderClient,
    private readonly onChange: () => void,
  ) {
    this.sheets = template.sheets.map(({ key, width, height }) => {
      const level = Math.max(0, Math.ceil(Math.log2(Math.max(width, height) / SIDE)));
      const canvas = new OffscreenCanvas(Math.max(1, width >> level), Math.max(1, height >> level));
      const ctx = canvas.getContext('2d')!;
      ctx.fillStyle = '#808080';
      ctx.fillRect(0, 0, canvas.width, canvas.height);
      const [across, down] = [Math.ceil(canvas.width / TILE), Math.ceil(canvas.height / TILE)];
      return {
        key,
        level,
        across,
        down,
        ctx,
        texture: sheetTexture(canvas),
        known: new Array<string | null>(across * down).fill(null),
      };
    });
  }

  get bySheet(): ReadonlyMap<string, Texture> {
    return new Map(this.sheets.map((sheet) => [sheet.key, sheet.texture]));
  }

  /** Brings the textures up to a livery, the named sheet first; `hot` is the layer that is worked on. Liveries that come meanwhile replace one another. */
  show(livery: Livery, first: string, hot: string | null): void {
    this.next = { livery, first, hot };
    if (this.busy) return;
    this.busy = true;
    setTimeout(() => void this.work(), Math.max(AFTER_MS, this.restUntil - performance.now()));
  }

  close(): void {
    this.closed = true;
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

  private async update(sheet: SheetTexture): Promise<boolean> {
    let changed = false;
    for (let ty = 0; ty < sheet.down; ty++) {
      for (let tx = 0; tx < sheet.across; tx++) {
        const i = ty * sheet.across + tx;
        const { key, pixels } = await this.client.ask('tile', {
          sheet: sheet.key,
          map: 'colour',
          level: sheet.level,
          tx,
          ty,
          draft: true,
          live: true,
          known: sheet.known[i],
        });
        if (key === null) continue;
        sheet.known[i] = key;
        if (!pixels || this.closed) continue;
        const over = new OffscreenCanvas(TILE, TILE);
        over.getContext('2d')!.putImageData(new ImageData(pixels, TILE, TILE), 0, 0);
        sheet.ctx.fillRect(tx * TILE, ty * TILE, TILE, TILE);
        sheet.ctx.drawImage(over, tx * TILE, ty * TILE);
        changed = true;
      }
    }
    if (changed) sheet.texture.needsUpdate = true;
    return changed;
  }
}
