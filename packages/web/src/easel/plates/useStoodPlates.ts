import { useEffect } from 'react';
import { meshOfPlate, standingPlates } from '@wet-lacquer/core/plates/panel.ts';
import type { Stage } from '../../parts/stage.ts';
import { useTemplate } from '../context.ts';
import { tellLooking } from './acts.ts';
import { useShownPlates } from './usePlates.ts';

/** Shows the plates on a stage as they are moved, and tells where it is looked at. @param stage null: there is none yet */
export function useStoodPlates(stage: Stage | null): void {
  const template = useTemplate();
  const plates = useShownPlates();
  useEffect(() => {
    const stands = standingPlates({ plates: [...plates] });
    stage?.plates(
      stands.map((one) => ({ id: one.plate.id, mesh: meshOfPlate(one, template), wears: one.plate.sheet })),
    );
  }, [stage, template, plates]);
  useEffect(() => {
    if (!stage) return;
    return tellLooking(() => {
      const spot = stage.spotAt(0, 0);
      return spot?.sheet ? spot : null;
    });
  }, [stage]);
}
