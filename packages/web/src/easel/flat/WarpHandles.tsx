import { NET, type Warp } from '@wet-lacquer/core/livery/warp.ts';
import type { LayerOf } from '@wet-lacquer/core/livery/layer.ts';
import { pointName, withPoint } from '../inspector/WarpFields.tsx';
import { useEasel } from '../context.ts';
import { useDrag } from './drag.ts';
import { Cased } from './Cased.tsx';
import { inward, outward, type Point } from './placing.ts';
import { ART } from '../../theme.ts';

/** Points that are joined by lines: around the corners, or along the rows and columns of the net. */
function lines({ kind, points }: Warp): number[][] {
  if (kind === 'perspective') return [[0, 1, 2, 3, 0]];
  const side = Array.from({ length: NET }, (_, i) => i);
  const along = side.map((row) => side.map((column) => row * NET + column));
  const down = side.map((column) => side.map((row) => row * NET + column));
  return points.length === NET * NET ? [...along, ...down] : [];
}

/** The points of a warped mark, dragged. */
export function WarpHandles({ layer, at }: { layer: LayerOf<'decal'>; at(p: Point): Point }) {
  const { doc } = useEasel();
  const drag = useDrag(doc, layer);
  const warp = layer.warp!;
  const flip = layer.mirrored ? -1 : 1;
  const place = (k: number) =>
    at(outward(layer, (warp.points[k].x - 0.5) * layer.width * flip, (warp.points[k].y - 0.5) * layer.height));
  const share = (to: Point) => {
    const { along, across } = inward(layer, layer.turn, to);
    return { x: (along / layer.width) * flip + 0.5, y: across / layer.height + 0.5 };
  };
  return (
    <>
      {lines(warp).map((line) => (
        <Cased
          key={line.join()}
          dashed={warp.kind === 'bent'}
          d={`M${line.map((k) => `${place(k).x.toFixed(1)} ${place(k).y.toFixed(1)}`).join('L')}`}
        />
      ))}
      {!layer.locked &&
        warp.points.map((_, k) => {
          const { x, y } = place(k);
          return (
            <circle
              key={pointName(warp, k)}
              data-testid={`warp-${k}`}
              cx={x}
              cy={y}
              r={warp.kind === 'bent' ? 4.5 : 6}
              fill={ART.light}
              stroke={ART.casing}
              strokeWidth={1.5}
              style={{ pointerEvents: 'all', cursor: 'move' }}
              {...drag((to) => ({ warp: withPoint(warp, k, share(to)) }), 'Warp')}
            />
          );
        })}
    </>
  );
}
