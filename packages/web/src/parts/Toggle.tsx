import { Button } from '@mui/material';
import type { ReactNode } from 'react';
import { INK } from '../theme.ts';

/** A button that stays in while something is so. */
export function Toggle({ on, onChange, children }: { on: boolean; onChange(on: boolean): void; children: ReactNode }) {
  return (
    <Button aria-pressed={on} sx={{ background: on ? INK.accentDeep : undefined }} onClick={() => onChange(!on)}>
      {children}
    </Button>
  );
}
