import type { ReactNode } from 'react';
import { useNarrow } from '../lib/useNarrow.ts';

interface Props {
  /** Of each column, as CSS has them. */
  sizes: readonly string[];
  /** Of each when they stand under one another; left out: as high as what is in it. */
  heights?: readonly string[];
  children: ReactNode;
}

/** Columns beside one another, each scrolling by itself; in a small window under one another, scrolling together. */
export function Columns({ sizes, heights, children }: Props) {
  const narrow = useNarrow();
  return (
    <main
      style={{
        flex: 1,
        minWidth: 0,
        minHeight: 0,
        display: 'grid',
        ...(narrow
          ? {
              gridTemplateColumns: 'minmax(0, 1fr)',
              gridTemplateRows: heights?.join(' '),
              gridAutoRows: 'max-content',
              overflow: 'auto',
            }
          : { gridTemplateColumns: sizes.join(' ') }),
      }}
    >
      {children}
    </main>
  );
}
