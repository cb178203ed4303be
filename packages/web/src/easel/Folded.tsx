import type { ReactNode } from 'react';
import { Toggle } from '../parts/Toggle.tsx';
import { INK } from '../theme.ts';

export type Called = 'details' | 'model' | null;

/** In a small window the column and the turntable stand behind buttons at the edge, one at a time. */
export function Folded({
  called,
  onCall,
  children,
}: {
  called: Called;
  onCall(what: Called): void;
  children: ReactNode;
}) {
  const button = (what: Exclude<Called, null>, says: string) => (
    <Toggle on={called === what} onChange={(on) => onCall(on ? what : null)}>
      {says}
    </Toggle>
  );
  return (
    <>
      {called && (
        <div
          style={{
            position: 'absolute',
            right: 0,
            top: 34,
            bottom: 0,
            zIndex: 5,
            display: 'flex',
            width: called === 'model' ? '100%' : undefined,
            boxShadow: `-1px 0 0 ${INK.line}`,
          }}
        >
          {children}
        </div>
      )}
      <div
        role="group"
        aria-label="Beside the sheet"
        style={{
          position: 'absolute',
          right: 0,
          top: 0,
          height: 34,
          zIndex: 6,
          display: 'flex',
          gap: 4,
          padding: 2,
          background: INK.panel,
        }}
      >
        {button('model', 'Model')}
        {button('details', 'Details')}
      </div>
    </>
  );
}
