import type { ReactNode } from 'react';
import { Heading } from '../../parts/text.tsx';
import { INK } from '../../theme.ts';

/** A small sheet in the middle of an empty room: for what is done before there is a screen. */
export const Sheet = ({ title, children }: { title: string; children: ReactNode }) => (
  <main style={{ minHeight: '100%', display: 'grid', placeItems: 'center', padding: 16 }}>
    <section
      aria-label={title}
      style={{
        width: 'min(380px, 100%)',
        display: 'grid',
        gap: 14,
        padding: 24,
        background: INK.panel,
        border: `1px solid ${INK.line}`,
        borderRadius: 2,
      }}
    >
      <div style={{ display: 'flex', gap: 10, alignItems: 'center', fontWeight: 600, color: INK.quiet }}>
        <img src="/mark.svg" width={20} height={20} alt="" />
        Wet Lacquer
      </div>
      <Heading as="h1" size={18}>
        {title}
      </Heading>
      {children}
    </section>
  </main>
);
