import type { SheetState } from '@wet-lacquer/core/delivery/checklist.ts';
import { INK } from '../theme.ts';

const WORDS: Record<SheetState, string> = {
  bare: 'bare',
  work: 'in work',
  ready: 'ready',
  delivered: 'delivered, unchanged since',
  kept: 'left to the game on purpose',
};

/** The checklist's mark of one sheet: told apart by shape, never by colour. */
export function Pip({ state, name, size = 14 }: { state: SheetState; name?: string; size?: number }) {
  const says = `${name ? `${name}: ` : ''}${WORDS[state]}`;
  return (
    <svg width={size} height={size} viewBox="0 0 16 16" role="img" aria-label={says} style={{ flex: 'none' }}>
      <title>{says}</title>
      <circle
        cx="8"
        cy="8"
        r="6.2"
        fill={state === 'ready' || state === 'delivered' ? INK.text : 'none'}
        stroke={INK.text}
        strokeWidth="1.5"
        strokeDasharray={state === 'bare' ? '2.6 2.2' : undefined}
      />
      {state === 'work' && <path d="M8 2a6 6 0 0 0 0 12z" fill={INK.text} />}
      {state === 'delivered' && <path d="M4.6 8.2l2.4 2.5 4.4-5" fill="none" stroke={INK.panel} strokeWidth="2" />}
      {state === 'kept' && <path d="M4.5 8h7" stroke={INK.text} strokeWidth="2" />}
    </svg>
  );
}
