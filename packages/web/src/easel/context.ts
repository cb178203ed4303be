import { createContext, useContext, useEffect, useMemo } from 'react';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { findLayer, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { RenderClient } from '../workers/renderClient.ts';
import type { DocumentState, EaselDocument } from './document.ts';

export interface Easel {
  doc: EaselDocument;
  /** Draws the flat sheet. */
  flat: RenderClient;
  /** Draws the model's textures and small pictures. */
  model: RenderClient;
  /** The sheet has been shown, or takes long: everything else may begin. */
  sheetShown: Promise<unknown>;
}

export const EaselContext = createContext<Easel | null>(null);

export function useEasel(): Easel {
  const easel = useContext(EaselContext);
  if (!easel) throw new Error('Outside the easel.');
  return easel;
}

/** The livery as it is. */
export const useLivery = (): Livery => useEasel().doc.use((state) => state.livery);
/** Calls for the livery as it is shown, with what is being dragged: now, and whenever it changes. Nothing is drawn anew for it. */
export function useEachShown(each: (shown: Livery) => void): void {
  const { doc } = useEasel();
  useEffect(() => {
    each(shownIn(doc.use.getState()));
    return doc.use.subscribe((state, before) => {
      if (shownIn(state) !== shownIn(before)) each(shownIn(state));
    });
  }, [doc, each]);
}
const shownIn = ({ preview, livery }: DocumentState): Livery => preview ?? livery;

/** Settings that say nothing of where a layer lies, and can be large. */
const ELSEWHERE = new Set(['opacity', 'strokes', 'mask', 'filters']);

/** Finds a layer as it is shown: the same object until something moves or shapes it. */
function placing<L extends Layer | null>(layer: L): (state: DocumentState) => L {
  let kept: { text: string; layer: L } | null = null;
  return (state) => {
    if (!layer) return layer;
    const live = findLayer(shownIn(state), layer.id)?.layer ?? layer;
    const text = JSON.stringify(live, (key, value: unknown) => (ELSEWHERE.has(key) ? undefined : value));
    if (kept?.text !== text) kept = { text, layer: live as L };
    return kept.layer;
  };
}

/** A layer as it is shown, with what is being dragged; drawn anew only when that moves or shapes it. */
export const usePlaced = <L extends Layer | null>(layer: L): L =>
  useEasel().doc.use(useMemo(() => placing(layer), [layer]));

/** The particulars as they are shown. */
export const useShownParticulars = () => useEasel().doc.use((state) => shownIn(state).particulars);
export const useTemplate = (): Template => useEasel().doc.use((state) => state.template);
