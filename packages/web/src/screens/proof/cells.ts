/** The cells of a level that the panes draw, fetched when they come into view. */
import { CELL } from '@wet-lacquer/core/delivery/proof/encodedLevel.ts';
import { context2d } from '../../parts/context2d.ts';
import type { ProofAsks, ProofNews, Trial } from '../../workers/proofMessages.ts';
import type { WorkerClient } from '../../workers/workerClient.ts';
import { heat } from './heat.ts';
import type { Measure } from './proofState.ts';

export type ProofClient = WorkerClient<ProofAsks, ProofNews>;

export interface Cell {
  version: number;
  painted: OffscreenCanvas;
  encoded: OffscreenCanvas;
  deltaE: OffscreenCanvas;
  psnr: OffscreenCanvas;
}

const KEPT = 400;

export class Cells {
  private readonly kept = new Map<string, Cell>();
  private readonly asked = new Map<string, number>();

  constructor(
    private readonly client: ProofClient,
    private readonly onChange: () => void,
  ) {}

  private told = 0;

  /** Cells come in bursts: the panes are drawn once for all that came since the last frame. */
  private tell(): void {
    if (this.told) return;
    this.told = requestAnimationFrame(() => {
      this.told = 0;
      this.onChange();
    });
  }

  /** A cell as far as it is known; asks for it when it is not, or when it may have changed. */
  get(sheet: string, trial: Trial, level: number, cx: number, cy: number, version: number): Cell | null {
    const key = [sheet, trial.format, trial.effort, level, cx, cy].join(' ');
    const cell = this.kept.get(key) ?? null;
    if (cell?.version !== version && this.asked.get(key) !== version) {
      this.asked.set(key, version);
      this.client
        .ask('cell', { trial, level, cx, cy })
        .then((answer) => {
          if (!answer) return void this.asked.delete(key);
          this.kept.delete(key);
          this.kept.set(key, {
            version: answer.version,
            painted: drawn(answer.painted, answer.width, answer.height),
            encoded: drawn(answer.encoded, answer.width, answer.height),
            deltaE: heatOf(answer.deltaE, answer.width, answer.height, 'deltaE'),
            psnr: heatOf(answer.psnr, answer.width, answer.height, 'psnr'),
          });
          for (const old of this.kept.keys()) {
            if (this.kept.size <= KEPT) break;
            this.kept.delete(old);
            this.asked.delete(old);
          }
          this.tell();
        })
        .catch(() => this.asked.delete(key));
    }
    return cell;
  }
}

function drawn(pixels: Uint8ClampedArray<ArrayBuffer>, width: number, height: number): OffscreenCanvas {
  const canvas = new OffscreenCanvas(width, height);
  context2d(canvas).putImageData(new ImageData(pixels, width, height), 0, 0);
  return canvas;
}

function heatOf(values: Float32Array, width: number, height: number, measure: Measure): OffscreenCanvas {
  const [columns, rows] = [Math.ceil(width / 4), Math.ceil(height / 4)];
  const pixels = new Uint8ClampedArray(columns * rows * 4);
  values.forEach((value, i) => pixels.set([...heat(value, measure), 255], i * 4));
  return drawn(pixels, columns, rows);
}

export { CELL };
