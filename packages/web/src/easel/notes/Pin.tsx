import type { CSSProperties } from 'react';
import { INK, MONO } from '../../theme.ts';

interface Props {
  number: number | null;
  /** Read aloud, and shown beside the pointer. */
  called: string;
  done?: boolean;
  chosen?: boolean;
  /** It lies behind something. */
  behind?: boolean;
  at: { x: number; y: number };
  /** What turns it back upright. */
  upright?: string;
  onPress?(): void;
}

const TAG: CSSProperties = {
  position: 'absolute',
  left: 10,
  top: -26,
  minWidth: 20,
  height: 18,
  padding: '0 4px',
  font: `600 11px/16px ${MONO}`,
  borderRadius: 1,
  pointerEvents: 'all',
  cursor: 'pointer',
};

/** A place with a tag on a line: the ring is around what is meant, and nothing covers it. */
export function Pin({ number, called, done, chosen, behind, at, upright, onPress }: Props) {
  const colours = done
    ? { background: INK.panel, color: INK.quiet, border: `1px solid ${INK.edge}` }
    : { background: chosen ? INK.accent : '#ffffff', color: '#101010', border: '1px solid #101010' };
  return (
    <div
      style={{
        ...{ position: 'absolute', left: at.x, top: at.y, width: 0, height: 0, pointerEvents: 'none' },
        ...{ transform: upright, opacity: behind ? 0.35 : 1 },
      }}
    >
      <svg
        aria-hidden
        width={32}
        height={40}
        style={{ position: 'absolute', left: -10, top: -30, overflow: 'visible' }}
      >
        <path d="M13.5 26.5L22 16" stroke="#101010" strokeWidth={3.5} />
        <path d="M13.5 26.5L22 16" stroke={chosen ? INK.accent : '#ffffff'} strokeWidth={1.5} />
        <circle cx={10} cy={30} r={5} fill="none" stroke="#101010" strokeWidth={3.5} />
        <circle cx={10} cy={30} r={5} fill="none" stroke={chosen ? INK.accent : '#ffffff'} strokeWidth={1.5} />
      </svg>
      {onPress ? (
        <button
          type="button"
          aria-label={called}
          title={called}
          aria-pressed={chosen}
          onPointerDown={(event) => event.stopPropagation()}
          onClick={onPress}
          style={{ ...TAG, ...colours }}
        >
          {number}
        </button>
      ) : (
        <span style={{ ...TAG, ...colours, pointerEvents: 'none' }}>{number ?? '…'}</span>
      )}
    </div>
  );
}
