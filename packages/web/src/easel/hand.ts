/** What the painter has in hand, and how it is set. Nothing of it is saved with the livery; brushes are kept in this browser. */
import { create } from 'zustand';
import { z } from 'zod';
import type { CloneWay } from '@wet-lacquer/core/paint/cloneOnModel.ts';
import { Brush, BRUSHES } from '@wet-lacquer/core/paint/brush.ts';
import { schemePaint, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Paint } from '@wet-lacquer/core/livery/paint.ts';
import type { SelectHow } from '@wet-lacquer/core/raster/selection.ts';
import type { SelectionShown } from '../workers/messages.ts';

/** Nothing: layers are chosen and moved. */
export type Hand = 'place' | 'paint' | 'rub' | 'clone' | 'tape';
export type TapeKind = 'box' | 'ellipse' | 'lasso' | 'corners' | 'colour' | 'island' | 'part' | 'cell';
/** What the brush's size is counted in: texels of the sheet, millimetres of the model, or pixels of the screen. */
export type SizeIn = 'texels' | 'mm' | 'screen';
export type Symmetry = 'none' | 'axis' | 'radial';

export interface HandState {
  hand: Hand;
  brush: Brush;
  sizeIn: SizeIn;
  /** Brushes of the painter's own. */
  own: readonly Brush[];
  /** What was chosen to paint with; see paintIn. */
  paint: Paint | null;
  /** Colours lately painted with that are not in the scheme. */
  lately: readonly string[];
  /** On the chosen layer's mask instead of its picture. */
  onMask: boolean;
  symmetry: Symmetry;
  /** Copies of a radial stroke. */
  copies: number;
  /** The brush leaves an atlas cell on one side and enters on the other. */
  wrap: boolean;
  /** Where clone takes from, texels; null until it is set. */
  cloneFrom: { sheet: string; x: number; y: number } | null;
  /** The offset stays from stroke to stroke. */
  aligned: boolean;
  cloneOffset: { dx: number; dy: number } | null;
  /** The same on the model. */
  cloneWay: CloneWay | null;
  /** The map that clone takes from; null, or one that the sheet does not have: the one that is painted on. */
  cloneMap: string | null;
  /** The same texels are cloned on every map of the sheet. */
  everyMap: boolean;
  tape: TapeKind;
  how: SelectHow;
  /** OKLab distance times 100. */
  tolerance: number;
  connected: boolean;
  /** What is not taped off, by sheet; empty: everything is open. */
  selections: readonly SelectionShown[];
  /** A change of a layer, by its place among them, that is to keep to the patch of colour that is pressed on next; the tolerance as above. */
  patch: { layer: string; filter: number; tolerance: number } | null;
}

const KEPT = 'wet-lacquer/brushes';
const Kept = z.object({
  brush: Brush,
  own: z.array(Brush).max(100),
  sizeIn: z.enum(['texels', 'mm', 'screen']).default('texels'),
});

function kept(): Pick<HandState, 'brush' | 'own' | 'sizeIn'> {
  try {
    return Kept.parse(JSON.parse(localStorage.getItem(KEPT) ?? ''));
  } catch {
    return { brush: BRUSHES[0], own: [], sizeIn: 'texels' };
  }
}

export const useHand = create<HandState>(() => ({
  hand: 'place',
  ...kept(),
  paint: null,
  lately: [],
  onMask: false,
  symmetry: 'none',
  copies: 6,
  wrap: false,
  cloneFrom: null,
  aligned: true,
  cloneOffset: null,
  cloneWay: null,
  cloneMap: null,
  everyMap: false,
  tape: 'box',
  how: 'new',
  tolerance: 6,
  connected: true,
  selections: [],
  patch: null,
}));

useHand.subscribe(({ brush, own, sizeIn }, before) => {
  if (brush === before.brush && own === before.own && sizeIn === before.sizeIn) return;
  try {
    localStorage.setItem(KEPT, JSON.stringify({ brush, own, sizeIn }));
  } catch {
    // The browser's store is full: the brushes last as long as this window.
  }
});

/**
 * What is painted with: what was chosen, as long as the livery has it; else the scheme's second colour, because the first is most
 * often what is painted on.
 */
export function paintIn(livery: Pick<Livery, 'scheme'>, chosen: Paint | null): Paint {
  if (chosen && (!('scheme' in chosen) || livery.scheme.some(({ id }) => id === chosen.scheme))) return chosen;
  return schemePaint(livery, 1);
}

/** Clone begins anew. */
export const NO_WAY = { cloneOffset: null, cloneWay: null } as const;

/** Lets go of what belonged to the livery that was open before. */
export const emptyHand = (): void =>
  useHand.setState({ onMask: false, ...NO_WAY, cloneFrom: null, selections: [], patch: null });

/** Paints with a colour from now on: the scheme's own when it has it. */
export function paintWith(livery: Pick<Livery, 'scheme'>, hex: string): void {
  const own = livery.scheme.find((colour) => colour.hex === hex);
  useHand.setState(({ lately }) => ({
    paint: own ? { scheme: own.id } : { hex },
    lately: own ? lately : [hex, ...lately.filter((one) => one !== hex)].slice(0, 12),
  }));
}

/** `does`: what taking it is called among the commands, where that is more than its name. */
export const HANDS: readonly { hand: Hand; name: string; key: string; what: string; does?: string }[] = [
  { hand: 'place', name: 'Place', key: 'A', what: 'choose layers and move them', does: 'Choose and move' },
  { hand: 'paint', name: 'Paint', key: 'P', what: 'with a brush' },
  { hand: 'rub', name: 'Rub out', key: 'R', what: 'what the chosen layer has painted' },
  {
    hand: 'clone',
    name: 'Clone',
    key: 'N',
    what: 'copy from elsewhere on the sheet or the model; Alt and a press says from where',
  },
  { hand: 'tape', name: 'Tape off', key: 'T', what: 'a region that all work keeps to' },
];

export const takeInHand = (hand: Hand) => useHand.setState({ hand });
export const setBrush = (set: Partial<Brush>) => useHand.setState(({ brush }) => ({ brush: { ...brush, ...set } }));
export const isPainting = (hand: Hand): boolean => hand === 'paint' || hand === 'rub' || hand === 'clone';
