import { Button, Dialog, DialogActions, DialogContent, DialogTitle, List, ListItem, ListItemText } from '@mui/material';
import { useState } from 'react';
import useSWR from 'swr';
import type { BinnedLivery } from '@wet-lacquer/sync/answers.ts';
import { send, sentenceOf } from '../../lib/api.ts';
import { dateInWords } from '../../lib/words.ts';
import { Nothing, Notice } from '../../parts/Notice.tsx';

/** Liveries that were thrown away: taken out again, or deleted for ever. */
export function Bin({ onClose, onChange }: { onClose(): void; onChange(): void }) {
  const { data, error, mutate } = useSWR<BinnedLivery[]>('/liveries/bin', { dedupingInterval: 0 });
  const [asking, setAsking] = useState<BinnedLivery | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const act = async (work: () => Promise<unknown>) => {
    try {
      setProblem(null);
      await work();
      await mutate();
      onChange();
    } catch (failure) {
      setProblem(sentenceOf(failure));
    }
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="bin">
      <DialogTitle id="bin">Bin</DialogTitle>
      <DialogContent>
        {(problem ?? error) && <Notice level="error">{problem ?? sentenceOf(error)}</Notice>}
        {data?.length === 0 && <Nothing title="The bin is empty">Liveries that are put into it wait here.</Nothing>}
        <List dense disablePadding>
          {data?.map((one) => (
            <ListItem key={one.id} divider sx={{ gap: 1, px: 0 }}>
              <ListItemText primary={one.name} secondary={one.at && `put in ${dateInWords(one.at)}`} />
              <Button size="small" onClick={() => void act(() => send('POST', `/liveries/${one.id}/restore`))}>
                Take out
              </Button>
              <Button size="small" color="error" onClick={() => setAsking(one)}>
                Delete for ever
              </Button>
            </ListItem>
          ))}
        </List>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
      <Dialog open={asking !== null} onClose={() => setAsking(null)} aria-labelledby="delete-for-ever">
        <DialogTitle id="delete-for-ever">Delete “{asking?.name}” for ever?</DialogTitle>
        <DialogContent>
          Its steps and the record of its deliveries go with it. Files that were delivered stay where they are.
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setAsking(null)}>Keep it</Button>
          <Button
            color="error"
            onClick={() => {
              const { id } = asking!;
              setAsking(null);
              void act(() => send('DELETE', `/liveries/${id}?now=yes`));
            }}
          >
            Delete the livery
          </Button>
        </DialogActions>
      </Dialog>
    </Dialog>
  );
}
