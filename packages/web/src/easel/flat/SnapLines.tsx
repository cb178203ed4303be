import { Over } from './Over.tsx';
import { INK, MONO } from '../../theme.ts';
import { Cased } from './Cased.tsx';
import { useSnapped } from './snapping.ts';
import { toScreen, type View } from './view.ts';

const n = (value: number) => (Math.round(value * 10) / 10).toString();

/** The lines that hold what is dragged, and how far it has gone. */
export function SnapLines({ view }: { view: View }) {
  const { lines, way } = useSnapped();
  if (!way) return null;
  const [dx, dy] = [way.to.x - way.from.x, way.to.y - way.from.y];
  const end = toScreen(view, way.to.x, way.to.y);
  // Beside the pointer, where there is room.
  const left = end.x > view.width - 270;
  return (
    <>
      <Over view={view}>
        {lines.map((line) => {
          const at = toScreen(view, line.at, line.at);
          const path = line.axis === 'x' ? `M${at.x} 0V${view.height}` : `M0 ${at.y}H${view.width}`;
          return <Cased key={`${line.axis} ${line.at}`} d={path} dashed />;
        })}
      </Over>
      <div
        data-testid="drag-numbers"
        style={{
          position: 'absolute',
          left: left ? undefined : end.x + 16,
          right: left ? view.width - end.x + 16 : undefined,
          top: Math.min(end.y + 16, view.height - 60),
          // Readable however the paper lies.
          transform: `scaleX(${view.mirrored ? -1 : 1}) rotate(${-view.turn}deg)`,
          padding: '2px 7px',
          background: INK.panel,
          border: `1px solid ${INK.edge}`,
          borderRadius: 2,
          fontFamily: MONO,
          fontSize: 12,
          whiteSpace: 'nowrap',
          pointerEvents: 'none',
        }}
      >
        {n(dx)}, {n(dy)} = {n(Math.hypot(dx, dy))} px at {n((Math.atan2(dy, dx) * 180) / Math.PI)}°
        {lines.length > 0 && (
          <div style={{ color: INK.quiet, fontFamily: 'Barlow, sans-serif', whiteSpace: 'normal', maxWidth: 230 }}>
            {lines.map(({ name }) => name).join(' and ')}
          </div>
        )}
      </div>
    </>
  );
}
