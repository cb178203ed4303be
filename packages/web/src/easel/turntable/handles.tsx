/** What handles over the turntable have in common. */
import { useEffect, useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { Stage } from '../../parts/stage.ts';
import type { Point } from '../flat/placing.ts';
import { ART } from '../../theme.ts';

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

const INKED = { fill: ART.light, stroke: ART.casing, strokeWidth: 1.5 } as const;

interface Held {
  at: Point;
  /** Left out: it is locked. */
  onPress?(down: PointerEvent<SVGElement>): void;
}

/** The middle of what is placed: it is slid by it, and by the arrow keys while it has the focus. */
export const Middle = ({
  at,
  called,
  onPress,
  onKey,
}: Held & { called: string; onKey(event: KeyboardEvent): void }) => (
  <circle
    cx={at.x}
    cy={at.y}
    r={7}
    tabIndex={0}
    role="button"
    aria-label={called}
    {...INKED}
    style={HOLDS}
    onPointerDown={onPress}
    onKeyDown={onKey}
  />
);

/** A corner by which it is scaled. */
export const Corner = ({ at, onPress }: Held) => (
  <rect
    x={at.x - 5}
    y={at.y - 5}
    width={10}
    height={10}
    {...INKED}
    style={{ ...HOLDS, cursor: 'nwse-resize' }}
    onPointerDown={onPress}
  />
);

/** What it is turned by. */
export const Turner = ({ at, onPress }: Held) => (
  <circle cx={at.x} cy={at.y} r={6} {...INKED} style={{ ...HOLDS, cursor: 'grab' }} onPointerDown={onPress} />
);

/** What a drag amounts to, beside the middle. */
export const Said = ({ at, children }: { at: Point; children: string }) => (
  <text
    x={at.x + 14}
    y={at.y - 10}
    fill={ART.light}
    stroke={ART.casing}
    strokeWidth={3}
    paintOrder="stroke"
    fontSize={12}
  >
    {children}
  </text>
);
