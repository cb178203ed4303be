import type { LevelFacts } from '@wet-lacquer/core/delivery/proof/encodedLevel.ts';
import type { ProofFinding } from '@wet-lacquer/core/delivery/proof/finding.ts';
import type { Nudge } from '@wet-lacquer/core/delivery/proof/nudge.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { Effort } from '@wet-lacquer/core/texture/encoding.ts';
import type { FormatKey } from '@wet-lacquer/core/texture/formats/index.ts';

/** A format that is tried, beside what the delivery spec says. */
export interface Trial {
  format: FormatKey;
  effort: Effort;
}

export interface Looking {
  sheet: string;
  trials: Trial[];
  level: number;
  /** The texel of level 0 in the middle of the view: cells near it come first. */
  x: number;
  y: number;
}

export interface CellAnswer {
  version: number;
  width: number;
  height: number;
  /** Straight RGBA8. */
  painted: Uint8ClampedArray<ArrayBuffer>;
  encoded: Uint8ClampedArray<ArrayBuffer>;
  /** Per 4 x 4 block: mean CIEDE2000, PSNR in dB. */
  deltaE: Float32Array<ArrayBuffer>;
  psnr: Float32Array<ArrayBuffer>;
}

/** What the page asks of the proof worker. */
export type ProofAsks = {
  template: { ask: { template: Template }; answer: null };
  livery: { ask: { livery: Livery }; answer: null };
  look: { ask: Looking; answer: null };
  /** One cell of a level; null while the level is not painted yet. */
  cell: { ask: { trial: Trial; level: number; cx: number; cy: number }; answer: CellAnswer | null };
  /** Where a mark fits the block grid best; null when nowhere better than where it is. */
  nudge: { ask: { layer: string; format: FormatKey }; answer: Nudge | null };
  /** All levels of a finished trial, decoded, by number; null while it is not finished. */
  model: { ask: { trial: Trial }; answer: Record<number, Uint8Array> | null };
};

/** What the worker says unasked. */
export interface ProofNews {
  /** Changes whenever painted texels have. */
  version: number;
  sheet: string | null;
  /** Tiles painted, while they are. */
  painting: { done: number; of: number } | null;
  levels: { width: number; height: number }[];
  trials: (Trial & { levels: LevelFacts[] })[];
  /** Null until everything that they need is done. */
  findings: ProofFinding[] | null;
  /** Why it does not go on. */
  problem: string | null;
}
