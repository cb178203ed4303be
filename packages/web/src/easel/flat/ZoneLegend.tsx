import useSWR from 'swr';
import { finishesOf, shownAs } from '@wet-lacquer/core/livery/finish.ts';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { Mono } from '../../parts/text.tsx';
import { INK } from '../../theme.ts';
import { useEasel, useLivery } from '../context.ts';
import { FinishChip } from '../FinishChip.tsx';
import { SHOWS } from '../shows.ts';
import { useSession } from '../session.ts';

const NAMES = Object.fromEntries(SHOWS.map(({ key, says }) => [key, says]));

/** What the view of finishes shows: each by name, with its share of the sheet. Of other values, what light and dark mean. */
export function ZoneLegend({ sheet }: { sheet: TemplateSheet }) {
  const shows = useSession((s) => s.shows);
  if (shows === 'paint') return null;
  return (
    <section
      aria-label="What is shown"
      style={{
        position: 'absolute',
        right: 8,
        top: 40,
        maxWidth: 220,
        padding: '6px 10px',
        background: INK.panel,
        border: `1px solid ${INK.edge}`,
        borderRadius: 2,
        fontSize: 12,
      }}
    >
      {shows === 'zones' ? <Shares sheet={sheet} /> : <p style={{ margin: 0 }}>{NAMES[shows]}</p>}
    </section>
  );
}

function Shares({ sheet }: { sheet: TemplateSheet }) {
  const { flat } = useEasel();
  const livery = useLivery();
  const { data: shares } = useSWR(
    ['zone shares', sheet.key, livery],
    () => flat.ask('livery', { livery, hot: null }).then(() => flat.ask('zoneShares', { sheet: sheet.key })),
    { keepPreviousData: true, revalidateOnFocus: false },
  );
  const rows = finishesOf(livery)
    .map((finish) => ({ finish, share: shares?.[shownAs(livery, finish.id)] ?? 0 }))
    .filter(({ share }) => share > 0)
    .sort((a, b) => b.share - a.share);
  return (
    <ul aria-label={`Finishes of ${sheet.name}`} style={{ margin: 0, padding: 0, listStyle: 'none' }}>
      {rows.map(({ finish, share }) => (
        <li key={finish.id} style={{ display: 'flex', alignItems: 'center', gap: 8, minHeight: 20 }}>
          <FinishChip livery={livery} finish={finish} />
          <span style={{ flex: 1 }}>{finish.name}</span>
          <Mono small>{share < 0.01 ? '<1' : Math.round(share * 100)} %</Mono>
        </li>
      ))}
    </ul>
  );
}
