import { LinearProgress } from '@mui/material';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import useSWR from 'swr';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { withPlates } from '@wet-lacquer/core/plates/panel.ts';
import type { BrokenCard, LiveryCard, OpenLivery } from '@wet-lacquer/sync/answers.ts';
import { get, sentenceOf } from '../../lib/api.ts';
import { Column } from '../../parts/layout.tsx';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { hasWebGl } from '../../parts/stageTextures.ts';
import { Hidden } from '../../parts/text.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { Trail } from '../../shell/Trail.tsx';
import { INK } from '../../theme.ts';
import { LinedUp, type Lined } from './LinedUp.tsx';

/** More would be too small to see. */
const MOST = 12;

async function membersOf(ids: readonly string[]): Promise<Lined[]> {
  const cards = await get<(LiveryCard | BrokenCard)[]>('/liveries');
  return Promise.all(
    ids.map(async (id) => {
      const { livery, revision } = await get<OpenLivery>(`/liveries/${id}`);
      const name = cards.find((card) => card.id === id)?.name ?? id;
      const template = await get<Template>(`/templates/${livery.pins.template}`);
      return { id, name, revision, template: withPlates(template, livery) };
    }),
  );
}

/** Several liveries on one turntable, in one light. */
export function LineUpScreen() {
  const [search] = useSearchParams();
  const ids = (search.get('of') ?? '').split(',').filter(Boolean).slice(0, MOST);
  const { data: members, error } = useSWR(ids.length > 0 ? ['line-up', ...ids] : null, () => membersOf(ids), {
    revalidateOnFocus: false,
    shouldRetryOnError: false,
  });
  const [able] = useState(hasWebGl);
  return (
    <Column full>
      <TopBar
        trail={
          <Trail to="/" of="Liveries">
            Line-up
          </Trail>
        }
      />
      <main style={{ flex: 1, minHeight: 0, position: 'relative', background: INK.room }}>
        <Hidden as="h1">Line-up</Hidden>
        {error && <Notice level="error">{sentenceOf(error)}</Notice>}
        {ids.length === 0 && (
          <Nothing title="Nobody is in the line-up">
            <Link to="/" style={{ color: INK.text }}>
              Choose several liveries by their ticks
            </Link>
          </Nothing>
        )}
        {ids.length > 0 && !members && !error && <LinearProgress aria-label="Setting them up" />}
        {members &&
          (able ? (
            <LinedUp members={members} name="line-up">
              <Names members={members} />
            </LinedUp>
          ) : (
            <Nothing title="This browser has no WebGL" />
          ))}
      </main>
    </Column>
  );
}

function Names({ members }: { members: readonly Lined[] }) {
  return (
    <ul
      aria-label="In the line-up"
      style={{ display: 'flex', flexWrap: 'wrap', gap: '2px 16px', margin: '0 0 6px', padding: 0, listStyle: 'none' }}
    >
      {members.map(({ id, name }) => (
        <li key={id}>
          <Link to={`/liveries/${id}`} style={{ color: INK.text }}>
            {name}
          </Link>
        </li>
      ))}
    </ul>
  );
}
