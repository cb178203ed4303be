import type { PointerEvent } from 'react';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { pathPoints } from '@wet-lacquer/core/shapes/curve.ts';
import { useEasel } from '../context.ts';
import { Cased } from './Cased.tsx';
import { useDrag } from './drag.ts';
import type { Point } from './placing.ts';
import { texelAt } from './view.ts';
import { ART } from '../../theme.ts';

type Shape = Extract<Layer, { kind: 'shape' }>;
type Paths = Shape['paths'];

/** The points of a shape: dragged, added by a press on the outline, taken out with Alt; the whole shape moves by its middle. */
export function KnotHandles({ layer, at }: { layer: Shape; at(p: Point): Point }) {
  const { doc } = useEasel();
  const place = (p: Point) => at({ x: p.x + layer.x, y: p.y + layer.y });
  const set = (values: Partial<Pick<Shape, 'paths' | 'x' | 'y'>>) => ({
    do: 'set-layer' as const,
    layer: layer.id,
    set: values as never,
  });
  const drag = useDrag(doc, layer);
  const fine = ({ x, y }: Point) => ({ x: Math.round(x * 10) / 10, y: Math.round(y * 10) / 10 });
  const withKnot = (p: number, k: number, to: Point): Paths =>
    layer.paths.map((path, i) =>
      i === p
        ? {
            ...path,
            knots: path.knots.map((knot, j) => (j === k ? { ...knot, x: to.x - layer.x, y: to.y - layer.y } : knot)),
          }
        : path,
    );
  const takeOut = (p: number, k: number) => {
    const path = layer.paths[p];
    if (path.knots.length <= 2) return;
    const paths = layer.paths.with(p, { ...path, knots: path.knots.toSpliced(k, 1) });
    doc.commit(set({ paths }), `Take a point out of ${layer.name}`);
  };
  const insert = (down: PointerEvent<SVGElement>, p: number) => {
    if (down.button !== 0 || layer.locked) return;
    down.stopPropagation();
    const to = texelAt(down.currentTarget.ownerSVGElement!, down);
    const path = layer.paths[p];
    const local = { x: Math.round((to.x - layer.x) * 10) / 10, y: Math.round((to.y - layer.y) * 10) / 10 };
    // Between the two neighbours whose way through the new point is the shortest detour.
    const pairs = path.knots.map((knot, k) => [knot, path.knots[(k + 1) % path.knots.length]] as const);
    const detour = ([a, b]: (typeof pairs)[number]) =>
      Math.hypot(a.x - local.x, a.y - local.y) +
      Math.hypot(b.x - local.x, b.y - local.y) -
      Math.hypot(a.x - b.x, a.y - b.y);
    const usable = path.closed ? pairs : pairs.slice(0, -1);
    const after = usable.reduce((best, pair, k) => (detour(pair) < detour(usable[best]) ? k : best), 0);
    const knots = path.knots.toSpliced(after + 1, 0, { ...local, smooth: path.knots[after].smooth });
    doc.commit(set({ paths: layer.paths.with(p, { ...path, knots }) }), `Add a point to ${layer.name}`);
  };
  const middle = place({ x: 0, y: 0 });
  return (
    <>
      {layer.paths.map((path, p) => {
        const points = pathPoints(path.knots, path.closed);
        const d = `M${Array.from({ length: points.length / 2 }, (_, i) => {
          const { x, y } = place({ x: points[2 * i], y: points[2 * i + 1] });
          return `${x.toFixed(1)} ${y.toFixed(1)}`;
        }).join('L')}${path.closed ? 'Z' : ''}`;
        return (
          <g key={p}>
            <Cased d={d} dashed />
            <path
              d={d}
              fill="none"
              stroke="transparent"
              strokeWidth={12}
              style={{ pointerEvents: 'stroke', cursor: 'copy' }}
              onPointerDown={(down) => insert(down, p)}
            />
            {!layer.locked &&
              path.knots.map((knot, k) => {
                const { x, y } = place(knot);
                const shape = {
                  fill: ART.light,
                  stroke: ART.casing,
                  strokeWidth: 1.5,
                  style: { pointerEvents: 'all' as const, cursor: 'move' },
                  onPointerDown: (down: PointerEvent<SVGElement>) => {
                    if (down.altKey) {
                      down.stopPropagation();
                      takeOut(p, k);
                    } else drag((to) => ({ paths: withKnot(p, k, fine(to)) }), 'Shape').onPointerDown(down);
                  },
                };
                return knot.smooth ? (
                  <circle key={k} cx={x} cy={y} r={6} {...shape} />
                ) : (
                  <rect key={k} x={x - 5} y={y - 5} width={10} height={10} {...shape} />
                );
              })}
          </g>
        );
      })}
      {!layer.locked && (
        <rect
          x={middle.x - 6}
          y={middle.y - 6}
          width={12}
          height={12}
          transform={`rotate(45 ${middle.x} ${middle.y})`}
          fill={ART.light}
          stroke={ART.casing}
          strokeWidth={1.5}
          style={{ pointerEvents: 'all', cursor: 'move' }}
          {...drag(fine, 'Shape')}
        />
      )}
    </>
  );
}
