import type { ReactNode } from 'react';
import { Stack } from './layout.tsx';

/** A part of the right column under a plain heading. */
export function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section style={{ marginTop: 14 }}>
      <h3 style={{ fontSize: 13, fontWeight: 600, margin: '0 0 6px' }}>{title}</h3>
      <Stack gap={6}>{children}</Stack>
    </section>
  );
}

export const Pair = ({ children }: { children: ReactNode }) => (
  <Stack columns="minmax(0, 1fr) minmax(0, 1fr)" gap={6}>
    {children}
  </Stack>
);
