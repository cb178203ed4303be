import { shownAs, type LiveryFinish } from '@wet-lacquer/core/livery/finish.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { INK } from '../theme.ts';

/** A finish as a small mark: its colour in the view of finishes, cut at one corner so that it is no swatch of paint. */
export function FinishChip({
  livery,
  finish,
  width = 14,
}: {
  livery: Pick<Livery, 'finishes'>;
  finish: LiveryFinish;
  width?: number;
}) {
  return (
    <svg aria-hidden width={width} height={10} viewBox="0 0 14 10" preserveAspectRatio="none" style={{ flex: 'none' }}>
      <path d="M0.5 0.5 H13.5 V5 L9 9.5 H0.5 Z" fill={shownAs(livery, finish.id)} stroke={INK.edge} />
    </svg>
  );
}
