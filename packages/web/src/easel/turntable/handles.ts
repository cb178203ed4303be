/** What handles over the turntable have in common. */
import { useEffect, useState } from 'react';
import type { Stage } from '../../parts/stage.ts';
import type { Point } from '../flat/placing.ts';

export const HOLDS = { pointerEvents: 'all', cursor: 'move', touchAction: 'none' } as const;

/** Drawn anew whenever the model turns. */
export function useMoved(stage: Stage): void {
  const [, setCount] = useState(0);
  useEffect(() => stage.onMoved(() => setCount((count) => count + 1)), [stage]);
}

/** Where a place of the model is on a canvas of a size, pixels; null: behind the eye. */
export function onCanvas(
  stage: Stage,
  place: readonly [number, number, number],
  { width, height }: { width: number; height: number },
): Point | null {
  const at = stage.seenAt(place);
  return at && { x: ((at.x + 1) / 2) * width, y: ((1 - at.y) / 2) * height };
}
