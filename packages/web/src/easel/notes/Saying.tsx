import { Button } from '@mui/material';
import { useState, type FormEvent } from 'react';
import { Row, Stack } from '../../parts/layout.tsx';
import { Line } from '../../parts/Line.tsx';

/** Characters of a note or an answer. */
const MOST = 2000;

interface Props {
  /** The form's name, the line's, and what its button does. */
  called: string;
  label: string;
  button: string;
  text: string;
  /** Lines that it has at first. */
  rows?: number;
  /** Escape leaves it. */
  escapes?: boolean;
  onText(text: string): void;
  /** It is sent once, until that has come to its end. */
  onSay(text: string): Promise<unknown>;
  onLeave(): void;
}

/** Something to be said, in several lines: sent by its button or Ctrl Enter. */
export function Saying({ called, label, button, text, rows, escapes, onText, onSay, onLeave }: Props) {
  const [sending, setSending] = useState(false);
  const nothing = text.trim() === '' || sending;
  const say = async (event: FormEvent) => {
    event.preventDefault();
    if (nothing) return;
    setSending(true);
    await onSay(text.trim()).finally(() => setSending(false));
  };
  return (
    <form onSubmit={(event) => void say(event)} aria-label={called}>
      <Stack gap={6}>
        <Line
          label={label}
          value={text}
          autoFocus
          fullWidth
          multiline
          minRows={rows}
          slotProps={{ htmlInput: { maxLength: MOST } }}
          onChange={(event) => onText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && event.ctrlKey) void say(event);
            if (event.key === 'Escape' && escapes) onLeave();
          }}
        />
        <Row gap={8}>
          <Button type="submit" size="small" variant="contained" disabled={nothing}>
            {button}
          </Button>
          <Button size="small" onClick={onLeave}>
            Leave it
          </Button>
        </Row>
      </Stack>
    </form>
  );
}
