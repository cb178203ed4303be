import { Over } from './Over.tsx';
import { INK, MONO } from '../../theme.ts';
import { useSession } from '../session.ts';
import { toScreen, type View } from './view.ts';

const THICK = 18;
/** Ticks stand at least so far apart, screen pixels. */
const APART = 56;

/** A step of 1, 2 or 5 times a power of ten. */
function stepFor(zoom: number): number {
  const least = APART / zoom;
  const power = 10 ** Math.floor(Math.log10(Math.max(least, 1)));
  return [1, 2, 5, 10].map((n) => n * power).find((step) => step >= least)!;
}

/** Texels along the top and the left, and where the pointer is. Only while the sheet is upright. */
export function Rulers({ view, sheet, top }: { view: View; sheet: string; top: number }) {
  const hover = useSession((s) => (s.hover?.sheet === sheet ? s.hover : null));
  if (view.turn !== 0 || view.mirrored) return null;
  const step = stepFor(view.zoom);
  const ticks = (middle: number, length: number) => {
    const first = Math.ceil((middle - length / 2 / view.zoom) / step);
    const last = Math.floor((middle + length / 2 / view.zoom) / step);
    return Array.from({ length: Math.max(0, last - first + 1) }, (_, k) => (first + k) * step);
  };
  const x = (texel: number) => Math.round(toScreen(view, texel, 0).x) + 0.5;
  const y = (texel: number) => Math.round(toScreen(view, 0, texel).y) + 0.5;
  const text = { fontFamily: MONO, fontSize: 10, fill: INK.quiet } as const;
  return (
    <Over view={view} data-testid="rulers">
      <rect x={0} y={top} width={view.width} height={THICK} fill={INK.panel} fillOpacity={0.92} />
      {ticks(view.x, view.width).map((texel) => (
        <g key={texel}>
          <path d={`M${x(texel)} ${top + THICK}v-6`} stroke={INK.edge} />
          <text {...text} x={x(texel) + 3} y={top + 11}>
            {texel}
          </text>
        </g>
      ))}
      <rect x={0} y={top} width={THICK} height={view.height - top} fill={INK.panel} fillOpacity={0.92} />
      {ticks(view.y, view.height)
        .filter((texel) => y(texel) > top + THICK)
        .map((texel) => (
          <g key={texel}>
            <path d={`M${THICK} ${y(texel)}h-6`} stroke={INK.edge} />
            <text {...text} transform={`translate(10 ${y(texel) - 3}) rotate(-90)`}>
              {texel}
            </text>
          </g>
        ))}
      {hover && (
        <path d={`M${x(hover.x)} ${top + THICK}v-9M${THICK} ${y(hover.y)}h-9`} stroke={INK.accent} strokeWidth={1.5} />
      )}
    </Over>
  );
}
