import { createContext, useContext } from 'react';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { RenderClient } from '../workers/renderClient.ts';
import type { EaselDocument } from './document.ts';

interface Easel {
  doc: EaselDocument;
  /** Draws the flat sheet. */
  flat: RenderClient;
  /** Draws the model's textures and small pictures. */
  model: RenderClient;
}

export const EaselContext = createContext<Easel | null>(null);

export function useEasel(): Easel {
  const easel = useContext(EaselContext);
  if (!easel) throw new Error('Outside the easel.');
  return easel;
}

/** The livery as it is. */
export const useLivery = (): Livery => useEasel().doc.use((state) => state.livery);
/** The livery as it is shown: with what is being dragged. */
export const useShown = (): Livery => useEasel().doc.use((state) => state.preview ?? state.livery);
export const useTemplate = (): Template => useEasel().doc.use((state) => state.template);
