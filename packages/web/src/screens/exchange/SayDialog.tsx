import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material';
import { useState } from 'react';
import { Line } from '../../parts/Line.tsx';

interface Props {
  title: string;
  button: string;
  onClose(): void;
  onSay(why: string): Promise<void>;
}

/** Asks why. */
export function SayDialog({ title, button, onClose, onSay }: Props) {
  const [why, setWhy] = useState('');
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs" aria-labelledby="say">
      <DialogTitle id="say">{title}</DialogTitle>
      <DialogContent>
        <form
          id="say-form"
          onSubmit={(event) => {
            event.preventDefault();
            if (why.trim() !== '') void onSay(why.trim());
          }}
        >
          <Line
            label="why"
            value={why}
            autoFocus
            fullWidth
            multiline
            minRows={2}
            slotProps={{ htmlInput: { maxLength: 400 } }}
            onChange={(event) => setWhy(event.target.value)}
            sx={{ mt: 1 }}
          />
        </form>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Not now</Button>
        <Button type="submit" form="say-form" variant="contained" disabled={why.trim() === ''}>
          {button}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
