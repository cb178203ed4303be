import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { INK } from '../theme.ts';

/** Where one is: a livery by its name, and what is done with it. */
export const LiveryTrail = ({ name, children }: { name: string | undefined; children?: ReactNode }) => (
  <>
    <Link to="/" style={{ color: 'inherit', textDecoration: 'none' }}>
      Liveries
    </Link>{' '}
    / <span style={{ color: INK.text, fontWeight: 600 }}>{name}</span> {children}
  </>
);
