import { useEffect, useState } from 'react';
import type { OutlineCover } from '@wet-lacquer/core/delivery/outlineCover.ts';
import { INK, MONO } from '../../theme.ts';
import { useEasel, useLivery } from '../context.ts';

const AFTER_MS = 500;
const percent = (share: number) => `${(share * 100).toFixed(share > 0 && share < 0.1 ? 1 : 0)} %`;

/** How far the art keeps to the sheet's frames and fills its colliders, measured a moment after each change. */
export function OutlineList({ sheet }: { sheet: string }) {
  const { model } = useEasel();
  const livery = useLivery();
  const [cover, setCover] = useState<OutlineCover | null>(null);
  useEffect(() => {
    let wanted = true;
    const timer = setTimeout(() => {
      model.ask('outlines', { sheet }).then(
        (answer) => wanted && setCover(answer),
        () => {},
      );
    }, AFTER_MS);
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [livery, sheet, model]);
  if (!cover) return <p style={{ margin: 0, color: INK.quiet }}>Measuring</p>;
  const cell = { fontFamily: MONO, fontSize: 12, textAlign: 'right' as const, padding: '2px 0 2px 8px' };
  return (
    <>
      <p style={{ margin: 0, color: INK.quiet }}>
        {cover.outside === null ? 'No art yet.' : `${percent(cover.outside)} of the art is outside every frame.`}
      </p>
      {cover.colliders.length > 0 && (
        <table style={{ width: '100%', borderCollapse: 'collapse' }}>
          <thead>
            <tr style={{ color: INK.quiet, fontSize: 12 }}>
              <th style={{ textAlign: 'left', fontWeight: 400 }}>collider</th>
              <th style={{ ...cell, fontFamily: 'inherit', fontWeight: 400 }}>filled</th>
              <th style={{ ...cell, fontFamily: 'inherit', fontWeight: 400 }}>art beyond</th>
            </tr>
          </thead>
          <tbody>
            {cover.colliders.map(({ key, name, covered, beyond }) => (
              <tr key={key}>
                <td>{name.replace(/, collider$/, '')}</td>
                <td style={cell}>{percent(covered)}</td>
                <td style={cell}>{beyond === null ? '-' : percent(beyond)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
