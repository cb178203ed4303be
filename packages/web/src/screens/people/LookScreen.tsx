import { Button, LinearProgress } from '@mui/material';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import useSWR from 'swr';
import type { Looked } from '@wet-lacquer/sync/people.ts';
import { sentenceOf } from '../../lib/api.ts';
import { useRouteParam } from '../../lib/useRouteParam.ts';
import { sidesOf } from '../../lib/words.ts';
import { Column, Row } from '../../parts/layout.tsx';
import { Nothing } from '../../parts/Notice.tsx';
import { Heading, Quiet } from '../../parts/text.tsx';
import { becomes, useMe } from '../../people/me.ts';
import { TopBar } from '../../shell/TopBar.tsx';
import { Trail } from '../../shell/Trail.tsx';
import { ART, INK } from '../../theme.ts';

/** A livery as pictures that the server draws: for whoever may look, and have nothing of it. It follows what is painted. */
export function LookScreen() {
  const id = useRouteParam('id');
  const { me } = useMe();
  const { data, error, mutate } = useSWR<Looked>(`/looks/${id}`);
  const [gone, setGone] = useState(false);
  useEffect(() => {
    const news = new EventSource(`/api/liveries/${id}/news`);
    news.onmessage = () => void mutate();
    news.addEventListener('gone', () => {
      news.close();
      setGone(true);
    });
    return () => news.close();
  }, [id, mutate]);
  const painter = me?.painter;
  return (
    <Column full>
      <TopBar
        trail={
          painter ? (
            <Trail to="/" of="Liveries">
              {data?.name ?? 'a livery'}
            </Trail>
          ) : (
            (data?.name ?? 'A livery')
          )
        }
        tabs={painter ? undefined : []}
        end={!painter && me?.signIn && <Button onClick={() => void becomes({ ...me, looks: null })}>Sign in</Button>}
      />
      <main
        // By keyboard, what there is to see is scrolled through.
        tabIndex={0}
        style={{ flex: 1, overflow: 'auto', padding: '20px 24px' }}
      >
        {gone || (error && !data) ? (
          <Nothing title={gone ? 'This is no longer shared with you' : 'This cannot be looked at'}>
            <p>{gone ? 'Whoever it belongs to has taken it back.' : sentenceOf(error)}</p>
            {painter && <Link to="/">To the liveries</Link>}
          </Nothing>
        ) : !data ? (
          <LinearProgress aria-label="Opening the livery" />
        ) : (
          <>
            <Heading as="h1" size={18}>
              {data.name}
            </Heading>
            <Quiet as="p">
              {data.template} for {data.game}; shared to look at
            </Quiet>
            <img
              src={`/api/liveries/${id}/picture/${data.revision}`}
              alt={`${data.name} on its model`}
              width={560}
              height={360}
              style={{
                width: 'min(100%, 840px)',
                height: 'auto',
                display: 'block',
                margin: '16px 0',
                background: ART.stage,
              }}
            />
            <Row gap={16} wrap align="flex-start">
              {data.sheets.map((sheet) => (
                <figure key={sheet.key} style={{ margin: 0, width: 'min(100%, 320px)' }}>
                  <img
                    src={`/api/liveries/${id}/sheets/${sheet.key}?at=${data.revision}`}
                    alt={`Sheet ${sheet.name}`}
                    width={sheet.width}
                    height={sheet.height}
                    style={{ width: '100%', height: 'auto', display: 'block', background: INK.deep }}
                  />
                  <figcaption>
                    {sheet.name} <Quiet>{sidesOf(sheet)}</Quiet>
                  </figcaption>
                </figure>
              ))}
            </Row>
          </>
        )}
      </main>
    </Column>
  );
}
