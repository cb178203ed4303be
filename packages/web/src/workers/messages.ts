import type { OutlineCover } from '@wet-lacquer/core/delivery/outlineCover.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';

/** What the key of a coarsely drawn tile ends in. */
export const DRAFT = ' draft';

export interface TileAsk {
  sheet: string;
  map: string;
  /** 0 is native; each level halves both sides. */
  level: number;
  tx: number;
  ty: number;
  /** Drawn at the coarse step at once, or averaged from the true composite. */
  draft: boolean;
  /** What the page has already; the answer is empty when it would be the same. */
  known: string | null;
}

export interface TileAnswer {
  key: string;
  /** Straight RGBA8, 256 x 256; null when the page has it. */
  pixels: Uint8ClampedArray<ArrayBuffer> | null;
}

export interface ThumbAnswer {
  width: number;
  height: number;
  pixels: Uint8ClampedArray<ArrayBuffer>;
}

/** What the page asks of a render worker, by name: the question and its answer. */
export type Asks = {
  template: { ask: { template: Template }; answer: null };
  livery: { ask: { livery: Livery; hot: string | null }; answer: null };
  tile: { ask: TileAsk; answer: TileAnswer };
  /** The topmost layer that shows at a texel. */
  layerAt: { ask: { sheet: string; map: string; x: number; y: number }; answer: string | null };
  /** Width of a lettering for a size of 1. */
  letteringWidth: { ask: { layer: string }; answer: number | null };
  /** A layer alone, fitted into a box. */
  layerThumb: { ask: { layer: string; width: number; height: number }; answer: ThumbAnswer | null };
  /** How a sheet's art lies to its frames and colliders. */
  outlines: { ask: { sheet: string }; answer: OutlineCover };
  sheetThumb: { ask: { sheet: string; side: number }; answer: ThumbAnswer };
};
