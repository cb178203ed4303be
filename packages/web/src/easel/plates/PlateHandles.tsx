import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { tallOf, type Plate } from '@wet-lacquer/core/livery/plate.ts';
import { fitPlate } from '@wet-lacquer/core/plates/fit.ts';
import { meshOfPlate, standing, type PlateMesh } from '@wet-lacquer/core/plates/panel.ts';
import { angleOf, slidPlate, turnedUp } from '@wet-lacquer/core/plates/place.ts';
import { paintedOf } from '@wet-lacquer/core/projectors/projection.ts';
import { nearestOn } from '@wet-lacquer/core/surface/cutLine.ts';
import { faceNormal } from '@wet-lacquer/core/surface/edges.ts';
import { dot, minus, plus, type Vec } from '@wet-lacquer/core/surface/vectors.ts';
import type { Stage } from '../../parts/stage.ts';
import { useEasel, useTemplate } from '../context.ts';
import { Cased } from '../flat/Cased.tsx';
import { followPress } from '../flat/drag.ts';
import type { Point } from '../flat/placing.ts';
import { Corner, HOLDS, Middle, onCanvas, Said, Turner, useMoved } from '../turntable/handles.tsx';
import { slideOver, slideSays } from '../turntable/snapping.ts';
import { setPlate, type PlateSet } from './acts.ts';
import { useChosenPlate } from './usePlates.ts';

/** Metres by which the arrow keys slide; with Shift ten times as far. */
const STEP = 0.01;
/** How far above its head the handle is that turns it, of its height. */
const ABOVE = 0.28;

/** The chosen plate's handles over the turntable. All that they do can also be typed on the right. */
export function PlateHandles({ stage }: { stage: Stage }) {
  const plate = useChosenPlate();
  return plate && !plate.hidden ? <Held key={plate.id} stage={stage} plate={plate} /> : null;
}

/** Places along the edge of a plate, in order. */
function edgeOf({ columns, rows, positions }: PlateMesh): Vec[] {
  const at = (column: number, row: number): Vec => {
    const k = (row * columns + column) * 3;
    return [positions[k], positions[k + 1], positions[k + 2]];
  };
  return [
    ...Array.from({ length: columns - 1 }, (_, c) => at(c, 0)),
    ...Array.from({ length: rows - 1 }, (_, r) => at(columns - 1, r)),
    ...Array.from({ length: columns - 1 }, (_, c) => at(columns - 1 - c, rows - 1)),
    ...Array.from({ length: rows - 1 }, (_, r) => at(0, rows - 1 - r)),
  ];
}

function Held({ stage, plate }: { stage: Stage; plate: Plate }) {
  const { doc } = useEasel();
  const template = useTemplate();
  const [paper, setPaper] = useState<SVGSVGElement | null>(null);
  const [says, setSays] = useState<string | null>(null);
  useMoved(stage);
  const stands = useMemo(() => standing(plate), [plate]);
  const mesh = useMemo(() => meshOfPlate(stands, template), [stands, template]);
  // What is chosen is turned to the front, once.
  const behind = useRef(true);
  useEffect(() => {
    if (!behind.current) return;
    behind.current = false;
    if (dot(stage.eye(), stands.axes.out) < 0.2) stage.lookFrom(plus(stands.axes.out, [0.25, 0.3, 0]));
  }, [stage, stands]);
  const size = paper?.getBoundingClientRect();
  const screen = (place: Vec): Point | null => (size ? onCanvas(stage, place, size) : null);
  const canvasAt = ({ x, y }: Point) => ({ x: (x / size!.width) * 2 - 1, y: 1 - (y / size!.height) * 2 });
  const edge = edgeOf(mesh).map(screen);
  const outline = edge.every((one) => one !== null)
    ? `M${edge.map((one) => `${one.x.toFixed(1)} ${one.y.toFixed(1)}`).join('L')}Z`
    : null;
  const middle = screen(stands.at);
  const { columns, rows, positions } = mesh;
  const corners = [0, columns - 1, (rows - 1) * columns, rows * columns - 1].map((i) =>
    screen([positions[i * 3], positions[i * 3 + 1], positions[i * 3 + 2]]),
  );
  const above = screen(plus(stands.at, stands.axes.up, tallOf(plate) * (0.5 + ABOVE)));

  const press =
    (
      label: string,
      change: (to: Point, shift: boolean, free: boolean) => PlateSet | null,
      tell: (set: PlateSet) => string,
    ) =>
    (down: PointerEvent<SVGElement>) => {
      if (down.button !== 0 || !paper) return;
      down.stopPropagation();
      down.preventDefault();
      const { left, top } = paper.getBoundingClientRect();
      followPress(
        doc,
        `${label} ${plate.name}`,
        (event) => {
          const set = change({ x: event.clientX - left, y: event.clientY - top }, event.shiftKey, event.altKey);
          if (!set) return null;
          setSays(tell(set));
          return { do: 'set-plate', plate: plate.id, set };
        },
        () => setSays(null),
      );
    };
  const slide = (down: PointerEvent<SVGElement>) => {
    const { left, top } = paper!.getBoundingClientRect();
    const off = { x: (middle?.x ?? 0) - (down.clientX - left), y: (middle?.y ?? 0) - (down.clientY - top) };
    const goes = slideOver(stage, doc.use.getState().livery, template, plate.id);
    let by: string | null = null;
    press(
      'Slide',
      (to, shift, free) => {
        const at = canvasAt({ x: to.x + off.x, y: to.y + off.y });
        const spot = stage.spotAt(at.x, at.y);
        if (!spot?.sheet) return null;
        const { position, normal, held } = goes(spot, free);
        by = held;
        return slidPlate(plate, position, normal, !shift);
      },
      ({ at }) => slideSays(plate.at, at!, by),
    )(down);
  };
  /** A place of the canvas on the plate's own plane: to the right and up from its middle, metres. */
  const onPlate = (to: Point): { x: number; y: number } | null => {
    const at = canvasAt(to);
    const hit = stage.onPlane(at.x, at.y, stands.at, stands.axes.out);
    const from = hit && minus(hit, stands.at);
    return from && { x: dot(from, stands.axes.right), y: dot(from, stands.axes.up) };
  };
  const scale = press(
    'Scale',
    (to) => {
      const p = onPlate(to);
      if (!p) return null;
      const half = Math.hypot(plate.across, tallOf(plate)) / 2;
      const times = Math.hypot(p.x, p.y) / half;
      return { across: Number(Math.min(1000, Math.max(1e-3, plate.across * times)).toFixed(4)) };
    },
    ({ across }) => `${across!.toFixed(3)} m across`,
  );
  const turn = press(
    'Turn',
    (to, shift) => {
      const p = onPlate(to);
      if (!p) return null;
      const by = (Math.atan2(-p.x, p.y) * 180) / Math.PI;
      const to15 = (v: number) => (shift ? Math.round(v / 15) * 15 : Math.round(v * 10) / 10);
      return { up: turnedUp(plate.facing, to15(angleOf(plate) + by)) };
    },
    ({ up }) => `${Math.round(angleOf({ facing: plate.facing, up: up! }))}°`,
  );
  const key = (event: KeyboardEvent) => {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (event.key === 'f') setPlate(doc, plate, fitPlate(plate, template), 'Fit');
    else if (way) {
      const by = event.shiftKey ? STEP * 10 : STEP;
      const to = plus(plus(plate.at, stands.axes.right, way[0] * by), stands.axes.up, way[1] * by);
      const found = nearestOn(template, paintedOf(template, undefined), to);
      const normal = found && faceNormal(template.mesh, found.triangle);
      if (found && normal) setPlate(doc, plate, slidPlate(plate, found.place, normal), 'Slide');
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const wide = corners[0] && corners[3] && Math.hypot(corners[3].x - corners[0].x, corners[3].y - corners[0].y) > 36;
  return (
    <svg
      ref={setPaper}
      data-plate-handles
      style={{
        ...{ position: 'absolute', inset: 0, width: '100%', height: '100%' },
        ...{ pointerEvents: 'none', overflow: 'hidden' },
      }}
    >
      {outline && (
        <>
          <Cased d={outline} />
          <path d={outline} fill="transparent" style={HOLDS} onPointerDown={slide} />
        </>
      )}
      {middle && (
        <Middle
          at={middle}
          called={`${plate.name} on the model: the arrow keys slide it by a centimetre, with Shift by ten; F fits it to the surface`}
          onPress={slide}
          onKey={key}
        />
      )}
      {wide && corners.map((at, i) => at && <Corner key={i} at={at} onPress={scale} />)}
      {above && wide && <Turner at={above} onPress={turn} />}
      {says && middle && <Said at={middle}>{says}</Said>}
    </svg>
  );
}
