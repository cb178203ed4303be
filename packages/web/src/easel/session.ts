/** What this window looks at: which sheet, which layer, what the pointer is over. Nothing of it is saved with the livery. */
import { create } from 'zustand';

/** Guides: those that follow from the template, and pictures that came with it. */
export type GuideKey = 'wire' | 'seams' | 'parts' | 'axis' | 'grid' | 'locator' | 'ghost' | `own ${string}`;
export const ownGuide = (key: string): GuideKey => `own ${key}`;
export type Surround = 'black' | 'grey' | 'white';
export type Column = 'chosen' | 'scheme' | 'particulars';

export interface Hover {
  from: 'flat' | 'model';
  sheet: string;
  /** Texels. */
  x: number;
  y: number;
}

export interface SessionState {
  sheet: string;
  chosen: string | null;
  hover: Hover | null;
  guides: ReadonlySet<GuideKey>;
  surround: Surround;
  column: Column;
  /** A field that is to be focused when it is there. */
  focus: string | null;
  listOpen: boolean;
  /** Read out to those who do not see it. */
  said: string;
}

export const useSession = create<SessionState>(() => ({
  sheet: '',
  chosen: null,
  hover: null,
  guides: new Set<GuideKey>(['seams', 'parts', 'axis']),
  surround: 'grey',
  column: 'chosen',
  focus: null,
  listOpen: false,
  said: '',
}));

export const choose = (chosen: string | null, sheet?: string) =>
  useSession.setState((s) => ({ chosen, sheet: sheet ?? s.sheet, column: 'chosen' }));
export const say = (said: string) => useSession.setState({ said });
