import { Button, LinearProgress, Snackbar } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import useSWR from 'swr';
import type { BrokenCard, LiveryCard } from '@wet-lacquer/sync/answers.ts';
import { Column, Row } from '../../parts/layout.tsx';
import { Heading } from '../../parts/text.tsx';
import { send, sentenceOf } from '../../lib/api.ts';
import { FilePick } from '../../parts/FilePick.tsx';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { useMe } from '../../people/me.ts';
import { TopBar } from '../../shell/TopBar.tsx';
import { INK } from '../../theme.ts';
import { Bin } from './Bin.tsx';
import { BrokenLivery } from './BrokenLivery.tsx';
import { Card } from './Card.tsx';
import { MakeTeam, Teams } from './Teams.tsx';
import { Storage } from './Storage.tsx';
import { useBundle } from './useBundle.ts';
import { DeleteOutline, FileImportOutline, Server } from '../../parts/icons.tsx';

export function LiveriesScreen() {
  const { me } = useMe();
  const { data, error, mutate } = useSWR<(LiveryCard | BrokenCard)[]>('/liveries');
  /** Chosen for a line-up, in this order. */
  const [lined, setLined] = useState<string[]>([]);
  const [inBin, setInBin] = useState(false);
  const [weighing, setWeighing] = useState(false);
  /** The livery that was put into the bin last. */
  const [binned, setBinned] = useState<LiveryCard | BrokenCard | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const { opening, open } = useBundle(setProblem);

  const bin = async (card: LiveryCard | BrokenCard, into: boolean) => {
    try {
      if (into) await send('DELETE', `/liveries/${card.id}`);
      else await send('POST', `/liveries/${card.id}/restore`);
      setBinned(into ? card : null);
      await mutate();
    } catch (failure) {
      setProblem(sentenceOf(failure));
    }
  };

  return (
    <Column full>
      <TopBar trail="Liveries" />
      <main
        style={{ flex: 1, overflow: 'auto', padding: '20px 24px' }}
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          if (event.dataTransfer.files[0]) void open(event.dataTransfer.files[0]);
        }}
      >
        <Row gap={12} below={16} wrap>
          <Heading as="h1" size={18} grow>
            Liveries
          </Heading>
          {lined.length > 0 && (
            <>
              <Button component={Link} to={`/line-up?of=${lined.join(',')}`} disabled={lined.length < 2}>
                {lined.length < 2 ? 'Choose another to line up' : `Line up ${lined.length}`}
              </Button>
              <MakeTeam of={lined} onProblem={setProblem} />
              <Button variant="text" onClick={() => setLined([])} sx={{ color: INK.quiet }}>
                Choose none
              </Button>
            </>
          )}
          {(!me?.signIn || me.painter?.keeper) && (
            <Button variant="text" startIcon={<Server />} onClick={() => setWeighing(true)} sx={{ color: INK.quiet }}>
              Storage
            </Button>
          )}
          <Button variant="text" startIcon={<DeleteOutline />} onClick={() => setInBin(true)} sx={{ color: INK.quiet }}>
            Bin
          </Button>
          <FilePick
            startIcon={<FileImportOutline />}
            label="Livery bundle"
            accept=".livery,.zip"
            onFile={(bundle) => void open(bundle)}
          >
            Open a bundle
          </FilePick>
          <Button variant="contained" color="primary" component={Link} to="/start">
            Start a livery
          </Button>
        </Row>
        {opening && (
          <div role="status" style={{ marginBottom: 12 }}>
            Opening {opening}
            <LinearProgress />
          </div>
        )}
        {problem && <Notice level="error">{problem}</Notice>}
        {error && !data && <Notice level="error">{sentenceOf(error)}</Notice>}
        {!data && !error && <LinearProgress aria-label="Reading the liveries" />}
        {data?.length === 0 && (
          <Nothing title="No livery yet">
            <p>Start one for a subject, or open a bundle that somebody gave you. A bundle can also be dropped here.</p>
          </Nothing>
        )}
        <Teams />
        <ul
          style={{
            display: 'grid',
            gridTemplateColumns: 'repeat(auto-fill, minmax(280px, 1fr))',
            gap: 16,
            padding: 0,
            margin: '16px 0 0',
            listStyle: 'none',
          }}
        >
          {data?.map((card) =>
            'broken' in card ? (
              <BrokenLivery
                key={card.id}
                card={card}
                onBin={() => void bin(card, true)}
                onHealed={() => void mutate()}
              />
            ) : (
              <Card
                key={card.id}
                card={card}
                chosen={lined.includes(card.id)}
                onChoose={() =>
                  setLined(lined.includes(card.id) ? lined.filter((id) => id !== card.id) : [...lined, card.id])
                }
                onBin={() => void bin(card, true)}
              />
            ),
          )}
        </ul>
      </main>
      {weighing && (
        <Storage names={new Map(data?.map(({ id, name }) => [id, name]))} onClose={() => setWeighing(false)} />
      )}
      {inBin && <Bin onClose={() => setInBin(false)} onChange={() => void mutate()} />}
      <Snackbar
        open={binned !== null}
        autoHideDuration={8000}
        onClose={(_, why) => why !== 'clickaway' && setBinned(null)}
        message={`“${binned?.name}” is in the bin.`}
        slotProps={{ content: { sx: { background: INK.raised, color: INK.text, border: `1px solid ${INK.line}` } } }}
        action={
          <Button size="small" onClick={() => void bin(binned!, false)}>
            Take it out
          </Button>
        }
      />
    </Column>
  );
}
