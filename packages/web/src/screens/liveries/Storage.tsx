import { Button, Dialog, DialogActions, DialogContent, DialogTitle, LinearProgress } from '@mui/material';
import useSWR from 'swr';
import type { Stored } from '@wet-lacquer/sync/answers.ts';
import { sentenceOf } from '../../lib/api.ts';
import { size } from '../../lib/words.ts';
import { Notice } from '../../parts/Notice.tsx';
import { INK } from '../../theme.ts';

/** What each livery takes by itself, and what would be free without it. */
export function Storage({ names, onClose }: { names: ReadonlyMap<string, string>; onClose(): void }) {
  const { data, error } = useSWR<Stored>('/storage', { dedupingInterval: 0 });
  const all = (one: Stored['liveries'][number]) => one.steps + one.pictures + one.delivered;
  const cell = { textAlign: 'right', padding: '5px 0 5px 14px', fontVariantNumeric: 'tabular-nums' } as const;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="storage">
      <DialogTitle id="storage">Storage</DialogTitle>
      <DialogContent>
        {error && <Notice level="error">{sentenceOf(error)}</Notice>}
        {!data && !error && <LinearProgress aria-label="Adding up what is stored" />}
        {data && (
          <>
            <p style={{ marginTop: 0 }}>
              {size(data.total)} of pictures, strokes and files are stored; {size(data.shared)} of them are shared or
              belong to templates and the library. {size(data.free)} are free on this disk.
            </p>
            <table style={{ borderCollapse: 'collapse', width: '100%' }}>
              <thead>
                <tr style={{ color: INK.quiet }}>
                  <th style={{ textAlign: 'left', fontWeight: 500 }}>Livery</th>
                  {['steps', 'own pictures', 'delivered', 'free without it'].map((head) => (
                    <th key={head} style={{ ...cell, fontWeight: 500 }}>
                      {head}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {data.liveries
                  .toSorted((a, b) => all(b) - all(a))
                  .map((one) => (
                    <tr key={one.id} style={{ borderTop: `1px solid ${INK.line}` }}>
                      <td>{names.get(one.id) ?? 'in the bin'}</td>
                      {[one.steps, one.pictures, one.delivered, all(one)].map((bytes, i) => (
                        <td key={i} style={cell}>
                          {size(bytes)}
                        </td>
                      ))}
                    </tr>
                  ))}
              </tbody>
            </table>
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
