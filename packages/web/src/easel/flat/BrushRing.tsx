import { useEffect, useRef } from 'react';
import { sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import { brushOnSheet } from '../brushSize.ts';
import { useTemplate } from '../context.ts';
import { Over } from './Over.tsx';
import { ART } from '../../theme.ts';
import { isPainting, useHand } from '../hand.ts';
import { onPaper, toScreen, toTexel, useView } from './view.ts';

/** Where the pointer was last, in screen pixels of the view; the ring follows it without the page being drawn anew. */
let at = { x: -1e4, y: -1e4 };
let ring: SVGGElement | null = null;
/** How large the brush is at a place of the screen, as its radius in screen pixels. */
let radiusAt: (at: { x: number; y: number }) => number = () => 0;
function place(): void {
  if (!ring) return;
  ring.setAttribute('transform', `translate(${at.x} ${at.y})`);
  const radius = radiusAt(at).toFixed(1);
  for (const circle of ring.children) circle.setAttribute('r', radius);
}

export function moveRing(view: HTMLElement, event: { clientX: number; clientY: number }): void {
  at = onPaper(view, event);
  place();
}

/** The brush's outline under the pointer, and the place that clone takes from. */
export function BrushRing({ sheet }: { sheet: string }) {
  const { hand, brush, sizeIn, cloneFrom } = useHand();
  const template = useTemplate();
  const view = useView();
  const group = useRef<SVGGElement>(null);
  useEffect(() => {
    ring = group.current;
    radiusAt = (on) => {
      const found = brushOnSheet({ brush, sizeIn }, template, sheetNamed(template, sheet), toTexel(view, on.x, on.y));
      return Math.max(2, ((found ?? brush).size / 2) * view.zoom);
    };
    place();
  });
  if (!isPainting(hand)) return null;
  const from = hand === 'clone' && cloneFrom?.sheet === sheet ? cloneFrom : null;
  const spot = from && toScreen(view, from.x, from.y);
  return (
    <Over view={view}>
      <g ref={group}>
        <circle fill="none" stroke={ART.casing} strokeWidth={2.5} strokeOpacity={0.7} />
        <circle fill="none" stroke={ART.light} strokeWidth={1} />
      </g>
      {spot && (
        <g transform={`translate(${spot.x} ${spot.y})`}>
          <path d="M-9 0H9M0 -9V9" stroke={ART.casing} strokeWidth={4} />
          <path d="M-9 0H9M0 -9V9" stroke={ART.chosen} strokeWidth={2} />
        </g>
      )}
    </Over>
  );
}
