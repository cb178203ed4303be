/** Two fingers on the sheet pan, zoom and turn it about what lies between them; what the first one had begun is given up. */
import type { PointerEvent } from 'react';
import { toPaper, turnTo, useView, zoomAt, type View } from './view.ts';

/** Fingers turn a little against one another whenever they pinch: less than this is none. */
const STEADY_DEGREES = 8;

interface Finger {
  id: number;
  x: number;
  y: number;
}

/** Where two fingers are, seen from the middle of the view: pixels, and degrees clockwise from the first to the second. */
export function between([a, b]: readonly [Finger, Finger], middle: { x: number; y: number }) {
  return {
    x: (a.x + b.x) / 2 - middle.x,
    y: (a.y + b.y) / 2 - middle.y,
    far: Math.max(1, Math.hypot(b.x - a.x, b.y - a.y)),
    turn: (Math.atan2(b.y - a.y, b.x - a.x) * 180) / Math.PI,
  };
}
type Hold = ReturnType<typeof between>;

/** The view after the fingers went from one hold to another: the texel that lay between them lies there still. */
export function heldView(start: View, from: Hold, to: Hold): Pick<View, 'zoom' | 'x' | 'y' | 'turn'> {
  const began = toPaper(start, from.x, from.y);
  const texel = { x: start.x + began.x / start.zoom, y: start.y + began.y / start.zoom };
  const turned = ((((to.turn - from.turn + 180) % 360) + 360) % 360) - 180;
  const steady = Math.sign(turned) * Math.max(0, Math.abs(turned) - STEADY_DEGREES);
  const turn = start.turn + steady;
  const { zoom } = zoomAt(start, to.far / from.far, 0, 0);
  const now = toPaper({ turn, mirrored: start.mirrored }, to.x, to.y);
  return { turn, zoom, x: texel.x - now.x / zoom, y: texel.y - now.y / zoom };
}

const touches = (event: PointerEvent) => event.pointerType === 'touch';

/** Handlers for what stands around the paper, before the paper itself gets the events. */
export function twoFingers() {
  let fingers: Finger[] = [];
  let held: { start: View; from: Hold } | null = null;
  /** After two fingers, one that is left does nothing. */
  let spent = false;
  const middleOf = (around: Element) => {
    const { left, top, width, height } = around.getBoundingClientRect();
    return { x: left + width / 2, y: top + height / 2 };
  };
  const lift = (event: PointerEvent) => {
    if (!touches(event)) return;
    if (held || spent) event.stopPropagation();
    fingers = fingers.filter(({ id }) => id !== event.pointerId);
    if (held) spent = true;
    held = null;
    if (fingers.length === 0) spent = false;
  };
  return {
    onPointerDownCapture(event: PointerEvent<HTMLElement>) {
      if (!touches(event)) return;
      fingers.push({ id: event.pointerId, x: event.clientX, y: event.clientY });
      if (fingers.length < 2) return;
      event.stopPropagation();
      if (held || spent || fingers.length > 2) return;
      const [first, second] = fingers;
      event.target.dispatchEvent(new window.PointerEvent('pointercancel', { pointerId: first.id, bubbles: true }));
      held = { start: useView.getState(), from: between([first, second], middleOf(event.currentTarget)) };
    },
    onPointerMoveCapture(event: PointerEvent<HTMLElement>) {
      if (!touches(event)) return;
      const finger = fingers.find(({ id }) => id === event.pointerId);
      if (finger) Object.assign(finger, { x: event.clientX, y: event.clientY });
      if (!held && !spent) return;
      event.stopPropagation();
      if (!held || fingers.length < 2) return;
      const { turn, ...look } = heldView(
        held.start,
        held.from,
        between([fingers[0], fingers[1]], middleOf(event.currentTarget)),
      );
      turnTo(turn);
      useView.setState(look);
    },
    onPointerUpCapture: lift,
    onPointerCancelCapture: (event: PointerEvent) => {
      // Our own word to what the first finger had begun.
      if (event.nativeEvent.isTrusted) lift(event);
    },
  };
}
