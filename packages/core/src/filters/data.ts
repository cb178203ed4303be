/** All that there is to know of a kind of filter but what it does to texels. */
import type { Paint } from '../livery/values.ts';

/** What is set of a filter: a number by a slide, a colour of the scheme, a colour as it is, a tick, one of several; or something more, by name. */
export type FilterRow =
  | { is: 'slide'; key: string; label: string; min: number; max: number; unit: string; step?: number }
  | { is: 'paint' | 'hex' | 'tick'; key: string; label: string }
  | { is: 'choice'; key: string; label: string; options: readonly string[] }
  | 'histogram'
  | 'shading'
  | 'patch';

/** What a new filter can begin with. */
export interface FilterStart {
  /** The scheme's first colour, and what it is now, `#rrggbb`. */
  paint: Paint;
  hex: string;
  seed: number;
  /** Middle lightness of what is changed, OKLab L 0..1; null: not known. */
  middle: number | null;
}

export interface FilterData<F> {
  name: string;
  what: string;
  paints(filter: F): Paint[];
  rows: readonly FilterRow[];
  /** It is begun or set by the tones of what it changes. */
  tones: boolean;
  /** It looks at neighbours, or at coverage: what is below an adjustment is there a tile at a time, and has none. */
  alone: boolean;
  begin(start: FilterStart): Record<string, unknown>;
}

export const slide = (key: string, label: string, min: number, max: number, unit = '%', step = 1) =>
  ({ is: 'slide', key, label, min, max, unit, step }) as const;
