import { useEffect } from 'react';
import type { Stage } from '../../parts/stage.ts';
import { stagePlates } from '../../parts/stagePlates.ts';
import { useTemplate } from '../context.ts';
import { tellLooking } from './acts.ts';
import { useShownPlates } from './usePlates.ts';

/** Shows the plates on a stage as they are moved, and tells where it is looked at. @param stage null: there is none yet */
export function useStoodPlates(stage: Stage | null): void {
  const template = useTemplate();
  const plates = useShownPlates();
  useEffect(() => stage?.plates(stagePlates([...plates], template)), [stage, template, plates]);
  useEffect(() => {
    if (!stage) return;
    return tellLooking(() => {
      const spot = stage.spotAt(0, 0);
      return spot?.sheet ? spot : null;
    });
  }, [stage]);
}
