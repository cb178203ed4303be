import { Button } from '@mui/material';
import { create } from 'zustand';
import { Nothing } from '../../parts/Notice.tsx';
import { INK } from '../../theme.ts';

const KEY = 'wet-lacquer/model-rests';

/** Whether the model rests: it is not drawn, which leaves a machine without a graphics card its time. Kept in this browser. */
export const useRest = create<{ resting: boolean }>(() => ({ resting: localStorage.getItem(KEY) === 'yes' }));

export function rest(resting: boolean): void {
  if (resting) localStorage.setItem(KEY, 'yes');
  else localStorage.removeItem(KEY);
  useRest.setState({ resting });
}

/** In the model's place while it rests. */
export function Resting() {
  return (
    <section aria-label="Turntable" style={{ height: '100%', display: 'grid', background: INK.room }}>
      <Nothing title="The model rests">
        It is not drawn, so that all of the machine is for the sheet.
        <br />
        <Button sx={{ mt: 1.5 }} onClick={() => rest(false)}>
          Wake it
        </Button>
      </Nothing>
    </section>
  );
}
