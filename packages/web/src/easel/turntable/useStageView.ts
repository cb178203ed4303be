/** What of the model is seen, and what a pointer does to it, as this window has it. */
import { useEffect } from 'react';
import type { Stage } from '../../parts/stage.ts';
import { useTemplate } from '../context.ts';
import { planeOfSection, useModelView } from './modelView.ts';

/** @param stage null: there is none yet @param painting a brush is in hand: Alt takes a colour with it */
export function useStageView(stage: Stage | null, painting: boolean): void {
  const { mesh } = useTemplate();
  const { parallel, section, hidden, near } = useModelView();
  useEffect(() => stage?.evenly(parallel), [stage, parallel]);
  useEffect(() => stage?.leaveAway(hidden), [stage, hidden]);
  useEffect(() => stage?.cutOpen(section && planeOfSection(mesh, section)), [stage, section, mesh]);
  useEffect(() => stage?.lightByHand(!painting), [stage, painting]);
  useEffect(() => {
    if (near) stage?.frame(new Set([near.part]));
  }, [stage, near]);
}
