/** All that there is to know of a kind of layer but how it is drawn: what it is made of, where it lies, what can be set, how it begins. */
import type { FieldKey } from '../livery/fields.ts';
import type { MarkPlace } from '../livery/markPlace.ts';
import type { Phase } from '../livery/layerBase.ts';
import type { Paint } from '../livery/paint.ts';
import type { ChoiceSetting, NumberSetting, SlideSetting } from '../livery/settings.ts';

export type { NumberSetting } from '../livery/settings.ts';

/** A box: its middle, its sides before turning, and its turn; texels and degrees. */
export interface Frame {
  x: number;
  y: number;
  width: number;
  height: number;
  turn: number;
}

/** How a layer is mirrored at a line. */
export interface Mirroring {
  /** x = at, or y = at. */
  across: 'x' | 'y';
  /** Lettering and decals keep their own way round, so that they can be read. */
  readable: boolean;
}

/** What a page shows of a layer's place: numbers in rows of at most two, one that is dragged, one of several, or something of its own by name. */
export type PlaceRow = readonly NumberSetting[] | ChoiceSetting | SlideSetting | 'ratio' | 'along' | 'outline' | 'spot';

/** What a page shows of a layer's colours. */
export type ColourRow =
  | { is: 'paint'; key: string; label: string }
  | { is: 'paints'; key: string; most: number }
  | { is: 'maybe'; key: string; label: string; tick: string }
  | 'stops'
  | 'outline'
  | 'recolour';

/** What a hand can hold on the sheet, beside the box of a layer that has one. */
export type HandleSet = 'line' | 'run' | 'knots' | 'net';

/** Where something new begins. */
export interface MakerPlace {
  sheet: { width: number; height: number };
  /** Middle of what is in view, texels. */
  x: number;
  y: number;
  /** Where a first mark is seen, upright; see surface/markPlace.ts. None: it begins in the middle of what is in view. */
  mark?: MarkPlace | null;
  /** What of the model is in the middle of the view, metres; null: nothing is. */
  spot(): readonly [number, number, number] | null;
  /** The corners of the box about the model: x forward, y up, z to starboard, metres. */
  model: { low: readonly number[]; high: readonly number[] };
  /** The scheme's n-th colour, or its last. */
  paint(n: number): Paint;
  /** The finishes that the livery has. */
  finishes: readonly string[];
}

/** A way to begin a layer of the kind. */
export interface LayerMaker {
  key: string;
  phase: Phase;
  name: string;
  what: string;
  /** The settings of its own kind. */
  make(place: MakerPlace): Record<string, unknown>;
}

export interface LayerData<L> {
  /** In a sentence: "Hazard stripes on port side". */
  name: string;
  /** It lies on the model: there is one for all sheets, and each draws its share of it. */
  onModel?: true;
  /** It is texels of its sheet, or has no picture of its own: there is no plane of it that could be put on the model. */
  ofSheet?: true;
  /** What of the model it is drawn by. */
  fields?(layer: L): readonly FieldKey[];
  /** In the order of its settings. */
  paints(layer: L): Paint[];
  /** Its box; null: it has none. @param letteringWidth of lettering at a size of 1, where it is known */
  frame(layer: L, letteringWidth: number | null): Frame | null;
  /** What its sides keep to when a corner is dragged: each its own, one ratio, or there is nothing to drag. */
  sides(layer: L): 'apart' | 'together' | null;
  /** Its settings when its box has become so large. */
  sized(layer: L, width: number, height: number): Record<string, number>;
  /** The setting that turns it. */
  turns: 'turn' | 'angle' | null;
  /** What of it changes in its partner across a line, beside its place; null: it has no place. */
  mirrored: ((layer: L, how: Mirroring) => Record<string, unknown>) | null;
  handles(layer: L): readonly HandleSet[];
  place(layer: L): readonly PlaceRow[];
  colours: readonly ColourRow[];
  /** Where it lies and how large it is, in a line, after its x and y. */
  numbers(layer: L): string;
  makers: readonly LayerMaker[];
}

/** Of kinds that cover what they cover and can be taken nowhere. */
export const NO_PLACE = {
  frame: () => null,
  sides: () => null,
  sized: () => ({}),
  turns: null,
  mirrored: null,
  handles: () => [],
  place: () => [],
  numbers: () => '',
} as const;

/** Of kinds that lie along a line, without a box. */
export const NO_BOX = { frame: () => null, sides: () => null, sized: () => ({}), turns: null } as const;

export const round = (value: number, digits = 1): number => Number(value.toFixed(digits));

/** A number as it stands in a line. */
export const shortNumber = (value: number): string => String(round(value));

/** -180 (excluded) to 180. */
export const turnedWithin = (degrees: number): number => {
  const within = ((((degrees + 180) % 360) + 360) % 360) - 180;
  return within === 0 ? 0 : within;
};

/** A direction seen in a mirror: it turns round when left and right change. */
export const directionIn = (angle: number, { across }: Mirroring): number =>
  turnedWithin(across === 'x' ? 180 - angle : -angle);

export const TURN: NumberSetting = { key: 'turn', label: 'turn', unit: '°', min: -3600, max: 3600 };
export const ANGLE: NumberSetting = { key: 'angle', label: 'angle', unit: '°', min: -3600, max: 3600 };
export const PAINT: ColourRow = { is: 'paint', key: 'paint', label: 'paint' };
