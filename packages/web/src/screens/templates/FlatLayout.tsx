import { memo, useMemo, useRef, useState } from 'react';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { GUIDE_CASING, GUIDE_LINE } from '../../easel/flat/guides.ts';
import { ART, CONDENSED, INK } from '../../theme.ts';
import { axisPath, boxPath, cellsPath, GUIDE_TONES, ringsPath } from '../../parts/guideShapes.ts';
import { cellName } from '@wet-lacquer/core/surface/cells.ts';
import { useLooking } from './useLooking.ts';
import { labelSize, outlineOf, readableNumbers, wireOf } from '../../parts/islandPaths.ts';
import { planeOn, segmentsPath } from '../../parts/planeOn.ts';

/** What is drawn over a sheet. */
export interface Showing {
  locator: boolean;
  wire: boolean;
  art: boolean;
}

/** Whole texels. */
export interface Box {
  left: number;
  top: number;
  width: number;
  height: number;
}

interface Props {
  sheet: TemplateSheet;
  chosen: readonly number[];
  showing: Showing;
  /** A drag over the sheet draws a box. */
  drawing: boolean;
  /** @param add keeps those that are chosen already */
  onChoose(number: number | null, add: boolean): void;
  onDrawn(box: Box): void;
}

/** A sheet with its islands: coloured and numbered, with their wire, over what a new livery begins with. */
export function FlatLayout({ sheet, chosen, showing, drawing, onChoose, onDrawn }: Props) {
  const {
    hash,
    template,
    layout: { islands },
  } = useLooking();
  const root = useRef<SVGSVGElement>(null);
  const [box, setBox] = useState<Box | null>(null);
  const texelOf = (event: { clientX: number; clientY: number }) => {
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(root.current!.getScreenCTM()!.inverse());
    const within = (value: number, side: number) => Math.max(0, Math.min(side, Math.round(value)));
    return { x: within(at.x, sheet.width), y: within(at.y, sheet.height) };
  };
  const press = (down: React.PointerEvent) => {
    if (!drawing) return;
    const from = texelOf(down);
    const boxTo = (event: PointerEvent): Box => {
      const to = texelOf(event);
      const [left, top] = [Math.min(from.x, to.x), Math.min(from.y, to.y)];
      return { left, top, width: Math.max(from.x, to.x) - left, height: Math.max(from.y, to.y) - top };
    };
    const move = (event: PointerEvent) => setBox(boxTo(event));
    const up = (event: PointerEvent) => {
      removeEventListener('pointermove', move);
      removeEventListener('pointerup', up);
      setBox(null);
      const drawn = boxTo(event);
      if (drawn.width > 0 && drawn.height > 0) onDrawn(drawn);
    };
    addEventListener('pointermove', move);
    addEventListener('pointerup', up);
  };
  const mine = useMemo(
    () =>
      islands
        .filter((island) => island.sheet === sheet.key)
        .map((island) => ({ island, path: outlineOf(template, sheet, island) })),
    [islands, sheet, template],
  );
  const wire = useMemo(
    () =>
      wireOf(
        template,
        sheet,
        mine.map(({ island }) => island),
      ),
    [mine, sheet, template],
  );
  const numbered = useMemo(
    () =>
      readableNumbers(
        mine.map(({ island }) => island),
        sheet,
      ),
    [mine, sheet],
  );
  const begins = (template.begin?.[sheet.key] ?? []).length > 0;
  const thin = Math.max(sheet.width, sheet.height) / 1400;
  return (
    <svg
      viewBox={`0 0 ${sheet.width} ${sheet.height}`}
      role="group"
      aria-label={`${template.boards ? 'Cells' : 'Islands'} of ${sheet.name}`}
      ref={root}
      onClick={() => !drawing && onChoose(null, false)}
      onPointerDown={press}
      style={{
        cursor: drawing ? 'crosshair' : undefined,
        touchAction: 'none',
        flex: 1,
        minHeight: 0,
        width: '100%',
        background: ART.ground,
        padding: 12,
        boxSizing: 'border-box',
      }}
    >
      <rect width={sheet.width} height={sheet.height} fill={INK.room} />
      {showing.art && begins && (
        <image href={`/api/templates/${hash}/sheets/${sheet.key}`} width={sheet.width} height={sheet.height} />
      )}
      {mine.map(({ island, path }) => {
        const on = chosen.includes(island.number);
        const dim = chosen.length > 0 && !on;
        return (
          <g
            key={island.number}
            role="button"
            tabIndex={0}
            aria-label={`${island.cell ? 'Cell' : 'Island'} ${island.number}`}
            aria-pressed={on}
            onClick={(event) => {
              event.stopPropagation();
              if (!drawing) onChoose(island.number, event.shiftKey || event.ctrlKey);
            }}
            onKeyDown={(event) => {
              if (event.key === 'Enter' || event.key === ' ') onChoose(island.number, event.shiftKey);
            }}
            style={{ cursor: drawing ? 'crosshair' : 'pointer', outlineColor: ART.chosen }}
          >
            <title>{`${island.cell ? cellName(sheet, island.cell) : 'Island'} ${island.number}`}</title>
            <path
              d={path}
              fill={showing.locator ? island.colour : '#000'}
              fillOpacity={showing.locator ? (dim ? 0.2 : begins && showing.art ? 0.7 : 1) : 0}
              pointerEvents="all"
            />
            {on && <path d={path} fill="none" stroke={ART.chosen} strokeWidth={thin * 3} />}
          </g>
        );
      })}
      {showing.wire && <Wire d={wire} thin={thin} />}
      {showing.locator &&
        mine
          .filter(({ island }) => numbered.has(island.number) || chosen.includes(island.number))
          .map(({ island }) => (
            <text
              key={island.number}
              x={island.label.x}
              y={island.label.y}
              fontSize={labelSize(island, sheet)}
              fill={island.ink}
              stroke={island.ink === '#000000' ? '#fff' : '#000'}
              strokeWidth={thin * 3}
              paintOrder="stroke"
              textAnchor="middle"
              dominantBaseline="central"
              fontFamily={CONDENSED}
              fontWeight={600}
              pointerEvents="none"
              opacity={chosen.length > 0 && !chosen.includes(island.number) ? 0.35 : 1}
            >
              {island.number}
            </text>
          ))}
      <Settled sheet={sheet} thin={thin} />
      {!drawing && <Outlines sheet={sheet} thin={thin} />}
      {box && (
        <rect
          x={box.left}
          y={box.top}
          width={box.width}
          height={box.height}
          fill={ART.chosen}
          fillOpacity={0.25}
          stroke={GUIDE_LINE}
          strokeWidth={thin}
        />
      )}
    </svg>
  );
}

/** The edges of all triangles of a sheet; drawn once, whatever is chosen. */
const Wire = memo(function Wire({ d, thin }: { d: string; thin: number }) {
  return (
    <g fill="none" pointerEvents="none">
      <path d={d} stroke={GUIDE_CASING} strokeWidth={thin * 1.8} />
      <path d={d} stroke={GUIDE_LINE} strokeWidth={thin * 0.6} />
    </g>
  );
});

/** What the template says beside its islands: cells, boxes, frames, colliders and the axis. */
function Settled({ sheet, thin }: { sheet: TemplateSheet; thin: number }) {
  const { template } = useLooking();
  const { cells, axis } = sheet;
  const lines: { key: string; d: string; tone: string }[] = [];
  const { trace } = planeOn(template, sheet.key);
  if (trace.length > 0) lines.push({ key: 'plane', d: segmentsPath(trace), tone: GUIDE_TONES.axis });
  if (cells) lines.push({ key: 'cells', d: cellsPath(sheet, cells), tone: GUIDE_TONES.cells });
  if (axis) lines.push({ key: 'axis', d: axisPath(sheet, axis), tone: GUIDE_TONES.axis });
  for (const box of sheet.boxes ?? []) lines.push({ key: `box ${box.key}`, d: boxPath(box), tone: GUIDE_TONES.boxes });
  return lines.map(({ key, d, tone }) => (
    <g key={key} fill="none" pointerEvents="none">
      <path d={d} stroke={GUIDE_CASING} strokeWidth={thin * 4} />
      <path d={d} stroke={tone} strokeWidth={thin * 2} />
    </g>
  ));
}

/** Frames and colliders; a press on one opens its fields. */
function Outlines({ sheet, thin }: { sheet: TemplateSheet; thin: number }) {
  const { template, outlined, showOutline } = useLooking();
  return (template.outlines ?? [])
    .filter((one) => one.sheet === sheet.key)
    .map(({ key, name, role, rings }) => {
      const d = ringsPath(rings);
      return (
        <g
          key={key}
          role="button"
          tabIndex={0}
          aria-label={`${name}, ${role === 'frame' ? 'safe frame' : 'collider'}`}
          fill="none"
          style={{ cursor: 'pointer', outlineColor: ART.chosen }}
          onClick={(event) => {
            event.stopPropagation();
            showOutline(key);
          }}
          onKeyDown={(event) => {
            if (event.key === 'Enter' || event.key === ' ') showOutline(key);
          }}
        >
          <title>{name}</title>
          <path d={d} stroke={GUIDE_CASING} strokeWidth={thin * 4} />
          <path d={d} stroke={outlined === key ? ART.chosen : GUIDE_TONES[role]} strokeWidth={thin * 2} />
          <path d={d} stroke="transparent" strokeWidth={thin * 14} pointerEvents="stroke" />
        </g>
      );
    });
}
