import { ART, CONDENSED } from '../../theme.ts';
import { Cased } from '../flat/Cased.tsx';
import { Over } from '../flat/Over.tsx';
import { toScreen, type View } from '../flat/view.ts';
import { useSession } from '../session.ts';
import { useShownPlates } from './usePlates.ts';

/** On a sheet of plates, the frame of each one's picture. */
export function PlateFrames({ view }: { view: View }) {
  const sheet = useSession((s) => s.sheet);
  const chosen = useSession((s) => s.plate);
  const plates = useShownPlates().filter((one) => one.sheet === sheet);
  if (plates.length === 0) return null;
  return (
    <Over view={view} data-plate-frames={plates.length}>
      {plates.map(({ id, name, left, top, width, height }) => {
        const [a, b] = [toScreen(view, left, top), toScreen(view, left + width, top + height)];
        const path = `M${a.x} ${a.y}H${b.x}V${b.y}H${a.x}Z`;
        return (
          <g key={id}>
            {id === chosen ? (
              <Cased d={path} />
            ) : (
              <>
                <path d={path} fill="none" stroke={ART.casing} strokeWidth={3} strokeOpacity={0.6} />
                <path d={path} fill="none" stroke={ART.light} strokeWidth={1.2} strokeDasharray="2 3" />
              </>
            )}
            {b.x - a.x > 40 && (
              <text
                x={a.x + 4}
                y={a.y - 5}
                fill={ART.light}
                stroke={ART.casing}
                strokeWidth={2.5}
                paintOrder="stroke"
                fontFamily={CONDENSED}
                fontSize={12}
              >
                {name}
              </text>
            )}
          </g>
        );
      })}
    </Over>
  );
}
