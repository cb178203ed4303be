import { useEffect, useState } from 'react';
import { findLayer, layersOf } from '@wet-lacquer/core/livery/livery.ts';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import type { HandleSet } from '@wet-lacquer/core/layers/data.ts';
import { dataOf, type Layer } from '@wet-lacquer/core/livery/layer.ts';
import { Cased } from './Cased.tsx';
import { Over } from './Over.tsx';
import { useEasel, useLivery, usePlaced, useShownParticulars } from '../context.ts';
import { useSession } from '../session.ts';
import { aimed, frameOf, fromLine, moved, outward, scaled, turned, type Frame, type Point } from './placing.ts';
import { useDrag, type Change } from './drag.ts';
import { SNAP_PX, snapWidth } from './snapping.ts';
import { KnotHandles } from './KnotHandles.tsx';
import { WarpHandles } from './WarpHandles.tsx';
import { toScreen, useView } from './view.ts';
import { ART } from '../../theme.ts';

/** Width of the chosen lettering for a size of 1; null until it is known, and for other layers. */
export function useLetteringWidth(layer: Layer | null): number | null {
  const { flat } = useEasel();
  const particulars = useShownParticulars();
  const key =
    layer?.kind === 'lettering'
      ? [layer.id, layer.text, layer.font, layer.spacing, layer.slant, JSON.stringify(particulars)].join('\n')
      : null;
  const [known, setKnown] = useState<{ key: string; width: number | null } | null>(null);
  useEffect(() => {
    if (!key) return;
    let wanted = true;
    // The worker hears of a change a little after the page; a change of text is asked for again when it has.
    const timer = setTimeout(() => {
      flat
        .ask('letteringWidth', { layer: key.split('\n')[0] })
        .then((width) => wanted && setKnown({ key, width }))
        .catch(() => {});
    }, 60);
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [key, flat]);
  return key ? (known?.width ?? null) : null;
}

/** The chosen layer's handles over the sheet. Everything that they do can also be typed on the right. */
export function Handles() {
  const { doc } = useEasel();
  const livery = useLivery();
  const chosen = useSession((s) => s.chosen);
  const sheet = useSession((s) => s.sheet);
  const view = useView();
  const place = chosen ? findLayer(livery, chosen as LayerId) : null;
  const layer = usePlaced(place && place.sheet === sheet ? place.layer : null);
  const width = useLetteringWidth(layer);
  const drag = useDrag(doc, layer);
  if (!layer || layer.hidden || layer.on) return null;

  const at = (p: Point) => toScreen(view, p.x, p.y);
  const frame = frameOf(layer, width);
  const grip = (p: Point, cursor: string, change: Change, label: string, round = false) => {
    const { x, y } = at(p);
    const shape = {
      fill: ART.light,
      stroke: ART.casing,
      strokeWidth: 1.5,
      style: { pointerEvents: 'all' as const, cursor },
      ...drag(change, label),
    };
    return round ? (
      <circle key={label} cx={x} cy={y} r={6} {...shape} />
    ) : (
      <rect key={label} x={x - 5} y={y - 5} width={10} height={10} {...shape} />
    );
  };
  return (
    <Over view={view} data-handles={layer.kind}>
      {frame && (
        <FrameHandles
          layer={layer}
          frame={frame}
          at={at}
          grip={grip}
          zoom={view.zoom}
          others={layersOf(livery, place!.sheet, place!.map)}
        />
      )}
      {dataOf(layer)
        .handles(layer)
        .map((set) => {
          const Set = HANDLES[set];
          return <Set key={set} layer={layer as never} at={at} grip={grip} zoom={view.zoom} />;
        })}
    </Over>
  );
}

interface Parts<L extends Layer> {
  layer: L;
  at(p: Point): Point;
  grip(p: Point, cursor: string, change: Change, label: string, round?: boolean): React.ReactNode;
  zoom: number;
}

const path = (points: readonly Point[], closed = false) =>
  `M${points.map((p) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join('L')}${closed ? 'Z' : ''}`;

const CORNERS = [
  { x: -1, y: -1, label: 'Scale from the top left', cursor: 'nwse-resize' },
  { x: 1, y: -1, label: 'Scale from the top right', cursor: 'nesw-resize' },
  { x: 1, y: 1, label: 'Scale from the bottom right', cursor: 'nwse-resize' },
  { x: -1, y: 1, label: 'Scale from the bottom left', cursor: 'nesw-resize' },
];

function FrameHandles({
  layer,
  frame,
  at,
  grip,
  zoom,
  others,
}: Parts<Layer> & { frame: Frame; others: readonly Layer[] }) {
  /** Scaled from a corner; as wide as another mark when it comes near that. */
  const resized =
    (c: Point): Change =>
    (to, _snap, free) => {
      const set = scaled(layer, frame, c, to);
      const like = free || set.width === undefined ? null : snapWidth(set.width, others, layer, SNAP_PX / zoom);
      if (like === null) return set;
      const from = outward(frame, (-c.x * frame.width) / 2, (-c.y * frame.height) / 2);
      const grown = like / set.width;
      return scaled(layer, frame, c, { x: from.x + (to.x - from.x) * grown, y: from.y + (to.y - from.y) * grown });
    };
  const corner = (c: Point) => outward(frame, (c.x * frame.width) / 2, (c.y * frame.height) / 2);
  const above = outward(frame, 0, -frame.height / 2 - 24 / zoom);
  return (
    <>
      <Cased
        d={path(
          CORNERS.map((c) => at(corner(c))),
          true,
        )}
      />
      <Cased d={path([at(outward(frame, 0, -frame.height / 2)), at(above)])} />
      {!layer.locked && (
        <>
          {dataOf(layer).sides(layer) !== null && CORNERS.map((c) => grip(corner(c), c.cursor, resized(c), c.label))}
          {grip(above, 'grab', (to, snap) => turned(layer, frame, to, snap), 'Turn', true)}
        </>
      )}
    </>
  );
}

function LineHandles({ layer, at, grip, zoom }: Parts<Extract<Layer, { kind: 'stripe' | 'stripe-set' }>>) {
  const line = { x: layer.x, y: layer.y, turn: layer.angle };
  const half = layer.kind === 'stripe' ? layer.width / 2 : (layer.count * (layer.width + layer.gap) - layer.gap) / 2;
  const far = 6000;
  const edge = (side: number) => path([at(outward(line, -far, side * half)), at(outward(line, far, side * half))]);
  const resize: Change = (to) => {
    const across = fromLine(layer, to) * 2;
    return {
      width: Number(
        Math.max(1, layer.kind === 'stripe' ? across : (across + layer.gap) / layer.count - layer.gap).toFixed(1),
      ),
    };
  };
  return (
    <>
      <Cased d={edge(-1)} dashed />
      <Cased d={edge(1)} dashed />
      {!layer.locked && (
        <>
          {grip(layer, 'move', (to) => moved(layer, layer, to), 'Move')}
          {grip(
            outward(line, 90 / zoom, 0),
            'grab',
            (to, snap) => ({ angle: aimed(layer, to, snap).angle }),
            'Turn',
            true,
          )}
          {grip(outward(line, 0, half), 'ns-resize', resize, 'Width')}
        </>
      )}
    </>
  );
}

function FadeHandles({ layer, at, grip }: Parts<Extract<Layer, { kind: 'fade' | 'halftone' }>>) {
  const end = outward({ x: layer.x, y: layer.y, turn: layer.angle }, layer.length, 0);
  return (
    <>
      <Cased d={path([at(layer), at(end)])} />
      {!layer.locked && (
        <>
          {grip(layer, 'move', (to) => moved(layer, layer, to), 'First stop')}
          {grip(end, 'grab', (to, snap) => aimed(layer, to, snap), 'Last stop', true)}
        </>
      )}
    </>
  );
}

/** What each set of handles is on the sheet. */
const HANDLES: Record<HandleSet, (parts: Parts<never>) => React.ReactNode> = {
  line: LineHandles,
  run: FadeHandles,
  knots: KnotHandles,
  net: WarpHandles,
};
