import { useEffect, useState } from 'react';
import type { OutlineCover } from '@wet-lacquer/core/delivery/outlineCover.ts';
import { Quiet } from '../../parts/text.tsx';
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
  if (!cover) return <Quiet as="p">Measuring</Quiet>;
  return (
    <>
      <Quiet as="p">
        {cover.outside === null ? 'No art yet.' : `${percent(cover.outside)} of the art is outside every frame.`}
      </Quiet>
      <Figures
        heads={['safe frame', 'filled', 'art outside']}
        rows={cover.frames.map((one) => ({ ...one, other: one.outside }))}
      />
      <Figures
        heads={['collider', 'filled', 'art beyond']}
        rows={cover.colliders.map((one) => ({ ...one, other: one.beyond }))}
      />
    </>
  );
}

const CELL = { fontFamily: MONO, fontSize: 12, textAlign: 'right' as const, padding: '2px 0 2px 8px' };

/** Outlines of a kind, each with its own figures. */
function Figures({
  heads: [what, ...figures],
  rows,
}: {
  heads: readonly string[];
  rows: readonly { key: string; name: string; covered: number; other: number | null }[];
}) {
  if (rows.length === 0) return null;
  return (
    <table style={{ width: '100%', borderCollapse: 'collapse' }}>
      <thead>
        <tr style={{ color: INK.quiet, fontSize: 12 }}>
          <th style={{ textAlign: 'left', fontWeight: 400 }}>{what}</th>
          {figures.map((head) => (
            <th key={head} style={{ ...CELL, fontFamily: 'inherit', fontWeight: 400 }}>
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(({ key, name, covered, other }) => (
          <tr key={key}>
            <td>{name.replace(/, (collider|frame)$/, '')}</td>
            <td style={CELL}>{percent(covered)}</td>
            <td style={CELL}>{other === null ? '-' : percent(other)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
