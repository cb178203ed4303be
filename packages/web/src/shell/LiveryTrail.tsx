import type { ReactNode } from 'react';
import { Trail } from './Trail.tsx';

/** Where one is: a livery by its name, and what is done with it. */
export const LiveryTrail = ({ name, children }: { name: string | undefined; children?: ReactNode }) => (
  <>
    <Trail to="/" of="Liveries">
      {name}
    </Trail>{' '}
    {children}
  </>
);
