import { Button } from '@mui/material';
import { useEffect } from 'react';
import { OverBar } from '../../parts/OverBar.tsx';
import { useNoting } from './notes.ts';

/** Asks where a note is meant to be, over the sheet, until it is said or left. */
export function Pinning() {
  return useNoting((s) => s.pinning) ? <Asks /> : null;
}

const leave = () => useNoting.setState({ pinning: false });

function Asks() {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.key === 'Escape') leave();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
  return (
    <OverBar top={38}>
      <span>Press on the sheet or on the model, where the note is meant.</span>
      <Button size="small" onClick={leave}>
        Leave it
      </Button>
    </OverBar>
  );
}
