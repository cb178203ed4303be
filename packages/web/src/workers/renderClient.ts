import type { FieldKey } from '@wet-lacquer/core/livery/fields.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { Asks, PaintAsk, TileAsk, WorkerAsks } from './messages.ts';
import { sentenceOf } from '../lib/api.ts';
import { changeOf } from './sharing.ts';
import { LostWorker, WorkerClient } from './workerClient.ts';

/** What of a model is still to come, and why it does not. */
export interface Waiting {
  fields: readonly FieldKey[];
  fault: string | null;
}

/** Bytes of drawn tiles that all renderers of one view keep together. */
const BUDGET = 384 * 1024 * 1024;

/** Renderers of the flat sheet: so many that one processor is left, at least two and, since each holds the pictures, at most four. */
export const flatRenderers = (): number => {
  const few = ((navigator as { deviceMemory?: number }).deviceMemory ?? 8) < 8;
  return few ? 2 : Math.min(4, Math.max(2, navigator.hardwareConcurrency - 1));
};

/**
 * The page's side of one view's renderers. Tiles are drawn by all of them, each always by the same one, so that none is kept twice; all
 * else, strokes that are being painted too, is the first one's.
 */
export class RenderClient {
  private readonly workers: readonly WorkerClient<WorkerAsks>[];
  private shown: Livery | null = null;
  private painting: readonly PaintAsk[] = [];
  /** What of the model is being worked out, and what came between; null: nothing. Layers that go by it are not drawn yet. */
  waiting: Waiting | null = null;
  private arriving: Promise<void> | null = null;
  private readonly told = new Set<() => void>();
  /** The first picture of the view is there. */
  readonly drawn: Promise<void>;
  sayDrawn!: () => void;
  /** Told when some of the renderers could not be started. */
  onFewer: ((left: number, of: number) => void) | null = null;

  /** @param after the renderers are started then; what they are asked meanwhile waits */
  constructor(
    readonly count = 1,
    after?: Promise<unknown>,
  ) {
    this.drawn = new Promise((resolve) => (this.sayDrawn = resolve));
    const start = () => new Worker(new URL('./render.worker.ts', import.meta.url), { type: 'module' });
    this.workers = Array.from({ length: count }, () => new WorkerClient(start, undefined, after));
  }

  /** Tells the renderers what they draw for. */
  async begin(template: Template): Promise<void> {
    await this.everyone('template', { template, budget: BUDGET / this.count });
  }

  /** Tells of every change of what is waited for. @returns what ends it */
  onWaiting(told: () => void): () => void {
    this.told.add(told);
    return () => void this.told.delete(told);
  }

  private wait(next: Waiting | null): void {
    if (JSON.stringify(this.waiting) === JSON.stringify(next)) return;
    this.waiting = next;
    for (const told of this.told) told();
  }

  /** Waits for what is missing, one time at a time: what is dragged meanwhile asks for what it has come to. */
  private async arrive(): Promise<void> {
    try {
      await this.everyone('arrived', null);
      this.wait(null);
    } catch (error) {
      this.wait({ fields: this.waiting?.fields ?? [], fault: sentenceOf(error) });
    } finally {
      this.arriving = null;
    }
  }

  ask<K extends keyof Asks & string>(name: K, ask: Asks[K]['ask']): Promise<Asks[K]['answer']>;
  async ask(name: keyof Asks, ask: unknown): Promise<unknown> {
    try {
      return await this.askOf(name, ask);
    } catch (error) {
      // Another draws in the place of one that is lost; without any there is nothing to try.
      if (!(error instanceof LostWorker) || this.alive().length === 0) throw error;
      this.onFewer?.(this.alive().length, this.count);
      return this.askOf(name, ask);
    }
  }

  /** Those that can be asked. */
  private alive(): readonly WorkerClient<WorkerAsks>[] {
    const left = this.workers.filter((one) => !one.lost);
    return left.length > 0 ? left : this.workers.slice(0, 1);
  }

  private async askOf(name: keyof Asks, ask: unknown): Promise<unknown> {
    const [first, ...others] = this.alive();
    switch (name) {
      case 'livery':
        return this.show(ask as { livery: Livery; hot: string | null });
      case 'stroke':
        await this.everyone('stroke', ask as Asks['stroke']['ask']);
        return null;
      case 'tile':
        return this.drawerOf(ask as TileAsk).ask('tile', ask as TileAsk);
      case 'warm': {
        const tile = ask as Asks['warm']['ask'];
        return (tile.painting ? first : this.drawerOf(tile)).ask('warm', tile);
      }
      case 'paintBegin':
        this.painting = ask as readonly PaintAsk[];
        return first.ask('paintBegin', this.painting);
      case 'paintEnd': {
        const done = await first.ask('paintEnd', ask as Asks['paintEnd']['ask']).finally(() => (this.painting = []));
        for (const { stroke, bytes } of done)
          for (const one of others) void one.ask('stroke', { blob: stroke.blob, bytes }).catch(() => {});
        return done;
      }
      default:
        return first.ask(name, ask as never);
    }
  }

  close(): void {
    for (const one of this.workers) one.close();
  }

  /** Sends what changed since the livery that the renderers have. */
  private async show({ livery, hot }: { livery: Livery; hot: string | null }): Promise<null> {
    const change = changeOf(this.shown, livery);
    this.shown = livery;
    const answers = await this.everyone('change', { change, hot });
    // A later one has an answer of its own.
    if (this.shown !== livery) return null;
    const fields = [...new Set(answers.flat())];
    this.wait(fields.length > 0 ? { fields, fault: null } : null);
    if (this.waiting) this.arriving ??= this.arrive();
    return null;
  }

  private async everyone<K extends 'template' | 'change' | 'arrived' | 'stroke'>(
    name: K,
    ask: Asks[K]['ask'],
  ): Promise<Asks[K]['answer'][]> {
    const before = this.alive().length;
    const said = await Promise.allSettled(this.alive().map((one) => one.ask(name, ask)));
    // One that is lost has nothing to say; the others have taken it in.
    const faults = said.flatMap((one) => (one.status === 'rejected' ? [one.reason as Error] : []));
    const fault = faults.find((one) => !(one instanceof LostWorker)) ?? (faults.length === before ? faults[0] : null);
    if (fault) throw fault;
    if (faults.length > 0) this.onFewer?.(this.alive().length, this.count);
    return said.flatMap((one) => (one.status === 'fulfilled' ? [one.value] : []));
  }

  /** Who draws a tile; tiles that one of twice the size is averaged from are drawn where that one is. */
  private drawerOf({ sheet, map, level, tx, ty }: Asks['warm']['ask'] | TileAsk): WorkerClient<WorkerAsks> {
    const alive = this.alive();
    if (this.painting.some((one) => one.sheet === sheet && one.map === map)) return alive[0];
    const up = level === 0 ? 1 : 0;
    return alive[((tx >> up) + (ty >> up)) % alive.length];
  }
}
