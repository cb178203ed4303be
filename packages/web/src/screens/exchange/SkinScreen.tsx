import { Button, LinearProgress } from '@mui/material';
import { Link, useParams } from 'react-router';
import useSWR from 'swr';
import type { ListingAnswer } from '@wet-lacquer/sync/exchange.ts';
import { sentenceOf } from '../../lib/api.ts';
import { Columns } from '../../parts/Columns.tsx';
import { Column } from '../../parts/layout.tsx';
import { Nothing } from '../../parts/Notice.tsx';
import { Hidden } from '../../parts/text.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { Trail } from '../../shell/Trail.tsx';
import { SkinAbout } from './SkinAbout.tsx';
import { SkinLook } from './SkinLook.tsx';

/** One skin that was handed on: seen before it is taken, put into the game and out of it. */
export function SkinScreen() {
  const { id = '' } = useParams();
  const { data, error } = useSWR<ListingAnswer>(`/exchange/${id}`);
  return (
    <Column full>
      <TopBar
        trail={
          <Trail to="/exchange" of="Exchange">
            {data?.name ?? ''}
          </Trail>
        }
      />
      {error && !data && (
        <main>
          <Hidden as="h1">Exchange</Hidden>
          <Nothing title="This skin is not here">
            <p>{sentenceOf(error)}</p>
            <Button component={Link} to="/exchange">
              To the exchange
            </Button>
          </Nothing>
        </main>
      )}
      {!data && !error && <LinearProgress aria-label="Reading the skin" />}
      {data && (
        <Columns sizes={['minmax(0, 1fr)', '380px']} heights={['60vh', 'max-content']}>
          <SkinLook skin={data} />
          <SkinAbout skin={data} />
        </Columns>
      )}
    </Column>
  );
}
