import type { ReactNode } from 'react';
import { Grow } from './layout.tsx';
import { INK } from '../theme.ts';
import { AlertCircleOutline, AlertOutline } from './icons.tsx';

/** A sentence that something is wrong, by shape and word as well as colour. */
export function Notice({
  level,
  children,
  action,
}: {
  level: 'error' | 'warning';
  children: ReactNode;
  action?: ReactNode;
}) {
  const Icon = level === 'error' ? AlertCircleOutline : AlertOutline;
  return (
    <div
      role={level === 'error' ? 'alert' : 'status'}
      style={{
        display: 'flex',
        gap: 8,
        alignItems: 'center',
        padding: '6px 10px',
        border: `1px solid ${level === 'error' ? INK.red : INK.amber}`,
        borderRadius: 2,
        background: INK.raised,
      }}
    >
      <Icon fontSize="small" sx={{ color: level === 'error' ? INK.red : INK.amber }} />
      <Grow as="span">{children}</Grow>
      {action}
    </div>
  );
}

/** What a screen shows when it has nothing to show yet. */
export function Nothing({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div style={{ padding: 32, color: INK.quiet, maxWidth: 460 }}>
      <h2 style={{ margin: '0 0 6px', fontSize: 15, color: INK.text }}>{title}</h2>
      {children}
    </div>
  );
}
