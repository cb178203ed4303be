import { Button } from '@mui/material';
import { useEffect } from 'react';
import { create } from 'zustand';
import { Nothing } from '../../parts/Notice.tsx';
import { INK } from '../../theme.ts';
import { useEasel, useLivery } from '../context.ts';

const KEY = 'wet-lacquer/model-rests';

/** Whether the model rests: it is not drawn, which leaves a machine without a graphics card its time. Kept in this browser. */
export const useRest = create<{ resting: boolean }>(() => ({ resting: localStorage.getItem(KEY) === 'yes' }));

export function setModelRests(resting: boolean): void {
  if (resting) localStorage.setItem(KEY, 'yes');
  else localStorage.removeItem(KEY);
  useRest.setState({ resting });
}

/** In the model's place while it rests. */
export function Resting() {
  const { model } = useEasel();
  const livery = useLivery();
  // Small pictures come from the same renderer: it is told what the turntable would have told it.
  useEffect(() => void model.ask('livery', { livery, hot: null }).catch(() => {}), [model, livery]);
  return (
    <section aria-label="Turntable" style={{ height: '100%', display: 'grid', background: INK.room }}>
      <Nothing title="The model rests">
        It is not drawn, so that all of the machine is for the sheet.
        <br />
        <Button sx={{ mt: 1.5 }} onClick={() => setModelRests(false)}>
          Wake it
        </Button>
      </Nothing>
    </section>
  );
}
