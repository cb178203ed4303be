import { LinearProgress } from '@mui/material';
import { Link } from 'react-router';
import useSWR from 'swr';
import { BAY_GAMES } from '@wet-lacquer/core/games/index.ts';
import type { GameShown } from '@wet-lacquer/sync/answers.ts';
import { sentenceOf } from '../../lib/api.ts';
import { count } from '../../lib/words.ts';
import { Column } from '../../parts/layout.tsx';
import { Heading, Quiet } from '../../parts/text.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { INK } from '../../theme.ts';
import { BAY_GROUND } from './BayModel.tsx';

/** The games look at their folders this often. */
const RELOAD_MS = 4000;

/** All stand-in games beside one another, each with what its players see. */
export function BayRowScreen() {
  return (
    <Column full>
      <TopBar trail="Test bay" />
      <main style={{ flex: 1, overflow: 'auto', padding: '20px 24px' }}>
        <Heading as="h1" size={18}>
          Test bay
        </Heading>
        <div style={{ margin: '6px 0 16px' }}>
          <Quiet as="p">
            Stand-in games. Each sees its own folder alone, and shows what its loader made of what was delivered.
          </Quiet>
        </div>
        <ul
          aria-label="Games"
          style={{
            display: 'grid',
            gridTemplateColumns: 'repeat(auto-fill, minmax(260px, 1fr))',
            gap: 16,
            padding: 0,
            margin: 0,
            listStyle: 'none',
          }}
        >
          {BAY_GAMES.map(({ key, name }) => (
            <GameCard key={key} game={key} name={name} />
          ))}
        </ul>
      </main>
    </Column>
  );
}

function GameCard({ game, name }: { game: string; name: string }) {
  const { data, error } = useSWR<GameShown>(`/bay/${game}/shown`, { refreshInterval: RELOAD_MS });
  const others = (data?.liveries.length ?? 0) - 1;
  return (
    <li style={{ background: INK.panel, border: `1px solid ${INK.line}`, borderRadius: 2 }}>
      <Link to={`/bay/${game}`} style={{ color: 'inherit', textDecoration: 'none', display: 'block' }}>
        <div style={{ aspectRatio: '560 / 360', background: BAY_GROUND, position: 'relative' }}>
          {data && (
            <img
              src={`/api/bay/${game}/picture?at=${data.picture}`}
              alt=""
              style={{ width: '100%', height: '100%', display: 'block', objectFit: 'cover' }}
            />
          )}
          {!data && !error && <LinearProgress aria-label={`${name} is loading`} />}
        </div>
        <div style={{ padding: '10px 12px' }}>
          <div style={{ fontWeight: 600, fontSize: 14 }}>{name}</div>
          <Quiet as="div">
            {error && !data
              ? sentenceOf(error)
              : !data
                ? 'loading …'
                : data.livery === null
                  ? 'as the game ships it: nothing delivered yet'
                  : `${data.title ?? data.livery}${others > 0 ? `, and ${count(others, 'other')}` : ''}`}
          </Quiet>
        </div>
      </Link>
    </li>
  );
}
