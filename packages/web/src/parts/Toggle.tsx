import { Button } from '@mui/material';
import type { ReactNode } from 'react';
import { INK } from '../theme.ts';

interface Props {
  on: boolean;
  onChange(on: boolean): void;
  disabled?: boolean;
  children: ReactNode;
}

/** A button that stays in while something is so. */
export function Toggle({ on, onChange, disabled = false, children }: Props) {
  return (
    <Button
      disabled={disabled}
      aria-pressed={on}
      sx={{ background: on ? INK.accentDeep : undefined }}
      onClick={() => onChange(!on)}
    >
      {children}
    </Button>
  );
}
