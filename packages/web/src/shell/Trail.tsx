import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { INK } from '../theme.ts';

/** Where one is: the screen that this one hangs on, and what this one is. */
export const Trail = ({ to, of, children }: { to: string; of: string; children: ReactNode }) => (
  <>
    <Link to={to} style={{ color: 'inherit', textDecoration: 'none' }}>
      {of}
    </Link>{' '}
    / <span style={{ color: INK.text, fontWeight: 600 }}>{children}</span>
  </>
);
