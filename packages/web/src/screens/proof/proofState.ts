/** What the proof screen looks at; nothing of it is saved. */
import { create } from 'zustand';
import type { Effort } from '@wet-lacquer/core/texture/encoding.ts';
import type { FormatKey } from '@wet-lacquer/core/texture/formats/index.ts';
import type { Look } from '../../easel/flat/view.ts';
import type { ProofNews, Trial } from '../../workers/proofMessages.ts';

export type Measure = 'deltaE' | 'psnr';

export interface ProofState {
  sheet: string;
  level: number;
  /** The encoding at hand, and one beside it to compare. */
  format: FormatKey;
  effort: Effort;
  beside: FormatKey | null;
  measure: Measure;
  /** Levels drawn as the game magnifies them, or texel by texel. */
  smooth: boolean;
  onModel: boolean;
  /** What the game stores upside down is seen so; otherwise as it was painted. */
  asStored: boolean;
  view: Look;
  news: ProofNews | null;
}

export const useProof = create<ProofState>(() => ({
  sheet: '',
  level: 0,
  format: 'bc7',
  effort: 'normal',
  beside: null,
  measure: 'deltaE',
  smooth: false,
  onModel: false,
  asStored: false,
  view: { zoom: 0, x: 0, y: 0, width: 1, height: 1 },
  news: null,
}));

export const trialsOf = ({ format, effort, beside }: Pick<ProofState, 'format' | 'effort' | 'beside'>): Trial[] =>
  [format, ...(beside && beside !== format ? [beside] : [])].map((f) => ({ format: f, effort }));
