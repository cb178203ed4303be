import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { dataOf, type Layer } from '@wet-lacquer/core/livery/layer.ts';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import { findLayer } from '@wet-lacquer/core/livery/livery.ts';
import type { Projector } from '@wet-lacquer/core/livery/projector.ts';
import { paintedOf } from '@wet-lacquer/core/projectors/projection.ts';
import { fromPlane, onPlane, slid, stanceOf } from '@wet-lacquer/core/projectors/place.ts';
import { nearestOn } from '@wet-lacquer/core/surface/cutLine.ts';
import { faceNormal } from '@wet-lacquer/core/surface/edges.ts';
import { cross, plus } from '@wet-lacquer/core/surface/vectors.ts';
import type { Stage } from '../../parts/stage.ts';
import { useEasel, useLivery, usePlaced, useTemplate } from '../context.ts';
import { Cased } from '../flat/Cased.tsx';
import { useLetteringWidth } from '../flat/Handles.tsx';
import { followHandle, type Settings } from '../flat/drag.ts';
import { outward, scaled, turned, type Frame, type Point } from '../flat/placing.ts';
import { ART } from '../../theme.ts';
import { useSession } from '../session.ts';
import { Corner, HOLDS, Middle, onCanvas, Said, Turner, useMoved } from './handles.tsx';
import { slideOver, slideSays } from './snapping.ts';
import { useLineDrawing } from './lineDrawing.ts';

/** Pixels above a box at which it is turned. */
const ABOVE = 26;

/** The chosen layer's handles over the turntable, where it lies on the model. All that they do can also be typed on the right. */
export function ModelHandles({ stage }: { stage: Stage }) {
  const livery = useLivery();
  const chosen = useSession((s) => s.chosen);
  const layer = usePlaced((chosen && findLayer(livery, chosen as LayerId)?.layer) || null);
  if (!layer?.on || layer.hidden) return null;
  return <Held key={layer.id} stage={stage} layer={layer} on={layer.on} />;
}

/** The places of a line that is being drawn. */
export function LinePlaces({ stage }: { stage: Stage }) {
  const places = useLineDrawing((s) => s.places);
  useMoved(stage);
  return (
    <svg
      viewBox="-1 -1 2 2"
      preserveAspectRatio="none"
      data-line-places={places.length}
      style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', pointerEvents: 'none' }}
    >
      {places.map((place, i) => {
        const at = stage.seenAt(place);
        return (
          at && (
            <path
              key={i}
              d={`M${at.x} ${-at.y}h0`}
              stroke={i === 0 ? ART.chosen : ART.light}
              strokeWidth={9}
              strokeLinecap="round"
              vectorEffect="non-scaling-stroke"
            />
          )
        );
      })}
    </svg>
  );
}

interface Props {
  stage: Stage;
  layer: Layer;
  on: Projector;
}

/** @param ended told when a handle was let go */
function useHeld(paper: SVGSVGElement | null, layer: Layer, ended: () => void) {
  const { doc } = useEasel();
  return (change: (to: Point, shift: boolean, free: boolean) => Settings | null, label: string) =>
    (down: PointerEvent<SVGElement>) => {
      if (down.button !== 0 || !paper) return;
      down.stopPropagation();
      down.preventDefault();
      const { left, top } = paper.getBoundingClientRect();
      const set = (event: globalThis.PointerEvent) =>
        change({ x: event.clientX - left, y: event.clientY - top }, event.shiftKey, event.altKey);
      followHandle(doc, layer, label, set, ended);
    };
}

function Held({ stage, layer, on }: Props) {
  const { doc } = useEasel();
  const template = useTemplate();
  const [paper, setPaper] = useState<SVGSVGElement | null>(null);
  const [says, setSays] = useState<string | null>(null);
  useMoved(stage);
  const width = useLetteringWidth(layer);
  const stance = useMemo(() => stanceOf(on, template), [on, template]);
  const size = paper?.getBoundingClientRect();
  // What is chosen is turned to the front, once.
  const behind = useRef(true);
  useEffect(() => {
    if (!behind.current) return;
    behind.current = false;
    const at = stage.seenAt(stance.at);
    const spot = at && stage.spotAt(at.x, at.y);
    const off = spot ? Math.hypot(...spot.position.map((v, k) => v - stance.at[k])) : Infinity;
    if (off > stage.radius * 0.03) stage.lookFrom(plus(stance.facing, [0.25, 0.3, 0]));
  }, [stage, stance]);
  const screen = (place: readonly [number, number, number] | null): Point | null =>
    place && size ? onCanvas(stage, place, size) : null;
  const canvasAt = ({ x, y }: Point) => ({ x: (x / size!.width) * 2 - 1, y: 1 - (y / size!.height) * 2 });
  const flat = on.kind === 'flat' || on.kind === 'folded' ? on : null;
  const frame = flat && dataOf(layer).frame(layer, width);
  const corners = frame && flat && CORNERS.map((c) => screen(boxPoint(flat, frame, c.x, c.y)));
  const middle = screen(flat && frame ? onPlane(flat, frame.x, frame.y) : stance.at);

  const press = useHeld(paper, layer, () => setSays(null));
  const slide = (down: PointerEvent<SVGElement>) => {
    // The middle stays as far from the pointer as it was taken.
    const { left, top } = paper!.getBoundingClientRect();
    const off = { x: (middle?.x ?? 0) - (down.clientX - left), y: (middle?.y ?? 0) - (down.clientY - top) };
    const goes = slideOver(stage, doc.use.getState().livery, template, layer.id, on.not);
    const from = 'at' in on ? on.at : null;
    press((to, shift, free) => {
      const at = canvasAt({ x: to.x + off.x, y: to.y + off.y });
      const spot = stage.spotAt(at.x, at.y);
      if (!spot?.sheet) return null;
      const { position, normal, held } = goes(spot, free);
      if (from) setSays(slideSays(from, position, held));
      return { on: shift ? slid(on, position, normal, false) : slid(on, position, normal) };
    }, 'Slide')(down);
  };
  const inPlane = (to: Point): Point | null => {
    if (!flat) return null;
    const at = canvasAt(to);
    const hit = stage.onPlane(at.x, at.y, flat.at, flat.facing);
    return hit && fromPlane(flat, hit);
  };
  const key = (event: KeyboardEvent) => {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (!way || layer.locked) return;
    event.preventDefault();
    event.stopPropagation();
    const by = event.shiftKey ? 0.1 : 0.01;
    const to = plus(plus(stance.at, cross(stance.up, stance.facing), way[0] * by), stance.up, way[1] * by);
    const found = nearestOn(template, paintedOf(template, on.not), to);
    const normal = found && faceNormal(template.mesh, found.triangle);
    if (found && normal)
      doc.commit(
        { do: 'set-layer', layer: layer.id, set: { on: slid(on, found.place, normal) } },
        `Slide ${layer.name}`,
      );
  };
  const above =
    corners?.[0] && corners[1] && middle
      ? { x: (corners[0].x + corners[1].x) / 2, y: Math.min(corners[0].y, corners[1].y) - ABOVE }
      : null;
  // Too small to be held by its corners, it is held by its middle alone.
  const wide = corners?.[0] && corners[2] && Math.hypot(corners[2].x - corners[0].x, corners[2].y - corners[0].y) > 44;
  const outline = corners?.every((c) => c !== null)
    ? `M${corners.map((c) => `${c.x.toFixed(1)} ${c.y.toFixed(1)}`).join('L')}Z`
    : null;
  return (
    <svg
      ref={setPaper}
      data-model-handles={layer.kind}
      style={{
        position: 'absolute',
        inset: 0,
        width: '100%',
        height: '100%',
        pointerEvents: 'none',
        overflow: 'hidden',
      }}
    >
      {outline && (
        <>
          <Cased d={outline} />
          <path d={outline} fill="transparent" style={HOLDS} onPointerDown={layer.locked ? undefined : slide} />
        </>
      )}
      {middle && (
        <Middle
          at={middle}
          called={`${layer.name} on the model: the arrow keys slide it by a centimetre, with Shift by ten`}
          onPress={layer.locked ? undefined : slide}
          onKey={key}
        />
      )}
      {frame && flat && !layer.locked && corners && (
        <>
          {wide &&
            dataOf(layer).sides(layer) !== null &&
            CORNERS.map((c, i) => {
              const at = corners[i];
              return (
                at && (
                  <Corner
                    key={i}
                    at={at}
                    onPress={press((to) => {
                      const p = inPlane(to);
                      return p && scaled(layer, frame, c, p);
                    }, 'Scale')}
                  />
                )
              );
            })}
          {above && (
            <Turner
              at={above}
              onPress={press((to, shift) => {
                const p = inPlane(to);
                return p && turned(layer, frame, p, shift);
              }, 'Turn')}
            />
          )}
        </>
      )}
      {says && middle && <Said at={middle}>{says}</Said>}
    </svg>
  );
}

const CORNERS: readonly Point[] = [
  { x: -1, y: -1 },
  { x: 1, y: -1 },
  { x: 1, y: 1 },
  { x: -1, y: 1 },
];

function boxPoint(on: Projector, frame: Frame, x: number, y: number) {
  const p = outward(frame, (x * frame.width) / 2, (y * frame.height) / 2);
  return onPlane(on, p.x, p.y);
}
