import { Button, LinearProgress } from '@mui/material';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import useSWR from 'swr';
import type { ListingPage } from '@wet-lacquer/sync/exchange.ts';
import { sentenceOf } from '../../lib/api.ts';
import { Choice } from '../../parts/Choice.tsx';
import { ColourInput } from '../../parts/ColourInput.tsx';
import { Column, Row } from '../../parts/layout.tsx';
import { Line } from '../../parts/Line.tsx';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { Heading, Quiet } from '../../parts/text.tsx';
import { useMe } from '../../people/me.ts';
import { TopBar } from '../../shell/TopBar.tsx';
import { OthersDialog } from './OthersDialog.tsx';
import { SkinCard } from './SkinCard.tsx';

const ANY = '';
const WANTED = ['words', 'game', 'subject', 'crew', 'colour', 'from'] as const;
const STEP = 24;

/** Skins that were handed on, here and on other servers. */
export function ExchangeScreen() {
  const [search, setSearch] = useSearchParams();
  const [others, setOthers] = useState(false);
  const { me } = useMe();
  const asked = new URLSearchParams(
    WANTED.flatMap((key) => {
      const value = search.get(key);
      return value ? [[key, value]] : [];
    }),
  );
  const { data, error, mutate } = useSWR<ListingPage>(`/exchange?${asked.toString()}`, { keepPreviousData: true });
  const value = (key: (typeof WANTED)[number]) => search.get(key) ?? '';
  const want = (key: (typeof WANTED)[number], next: string) => {
    const now = new URLSearchParams(search);
    if (next) now.set(key, next);
    else now.delete(key);
    if (key !== 'from') now.delete('from');
    setSearch(now, { replace: true });
  };
  const narrowed = asked.size > 0;
  const from = Number(value('from'));
  const keeps = !me?.signIn || me.painter?.keeper;
  return (
    <Column full>
      <TopBar trail="Exchange" />
      <main style={{ flex: 1, overflow: 'auto', padding: '20px 24px' }}>
        <Row gap={12} wrap below={12}>
          <Heading as="h1" size={18} grow>
            Exchange
          </Heading>
          {keeps && <Button onClick={() => setOthers(true)}>Other servers …</Button>}
        </Row>
        <Row
          gap={10}
          wrap
          below={16}
          as="form"
          aria-label="What is looked for"
          onSubmit={(event) => event.preventDefault()}
        >
          <Line
            label="words"
            value={value('words')}
            onChange={(event) => want('words', event.target.value)}
            sx={{ flex: '1 1 200px' }}
          />
          <Choice
            label="game"
            value={value('game')}
            options={[
              { value: ANY, label: 'any' },
              ...(data?.games ?? []).map((one) => ({ value: one.key, label: one.name })),
            ]}
            onChange={(next) => want('game', next)}
          />
          <Choice
            label="subject"
            value={value('subject')}
            options={[
              { value: ANY, label: 'any' },
              ...(data?.subjects ?? []).map((one) => ({ value: one, label: one })),
            ]}
            onChange={(next) => want('subject', next)}
          />
          <Choice
            label="crew"
            value={value('crew')}
            options={[{ value: ANY, label: 'any' }, ...(data?.crews ?? []).map((one) => ({ value: one, label: one }))]}
            onChange={(next) => want('crew', next)}
          />
          <Row gap={6}>
            <Quiet>colour</Quiet>
            <ColourInput
              label="a colour that is in it"
              value={value('colour') || '#808080'}
              onCommit={(next) => want('colour', next)}
            />
          </Row>
          {narrowed && <Button onClick={() => setSearch({}, { replace: true })}>Show all</Button>}
        </Row>
        {error && !data && <Notice level="error">{sentenceOf(error)}</Notice>}
        {!data && !error && <LinearProgress aria-label="Reading the exchange" />}
        {data?.cards.length === 0 &&
          (narrowed ? (
            <Nothing title="Nothing here is like that">
              <p>Fewer words, or another colour, find more.</p>
            </Nothing>
          ) : (
            <Nothing title="Nothing has been handed on yet">
              <p>
                Deliver a livery, then “Hand it on” beside what was delivered. Skins of another server come in by its
                address, under “Other servers”.
              </p>
              <Button component={Link} to="/">
                To the liveries
              </Button>
            </Nothing>
          ))}
        {data && data.cards.length > 0 && (
          <ul
            aria-label="Skins"
            style={{
              display: 'grid',
              gridTemplateColumns: 'repeat(auto-fill, minmax(250px, 1fr))',
              gap: 16,
              padding: 0,
              margin: 0,
              listStyle: 'none',
            }}
          >
            {data.cards.map((card) => (
              <SkinCard key={card.id} card={card} />
            ))}
          </ul>
        )}
        {data && (from > 0 || data.more > 0) && (
          <Row gap={12} above={16}>
            <Button disabled={from === 0} onClick={() => want('from', from > STEP ? String(from - STEP) : '')}>
              Newer
            </Button>
            <Button disabled={data.more === 0} onClick={() => want('from', String(from + STEP))}>
              Older
            </Button>
          </Row>
        )}
      </main>
      {others && (
        <OthersDialog
          onClose={() => {
            setOthers(false);
            void mutate();
          }}
        />
      )}
    </Column>
  );
}
