/** What this window looks at: which sheet, which layer, what the pointer is over. Nothing of it is saved with the livery. */
import { create } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import type { Shows } from './shows.ts';

/** Guides: those that follow from the template, and pictures that came with it. */
export type GuideKey =
  | 'wire'
  | 'silhouette'
  | 'seams'
  | 'parts'
  | 'axis'
  | 'grid'
  | 'texels'
  | 'rulers'
  | 'cells'
  | 'boxes'
  | 'locator'
  | 'ghost'
  | `own ${string}`;
export const ownGuide = (key: string): GuideKey => `own ${key}`;
export type Surround = 'black' | 'grey' | 'white';
/** Which values the flat sheet shows: the art, its colour without alpha, or one channel as grey. */
export type Channel = 'all' | 'colour' | 'red' | 'green' | 'blue' | 'alpha';
export type Column = 'chosen' | 'scheme' | 'particulars' | 'notes';

export interface Hover {
  from: 'flat' | 'model';
  sheet: string;
  /** Texels. */
  x: number;
  y: number;
}

export interface SessionState {
  sheet: string;
  /** Map of the sheet that is worked on. */
  map: string;
  /** Sheets are shown as one surface; the run's key. */
  run: string | null;
  channel: Channel;
  /** What of the surface is shown, on sheet and model. */
  shows: Shows;
  /** The original shown over the art or under it, 0..1. */
  ghost: { strength: number; below: boolean };
  /** What shows through where the art does not cover: a checker, or a colour. */
  under: 'checker' | `#${string}`;
  chosen: string | null;
  /** The plate that is chosen, in place of a layer. */
  plate: string | null;
  /** Other layers that are chosen with it. */
  also: ReadonlySet<string>;
  /** Groups whose layers are not shown on the shelf. */
  closed: ReadonlySet<string>;
  /** The chosen layer alone is shown on the sheet. */
  solo: boolean;
  /** The mask of the chosen layer is shown instead of the art. */
  maskAlone: boolean;
  hover: Hover | null;
  guides: ReadonlySet<GuideKey>;
  surround: Surround;
  column: Column;
  /** A field that is to be focused when it is there. */
  focus: string | null;
  listOpen: boolean;
  /** What went wrong on the flat sheet, to be read. */
  trouble: string | null;
  /** Read out to those who do not see it. */
  said: string;
}

export const useSession = create<SessionState>(() => ({
  sheet: '',
  map: 'colour',
  run: null,
  channel: 'all',
  shows: 'paint',
  ghost: { strength: 0.5, below: false },
  under: 'checker',
  chosen: null,
  plate: null,
  also: new Set<string>(),
  closed: new Set<string>(),
  solo: false,
  maskAlone: false,
  hover: null,
  guides: new Set<GuideKey>(['seams', 'parts', 'axis']),
  surround: 'grey',
  column: 'chosen',
  focus: null,
  listOpen: false,
  trouble: null,
  said: '',
}));

/** Some of it; what uses them is drawn anew when one of these changes, not with every move of the pointer. */
export const useSessionOf = <K extends keyof SessionState>(...keys: readonly K[]): Pick<SessionState, K> =>
  useSession(useShallow((s) => Object.fromEntries(keys.map((key) => [key, s[key]])) as Pick<SessionState, K>));

export const choose = (chosen: string | null, sheet?: string, map?: string) =>
  useSession.setState((s) => ({
    chosen,
    plate: null,
    also: new Set<string>(),
    maskAlone: s.maskAlone && chosen === s.chosen,
    sheet: sheet ?? s.sheet,
    map: map ?? (sheet === undefined || sheet === s.sheet ? s.map : 'colour'),
    column: 'chosen',
  }));
export const setTrouble = (trouble: string | null) => {
  if (useSession.getState().trouble !== trouble) useSession.setState({ trouble });
};
export const announce = (said: string) => useSession.setState({ said });

/** Chooses a plate in place of a layer, or lets it go. */
export const choosePlate = (plate: string | null) =>
  useSession.setState({ chosen: null, plate, also: new Set<string>(), maskAlone: false, column: 'chosen' });

/** Chooses one more layer, or lets it go. */
export const chooseAlso = (id: string) =>
  useSession.setState((s) => {
    if (s.chosen === null || s.chosen === id) return { chosen: id, plate: null };
    const also = new Set(s.also);
    if (!also.delete(id)) also.add(id);
    return { also };
  });
/** Shows a guide, or takes it away. */
export const toggleGuide = (key: GuideKey) =>
  useSession.setState((s) => {
    const guides = new Set(s.guides);
    if (!guides.delete(key)) guides.add(key);
    return { guides };
  });
/** Opens or closes a group on the shelf. */
export const toggleClosed = (id: string) =>
  useSession.setState((s) => {
    const closed = new Set(s.closed);
    if (!closed.delete(id)) closed.add(id);
    return { closed };
  });
