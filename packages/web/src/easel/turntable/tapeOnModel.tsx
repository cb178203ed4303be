/** Taping off on the model: an outline of the view opens what is seen within it, on all sheets that it reaches. */
import type { PointerEvent } from 'react';
import { create } from 'zustand';
import type { SelectHow } from '@wet-lacquer/core/raster/selection.ts';
import { sheetNamed, type Template } from '@wet-lacquer/core/livery/template.ts';
import { sentenceOf } from '../../lib/api.ts';
import type { ModelSpot, Stage } from '../../parts/stage.ts';
import { sheetsOnModel } from '../actions.ts';
import type { Easel } from '../context.ts';
import { Cased } from '../flat/Cased.tsx';
import { ellipseIn, showTaped, startTape } from '../flat/tape.tsx';
import type { Point } from '../flat/placing.ts';
import { useHand } from '../hand.ts';
import { announce, choose, setTrouble, useSession } from '../session.ts';
import { useModelView } from './modelView.ts';

/** The outline that is being drawn, pixels of the canvas. */
const useDraft = create<{ points: readonly Point[]; closed: boolean }>(() => ({ points: [], closed: false }));
const NEAR_PX = 8;

interface Bench {
  easel: Easel;
  stage: Stage;
  template: Template;
  spotOf(event: { clientX: number; clientY: number }): ModelSpot | null;
}

/** One press with the tape in hand over the model. */
export function tapeOnModel(down: PointerEvent<HTMLCanvasElement>, { easel, stage, template, spotOf }: Bench): void {
  const { flat } = easel;
  const { tape } = useHand.getState();
  setTrouble(null);
  if (tape === 'colour' || tape === 'island' || tape === 'part' || tape === 'cell') {
    const spot = spotOf(down);
    if (!spot?.sheet) return announce('Nothing that is painted lies there');
    const sheet = sheetNamed(template, spot.sheet);
    if (useSession.getState().sheet !== sheet.key) choose(null, sheet.key);
    const { map } = useSession.getState();
    const at = { x: spot.u * sheet.width, y: spot.v * sheet.height };
    return startTape(down, { flat, sheet, map, texelOf: () => at, onTrouble: setTrouble });
  }
  const how: SelectHow = down.shiftKey ? 'add' : down.altKey ? 'take away' : useHand.getState().how;
  const canvas = down.currentTarget;
  const { left, top, width, height } = canvas.getBoundingClientRect();
  const pixelOf = (event: { clientX: number; clientY: number }): Point => ({
    x: event.clientX - left,
    y: event.clientY - top,
  });
  const from = pixelOf(down);
  const off = (points: readonly Point[]) => {
    if (points.length < 3) return;
    const { sheet, map } = useSession.getState();
    const sheets = sheetsOnModel(template, sheet, map).map((piece) => piece.sheet.key);
    const outline = points.map(({ x, y }) => ({ x: (x / width) * 2 - 1, y: 1 - (y / height) * 2 }));
    const not = [...useModelView.getState().hidden];
    flat
      .ask('selectSeen', { how, look: stage.look(), outline, not, sheets })
      .then(showTaped)
      .catch((error: unknown) => setTrouble(sentenceOf(error)));
  };
  if (tape === 'corners') {
    const { points } = useDraft.getState();
    const closes = points.length > 2 && Math.hypot(points[0].x - from.x, points[0].y - from.y) < NEAR_PX;
    if (closes || down.detail > 1) {
      useDraft.setState({ points: [] });
      off(points);
    } else useDraft.setState({ points: [...points, from], closed: false });
    return;
  }
  canvas.setPointerCapture(down.pointerId);
  let points: readonly Point[] = [from];
  const move = (event: globalThis.PointerEvent) => {
    const to = pixelOf(event);
    points =
      tape === 'lasso'
        ? [...points, to]
        : tape === 'ellipse'
          ? ellipseIn(from, to)
          : [from, { x: to.x, y: from.y }, to, { x: from.x, y: to.y }];
    useDraft.setState({ points, closed: true });
  };
  const end = (keep: boolean) => () => {
    canvas.removeEventListener('pointermove', move);
    canvas.removeEventListener('pointerup', up);
    canvas.removeEventListener('pointercancel', cancel);
    window.removeEventListener('keydown', key, true);
    useDraft.setState({ points: [] });
    if (keep) off(points);
  };
  const up = end(true);
  const cancel = end(false);
  const key = (event: KeyboardEvent) => {
    if (event.key !== 'Escape') return;
    event.stopPropagation();
    cancel();
  };
  canvas.addEventListener('pointermove', move);
  canvas.addEventListener('pointerup', up);
  canvas.addEventListener('pointercancel', cancel);
  window.addEventListener('keydown', key, true);
}

/** The outline while it is drawn. */
export function TapeOutline() {
  const { points, closed } = useDraft();
  if (points.length === 0) return null;
  const way = points.map(({ x, y }) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L');
  return (
    <svg style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', pointerEvents: 'none' }}>
      <Cased d={`M${way}${closed ? 'Z' : ''}`} dashed />
    </svg>
  );
}

/** Gives up corners that were begun. @returns whether there were any */
export function dropCorners(): boolean {
  const any = useDraft.getState().points.length > 0;
  if (any) useDraft.setState({ points: [] });
  return any;
}
