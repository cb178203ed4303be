import FolderOpen from '@mui/icons-material/FileOpenOutlined';
import { Button, LinearProgress } from '@mui/material';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import useSWR from 'swr';
import { send, sendFile, sentenceOf } from '../../lib/api.ts';
import type { LiveryCard } from '../../lib/types.ts';
import { FilePick } from '../../parts/FilePick.tsx';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { Card } from './Card.tsx';
import { NewLivery } from './NewLivery.tsx';

export function LiveriesScreen() {
  const { data, error, mutate } = useSWR<LiveryCard[]>('/liveries');
  const [starting, setStarting] = useState(false);
  const [opening, setOpening] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const navigate = useNavigate();

  const open = async (chosen: File) => {
    setOpening(chosen.name);
    setProblem(null);
    try {
      const { id } = await sendFile<{ id: string }>('/liveries/open', chosen);
      await navigate(`/liveries/${id}`);
    } catch (failure) {
      setProblem(`${chosen.name}: ${sentenceOf(failure)}`);
    } finally {
      setOpening(null);
    }
  };
  const remove = async (card: LiveryCard) => {
    try {
      await send('DELETE', `/liveries/${card.id}`);
      await mutate();
    } catch (failure) {
      setProblem(sentenceOf(failure));
    }
  };

  return (
    <div style={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
      <TopBar trail="Liveries" />
      <main
        style={{ flex: 1, overflow: 'auto', padding: '20px 24px' }}
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          if (event.dataTransfer.files[0]) void open(event.dataTransfer.files[0]);
        }}
      >
        <div style={{ display: 'flex', alignItems: 'center', gap: 12, marginBottom: 16 }}>
          <h1 style={{ fontSize: 18, margin: 0, flex: 1 }}>Liveries</h1>
          <FilePick
            startIcon={<FolderOpen />}
            label="Livery bundle"
            accept=".livery,.zip"
            onFile={(bundle) => void open(bundle)}
          >
            Open a bundle
          </FilePick>
          <Button variant="contained" color="primary" onClick={() => setStarting(true)}>
            Start a livery
          </Button>
        </div>
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
          {data?.map((card) => (
            <Card key={card.id} card={card} onDelete={() => void remove(card)} />
          ))}
        </ul>
      </main>
      {starting && <NewLivery onClose={() => setStarting(false)} />}
    </div>
  );
}
