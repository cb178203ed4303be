import { Button, Dialog, DialogActions, DialogContent, DialogTitle, LinearProgress } from '@mui/material';
import { useState } from 'react';
import useSWR from 'swr';
import type { SubscriptionCard } from '@wet-lacquer/sync/exchange.ts';
import { send, sentenceOf } from '../../lib/api.ts';
import { count, dateInWords } from '../../lib/words.ts';
import { Grow, PlainList, Row, Stack } from '../../parts/layout.tsx';
import { Line } from '../../parts/Line.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Mono, Quiet } from '../../parts/text.tsx';

/** How often it is counted what has come so far. */
const COUNTED_MS = 1000;

/** Servers whose skins are listed here as well. */
export function OthersDialog({ onClose }: { onClose(): void }) {
  const at = '/exchange/subscriptions';
  /** What is under way; it can be left. */
  const [doing, setDoing] = useState<AbortController | null>(null);
  const busy = doing !== null;
  // What has come so far is counted meanwhile.
  const { data, error, mutate } = useSWR<SubscriptionCard[]>(at, {
    dedupingInterval: 0,
    refreshInterval: busy ? COUNTED_MS : 0,
  });
  const [url, setUrl] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const does = async (what: (signal: AbortSignal) => Promise<unknown>) => {
    const stop = new AbortController();
    setDoing(stop);
    setProblem(null);
    try {
      await what(stop.signal);
    } catch (failure) {
      if (!stop.signal.aborted) setProblem(sentenceOf(failure));
    } finally {
      await mutate().catch(() => {});
      setDoing(null);
    }
  };
  const listen = () =>
    does(async (signal) => {
      await send('POST', at, { url: url.trim() }, signal);
      setUrl('');
    });
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="others">
      <DialogTitle id="others">Other servers</DialogTitle>
      <DialogContent>
        <Stack gap={14}>
          <Quiet as="p">
            What they hand on is listed here as well, and looked at as what is handed on here. Servers of this machine
            can be asked; others are named by whoever runs this one.
          </Quiet>
          {(problem ?? error) && <Notice level="error">{problem ?? sentenceOf(error)}</Notice>}
          <Row
            as="form"
            gap={8}
            wrap
            onSubmit={(event) => {
              event.preventDefault();
              void listen();
            }}
          >
            <Line
              label="its address"
              placeholder="http://127.0.0.1:4174"
              value={url}
              disabled={busy}
              onChange={(event) => setUrl(event.target.value)}
              sx={{ flex: '1 1 220px' }}
            />
            <Button type="submit" variant="contained" disabled={busy || url.trim() === ''}>
              Listen to it
            </Button>
          </Row>
          {doing && (
            <Row gap={10}>
              <Grow>
                <LinearProgress aria-label="Asking the other server" />
              </Grow>
              <Button size="small" onClick={() => doing.abort()}>
                Leave it
              </Button>
            </Row>
          )}
          <PlainList gap={10} aria-label="Servers that are listened to">
            {data?.map((one) => (
              <li key={one.id}>
                <Row gap={8} wrap>
                  <Mono>{one.url}</Mono>
                  <Grow />
                  <Button
                    size="small"
                    disabled={busy}
                    aria-label={`Look through ${one.url} now`}
                    onClick={() => void does((signal) => send('POST', `${at}/${one.id}/look`, undefined, signal))}
                  >
                    Look now
                  </Button>
                  <Button
                    size="small"
                    disabled={busy}
                    aria-label={`Stop listening to ${one.url}`}
                    onClick={() => void does(() => send('DELETE', `${at}/${one.id}`))}
                  >
                    Stop listening
                  </Button>
                </Row>
                <Quiet as="div" small>
                  {count(one.skins, 'skin')}
                  {one.lookedAt && `, looked through ${dateInWords(one.lookedAt)}`}
                </Quiet>
                {one.problem && <Notice level="warning">{one.problem}</Notice>}
              </li>
            ))}
          </PlainList>
          {data?.length === 0 && <Quiet as="p">None yet.</Quiet>}
        </Stack>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
