/** Taping off: regions that work keeps to, drawn on the sheet. What is covered by tape is hatched. */
import { useEffect, useRef, type PointerEvent } from 'react';
import { create } from 'zustand';
import type { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import type { SelectHow } from '@wet-lacquer/core/raster/selection.ts';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { cellPlaceAt } from '@wet-lacquer/core/surface/places.ts';
import { context2d } from '../../parts/context2d.ts';
import { sentenceOf } from '../../lib/api.ts';
import { Over } from './Over.tsx';
import { ART } from '../../theme.ts';
import type { SelectAsk, SelectionShown } from '../../workers/messages.ts';
import type { RenderClient } from '../../workers/renderClient.ts';
import { useHand } from '../hand.ts';
import { keepRegion } from '../pixels.ts';
import { announce } from '../session.ts';
import type { Point } from './placing.ts';
import { toScreen, useView } from './view.ts';

/** The outline that is being drawn, texels. */
const useDraft = create<{ points: Point[]; closed: boolean }>(() => ({ points: [], closed: false }));

/** Changes what is taped off, and shows it. */
export async function tapeOff(flat: RenderClient, sheet: string, map: string, what: SelectAsk): Promise<void> {
  showTaped(await flat.ask('select', { sheet, map, what }));
}

/** Shows what is open from now on, and says it. */
export function showTaped(selections: readonly SelectionShown[]): void {
  useHand.setState({ selections });
  announce(selections.length > 0 ? 'Work keeps to the region' : 'Nothing is taped off');
}

/** Keeps the region that is open on a sheet as a mask or a named region names it; null when nothing is taped off. */
export async function keepTapedOff(
  flat: RenderClient,
  sheet: string,
): Promise<{ blob: Sha256; tiles: number[] } | null> {
  const stored = await flat.ask('selection', { sheet });
  return stored && keepRegion(stored);
}

interface Bench {
  flat: RenderClient;
  sheet: TemplateSheet;
  map: string;
  texelOf(event: { clientX: number; clientY: number }): Point;
  onTrouble(why: string): void;
}

/** One press with the tape in hand: a box, an outline, a corner of one, or what lies under the pointer. */
export function startTape(down: PointerEvent<HTMLElement>, { flat, sheet, map, texelOf, onTrouble }: Bench): void {
  const { tape, tolerance, connected } = useHand.getState();
  const how: SelectHow = down.shiftKey ? 'add' : down.altKey ? 'take away' : useHand.getState().how;
  const from = texelOf(down);
  const off = (what: SelectAsk) => void tapeOff(flat, sheet.key, map, what).catch((e) => onTrouble(sentenceOf(e)));
  const onSheet = from.x >= 0 && from.y >= 0 && from.x < sheet.width && from.y < sheet.height;
  if (tape === 'cell') {
    const place = onSheet ? cellPlaceAt(sheet, from.x, from.y) : null;
    return off(place ? { kind: 'parts', how, parts: [...place.keys] } : { kind: 'none' });
  }
  if (tape === 'colour' || tape === 'island' || tape === 'part') {
    if (!onSheet) return off({ kind: 'none' });
    return off(
      tape === 'colour'
        ? { kind: 'colour', how, ...from, tolerance, connected }
        : { kind: tape, how, x: from.x, y: from.y },
    );
  }
  if (tape === 'corners') {
    const { points } = useDraft.getState();
    const near =
      points.length > 2 && Math.hypot(points[0].x - from.x, points[0].y - from.y) * useView.getState().zoom < 8;
    if (near || down.detail > 1) {
      useDraft.setState({ points: [] });
      if (points.length > 2) off({ kind: 'outline', how, points });
    } else useDraft.setState({ points: [...points, from], closed: false });
    return;
  }
  const element = down.currentTarget;
  let points: Point[] = [from];
  const move = (event: globalThis.PointerEvent) => {
    const to = texelOf(event);
    if (tape === 'lasso') points = [...points, to];
    else {
      // Whole texels, so that a box's edges are sharp.
      const [a, b] = [
        { x: Math.round(from.x), y: Math.round(from.y) },
        { x: Math.round(to.x), y: Math.round(to.y) },
      ];
      points = [a, { x: b.x, y: a.y }, b, { x: a.x, y: b.y }];
    }
    useDraft.setState({ points: tape === 'ellipse' ? ellipseIn(points[0], points[2]) : points, closed: true });
  };
  const end = (keep: boolean) => {
    element.removeEventListener('pointermove', move);
    element.removeEventListener('pointerup', up);
    element.removeEventListener('pointercancel', cancel);
    window.removeEventListener('keydown', key, true);
    useDraft.setState({ points: [] });
    if (!keep) return;
    const [a, , b] = points;
    if (points.length < 3) return off({ kind: 'none' });
    if (tape === 'ellipse')
      off({
        kind: 'ellipse',
        how,
        x: (a.x + b.x) / 2,
        y: (a.y + b.y) / 2,
        rx: Math.abs(b.x - a.x) / 2,
        ry: Math.abs(b.y - a.y) / 2,
      });
    else off({ kind: 'outline', how, points });
  };
  const up = () => end(true);
  const cancel = () => end(false);
  const key = (event: KeyboardEvent) => {
    if (event.key !== 'Escape') return;
    event.stopPropagation();
    end(false);
  };
  element.addEventListener('pointermove', move);
  element.addEventListener('pointerup', up);
  element.addEventListener('pointercancel', cancel);
  window.addEventListener('keydown', key, true);
}

/** The ellipse in a box of two opposite corners. */
export function ellipseIn(a: Point, b: Point): Point[] {
  const [cx, cy, rx, ry] = [(a.x + b.x) / 2, (a.y + b.y) / 2, (b.x - a.x) / 2, (b.y - a.y) / 2];
  return Array.from({ length: 64 }, (_, k) => ({
    x: cx + rx * Math.cos((k / 32) * Math.PI),
    y: cy + ry * Math.sin((k / 32) * Math.PI),
  }));
}

/** Hatches what is taped off, and draws the outline that is being made. */
export function TapedOff({ sheet }: { sheet: TemplateSheet }) {
  const { selections, hand } = useHand();
  const { points, closed } = useDraft();
  const view = useView();
  const canvas = useRef<HTMLCanvasElement>(null);
  const shown = selections.find((one) => one.sheet === sheet.key) ?? null;
  useEffect(() => {
    const area = canvas.current;
    if (!area || !shown) return;
    const ratio = devicePixelRatio;
    const [w, h] = [Math.round(view.width * ratio), Math.round(view.height * ratio)];
    if (area.width !== w || area.height !== h) Object.assign(area, { width: w, height: h });
    const ctx = context2d(area);
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.globalCompositeOperation = 'source-over';
    ctx.clearRect(0, 0, w, h);
    const [from, to] = [toScreen(view, 0, 0), toScreen(view, sheet.width, sheet.height)];
    ctx.fillStyle = hatch(ctx);
    ctx.fillRect(from.x * ratio, from.y * ratio, (to.x - from.x) * ratio, (to.y - from.y) * ratio);
    ctx.globalCompositeOperation = 'destination-out';
    ctx.imageSmoothingEnabled = view.zoom * shown.step < 2;
    const side = shown.step * view.zoom * ratio;
    ctx.drawImage(pictureOf(shown), from.x * ratio, from.y * ratio, shown.width * side, shown.height * side);
  }, [shown, view, sheet]);
  const outline = points.map((p) => toScreen(view, p.x, p.y)).map(({ x, y }) => `${x.toFixed(1)} ${y.toFixed(1)}`);
  return (
    <>
      {shown && (
        <canvas
          ref={canvas}
          data-testid="taped-off"
          style={{
            position: 'absolute',
            inset: 0,
            width: '100%',
            height: '100%',
            pointerEvents: 'none',
            opacity: hand === 'tape' ? 1 : 0.45,
          }}
        />
      )}
      {outline.length > 0 && (
        <Over view={view}>
          <path d={`M${outline.join('L')}${closed ? 'Z' : ''}`} fill="none" stroke={ART.casing} strokeWidth={3} />
          <path
            d={`M${outline.join('L')}${closed ? 'Z' : ''}`}
            fill="none"
            stroke={ART.chosen}
            strokeWidth={1.5}
            strokeDasharray="6 4"
          />
        </Over>
      )}
    </>
  );
}

/** Thin slanting lines, light beside dark, that show on any paint. */
function hatch(ctx: CanvasRenderingContext2D): CanvasPattern {
  const side = 10;
  const cell = new OffscreenCanvas(side, side);
  const c = context2d(cell);
  c.fillStyle = 'rgba(30, 30, 30, 0.28)';
  c.fillRect(0, 0, side, side);
  for (const [colour, shift] of [
    ['rgba(16, 16, 16, 0.6)', 0],
    ['rgba(240, 240, 240, 0.6)', 1.2],
  ] as const) {
    c.strokeStyle = colour;
    c.lineWidth = 1.2;
    c.beginPath();
    for (const k of [-side, 0, side]) {
      c.moveTo(k + shift - 1, side + 1);
      c.lineTo(k + side + shift + 1, -1);
    }
    c.stroke();
  }
  return ctx.createPattern(cell, 'repeat')!;
}

const pictures = new WeakMap<Uint8Array, OffscreenCanvas>();
function pictureOf({ width, height, alpha }: { width: number; height: number; alpha: Uint8Array }): OffscreenCanvas {
  const known = pictures.get(alpha);
  if (known) return known;
  const made = new OffscreenCanvas(width, height);
  const data = new ImageData(width, height);
  for (let i = 0; i < alpha.length; i++) data.data[i * 4 + 3] = alpha[i];
  context2d(made).putImageData(data, 0, 0);
  pictures.set(alpha, made);
  return made;
}
