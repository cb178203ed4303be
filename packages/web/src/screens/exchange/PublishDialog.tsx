import { Button, Dialog, DialogActions, DialogContent, DialogTitle, LinearProgress } from '@mui/material';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { mutate } from 'swr';
import type { DeliveryCard } from '@wet-lacquer/sync/answers.ts';
import type { Published } from '@wet-lacquer/sync/exchange.ts';
import { send, sentenceOf } from '../../lib/api.ts';
import { Stack } from '../../parts/layout.tsx';
import { Line } from '../../parts/Line.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Quiet } from '../../parts/text.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { useMe } from '../../people/me.ts';

/** What somebody said of themselves last time. */
const SAID = 'wet-lacquer/handed-on';
interface SaidBefore {
  by: string;
  crew: string;
  terms: string;
}
const BEGIN: SaidBefore = { by: '', crew: '', terms: 'Free to use in the game, with my name beside it.' };

function saidBefore(): SaidBefore {
  try {
    return { ...BEGIN, ...(JSON.parse(localStorage.getItem(SAID) ?? '{}') as Partial<SaidBefore>) };
  } catch {
    return BEGIN;
  }
}

/** Hands a delivery on: who made it, what others may do with it. */
export function PublishDialog({ delivery, onClose }: { delivery: Pick<DeliveryCard, 'id'>; onClose(): void }) {
  const navigate = useNavigate();
  const { me } = useMe();
  const [said, setSaid] = useState(saidBefore);
  const [about, setAbout] = useState('');
  const [news, setNews] = useState('');
  const [adapt, setAdapt] = useState(false);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const name = me?.painter?.name;
  const by = name ?? said.by;
  const publish = async () => {
    setBusy(true);
    setProblem(null);
    localStorage.setItem(SAID, JSON.stringify(said));
    try {
      const made = await send<Published>('POST', '/exchange', {
        delivery: delivery.id,
        ...said,
        by,
        about,
        news,
        adapt,
      });
      await mutate((key) => typeof key === 'string' && key.startsWith('/exchange'));
      await navigate(`/exchange/${made.id}`);
    } catch (error) {
      setProblem(sentenceOf(error));
      setBusy(false);
    }
  };
  const ready = by.trim() !== '' && said.terms.trim() !== '';
  return (
    <Dialog open onClose={busy ? undefined : onClose} fullWidth maxWidth="sm" aria-labelledby="hand-on">
      <DialogTitle id="hand-on">Hand it on</DialogTitle>
      <DialogContent>
        <form
          id="hand-on-form"
          onSubmit={(event) => {
            event.preventDefault();
            if (ready) void publish();
          }}
        >
          <Stack gap={14}>
            <Quiet as="p">
              The files as they were delivered, with pictures of the model, go into the exchange. They are looked at as
              the game would first. Handed on again, it is the next version of the same skin.
            </Quiet>
            {problem && <Notice level="error">{problem}</Notice>}
            <Line
              label="made by"
              value={by}
              disabled={busy || name !== undefined}
              required
              slotProps={{ htmlInput: { maxLength: 60 } }}
              onChange={(event) => setSaid({ ...said, by: event.target.value })}
            />
            <Line
              label="crew"
              value={said.crew}
              disabled={busy}
              slotProps={{ htmlInput: { maxLength: 60 } }}
              onChange={(event) => setSaid({ ...said, crew: event.target.value })}
            />
            <Line
              label="about it"
              value={about}
              disabled={busy}
              multiline
              minRows={2}
              slotProps={{ htmlInput: { maxLength: 4000 } }}
              onChange={(event) => setAbout(event.target.value)}
            />
            <Line
              label="what is new in it"
              value={news}
              disabled={busy}
              slotProps={{ htmlInput: { maxLength: 400 } }}
              onChange={(event) => setNews(event.target.value)}
            />
            <Line
              label="what others may do with it"
              value={said.terms}
              disabled={busy}
              required
              slotProps={{ htmlInput: { maxLength: 400 } }}
              onChange={(event) => setSaid({ ...said, terms: event.target.value })}
            />
            <Tick
              label="Others may go on from it: the livery itself goes along, without the game’s own files"
              checked={adapt}
              disabled={busy}
              onChange={setAdapt}
            />
            {busy && <LinearProgress aria-label="It is looked at as the game would" />}
          </Stack>
        </form>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} disabled={busy}>
          Not now
        </Button>
        <Button type="submit" form="hand-on-form" variant="contained" disabled={!ready || busy}>
          Put it into the exchange
        </Button>
      </DialogActions>
    </Dialog>
  );
}
