import { useEffect, useRef, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { context2d } from '../../parts/context2d.ts';
import { fitView, toScreen, toTexel, zoomAt, type Look } from '../../easel/flat/view.ts';
import { ART, CONTROL, INK } from '../../theme.ts';
import type { Trial } from '../../workers/proofMessages.ts';
import { CELL, type Cell, type Cells } from './cells.ts';
import { useProof } from './proofState.ts';

const PAN = 60;
const sizeOf = (level: { width: number; height: number } | undefined) =>
  [level?.width ?? 0, level?.height ?? 0] as const;

interface Props {
  name: string;
  head: ReactNode;
  foot?: ReactNode;
  what: Exclude<keyof Cell, 'version'>;
  trial: Trial;
  cells: Cells;
  /** Seen the other way up than it is stored. */
  turned: boolean;
  /** Grows whenever a cell has come. */
  tick: number;
}

/** One of the panes: a level of the sheet at the view that all panes share. */
export function Pane({ name, head, foot, what, trial, cells, turned, tick }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { sheet, level, smooth, view } = useProof(
    useShallow(({ sheet, level, smooth, view }) => ({ sheet, level, smooth, view })),
  );
  // Numbers, not objects: news come often, and most of them change nothing that a pane shows.
  const version = useProof((s) => s.news?.version ?? 0);
  const [width, height] = useProof(useShallow((s) => sizeOf(s.news?.levels[0])));
  const [acrossLevel, downLevel] = useProof(useShallow((s) => sizeOf(s.news?.levels[s.level])));
  useEffect(() => {
    const target = canvas.current;
    if (!target) return;
    const ratio = Math.min(2, devicePixelRatio);
    target.width = Math.round(target.clientWidth * ratio);
    target.height = Math.round(target.clientHeight * ratio);
    const ctx = context2d(target);
    ctx.fillStyle = ART.ground;
    ctx.fillRect(0, 0, target.width, target.height);
    if (acrossLevel === 0 || width === 0 || view.zoom === 0) return;
    const at = { width: acrossLevel, height: downLevel };
    // Level n covers the sheet with texels 2^n as large.
    const [sx, sy] = [width / at.width, height / at.height];
    ctx.imageSmoothingEnabled = what !== 'deltaE' && what !== 'psnr' && (smooth || view.zoom * sx < 1);
    const [a, b] = [toTexel(view, 0, 0), toTexel(view, target.clientWidth, target.clientHeight)];
    const last = (n: number) => Math.ceil(n / CELL) - 1;
    for (
      let cy = Math.max(0, Math.floor(a.y / sy / CELL));
      cy <= Math.min(last(at.height), Math.floor(b.y / sy / CELL));
      cy++
    ) {
      for (
        let cx = Math.max(0, Math.floor(a.x / sx / CELL));
        cx <= Math.min(last(at.width), Math.floor(b.x / sx / CELL));
        cx++
      ) {
        const cell = cells.get(sheet, trial, level, cx, cy, version);
        const from = toScreen(view, cx * CELL * sx, cy * CELL * sy);
        const to = toScreen(view, Math.min(at.width, (cx + 1) * CELL) * sx, Math.min(at.height, (cy + 1) * CELL) * sy);
        const [x, y] = [Math.round(from.x * ratio), Math.round(from.y * ratio)];
        const [w, h] = [Math.round(to.x * ratio) - x, Math.round(to.y * ratio) - y];
        if (cell) ctx.drawImage(cell[what], x, y, w, h);
        else {
          ctx.fillStyle = '#6a6a6a';
          ctx.fillRect(x, y, w, h);
        }
      }
    }
  }, [acrossLevel, cells, downLevel, height, level, sheet, smooth, tick, trial, version, view, what, width]);

  const set = (next: Look) => useProof.setState({ view: next });
  useEffect(() => {
    const target = canvas.current!;
    // Listened to directly: only so can the page be kept from scrolling.
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const { left, top } = target.getBoundingClientRect();
      const down = event.clientY - top;
      const y = turned ? target.clientHeight - down : down;
      set(zoomAt(useProof.getState().view, Math.exp(-event.deltaY * 0.0016), event.clientX - left, y));
    };
    target.addEventListener('wheel', wheel, { passive: false });
    return () => target.removeEventListener('wheel', wheel);
  }, [turned]);
  /** Down on the screen, in rows of the level. */
  const way = turned ? -1 : 1;
  const press = (down: PointerEvent<HTMLCanvasElement>) => {
    down.currentTarget.setPointerCapture(down.pointerId);
    const start = useProof.getState().view;
    const target = down.currentTarget;
    const move = (event: globalThis.PointerEvent) =>
      set({
        ...start,
        x: start.x - (event.clientX - down.clientX) / start.zoom,
        y: start.y - (way * (event.clientY - down.clientY)) / start.zoom,
      });
    const up = () => target.removeEventListener('pointermove', move);
    target.addEventListener('pointermove', move);
    target.addEventListener('pointerup', up, { once: true });
    target.addEventListener('pointercancel', up, { once: true });
  };
  const key = (event: KeyboardEvent) => {
    const by: Record<string, [number, number]> = {
      ArrowLeft: [-PAN, 0],
      ArrowRight: [PAN, 0],
      ArrowUp: [0, -PAN],
      ArrowDown: [0, PAN],
    };
    const step = by[event.key];
    if (step) set({ ...view, x: view.x + step[0] / view.zoom, y: view.y + (way * step[1]) / view.zoom });
    else if (event.key === '+' || event.key === '=') set(zoomAt(view, 1.25, view.width / 2, view.height / 2));
    else if (event.key === '-') set(zoomAt(view, 0.8, view.width / 2, view.height / 2));
    else if (event.key === '0' && width > 0) set(fitView(view, { width, height }));
    else if (event.key === '1') set(zoomAt(view, 1 / view.zoom, view.width / 2, view.height / 2));
    else return;
    event.preventDefault();
  };
  return (
    <section
      aria-label={name}
      style={{
        display: 'flex',
        flexDirection: 'column',
        minWidth: 0,
        minHeight: 0,
        borderRight: `1px solid ${INK.line}`,
      }}
    >
      <div
        style={{
          minHeight: `calc(${CONTROL} + 8px)`,
          flex: 'none',
          display: 'flex',
          alignItems: 'center',
          gap: 6,
          padding: '0 8px',
          background: INK.panel,
          borderBottom: `1px solid ${INK.line}`,
        }}
      >
        {head}
      </div>
      <canvas
        ref={canvas}
        tabIndex={0}
        role="application"
        aria-label={`${name}. Arrow keys move, plus and minus zoom, 0 shows the whole sheet, 1 texels as they are.`}
        onPointerDown={press}
        onKeyDown={key}
        style={{
          flex: 1,
          minHeight: 0,
          width: '100%',
          display: 'block',
          touchAction: 'none',
          cursor: 'grab',
          outlineOffset: -2,
          transform: turned ? 'scaleY(-1)' : undefined,
        }}
      />
      {foot}
    </section>
  );
}
