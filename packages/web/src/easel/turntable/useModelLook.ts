/** What the model shows: its paint as it follows the livery, its surfaces where there is more to them, in which light. */
import { useCallback, useEffect, useRef } from 'react';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { LightPreset } from '../../parts/lamps.ts';
import type { Stage } from '../../parts/stage.ts';
import { useEachShown, useEasel, useTemplate } from '../context.ts';
import { useSession } from '../session.ts';
import { nightOf, shownOn } from '../shows.ts';
import { StageSurfaces } from './surfaces.ts';
import type { ModelTextures } from './textures.ts';

/** @param stage null: there is none yet, or this browser can show none */
export function useModelLook(stage: Stage | null, textures: ModelTextures | null, light: LightPreset): void {
  const { doc, model } = useEasel();
  const template = useTemplate();
  const sheet = useSession((s) => s.sheet);
  const chosen = useSession((s) => s.chosen);
  const shows = useSession((s) => s.shows);
  const surfaces = useRef<StageSurfaces | null>(null);
  useEffect(() => {
    const made = stage && new StageSurfaces(template, model, stage);
    surfaces.current = made;
    made?.show(doc.use.getState().livery, useSession.getState().sheet);
    return () => made?.close();
  }, [stage, template, model, doc]);
  useEachShown(useCallback((livery: Livery) => surfaces.current?.show(livery, sheet), [sheet]));
  useEachShown(useCallback((livery: Livery) => textures?.show(livery, sheet, chosen), [sheet, chosen, textures]));
  useEffect(() => {
    textures?.showOf((key) => shownOn(template, key, shows));
    textures?.show(doc.use.getState().livery, useSession.getState().sheet, null);
  }, [shows, template, textures, doc]);
  // In the dark only what holds light shows as it is.
  useEffect(() => {
    const lit = template.sheets.flatMap((one) => (nightOf(one) ? [one.key] : []));
    stage?.dark(shows === 'night' ? new Set(lit) : null);
  }, [shows, stage, template]);
  // Values are seen as they are, without light.
  useEffect(() => stage?.light(shows === 'paint' ? light : 'Unlit'), [light, shows, stage]);
}
