import { LinearProgress } from '@mui/material';
import type { DeliveryCard } from '@wet-lacquer/sync/answers.ts';
import { Grow } from '../../parts/layout.tsx';
import { isUnderWay } from './underWay.ts';

/** One progress of all that was asked for together. */
export function Progress({ of, nameOf }: { of: readonly DeliveryCard[]; nameOf(one: DeliveryCard): string | null }) {
  const now = of.findIndex(isUnderWay);
  const { state, progress } = of[now];
  const name = nameOf(of[now]);
  const done = of.map((one) => (isUnderWay(one) ? one.progress.done / Math.max(1, one.progress.of) : 1));
  return (
    <Grow>
      <div role="status" style={{ marginBottom: 6 }}>
        {of.length > 1 && `${name}, ${now + 1} of ${of.length}: `}
        {state === 'publishing' ? 'Putting the files in place' : progress.what}
      </div>
      <LinearProgress
        variant="determinate"
        aria-label="Delivery"
        value={(100 * done.reduce((sum, one) => sum + one, 0)) / of.length}
      />
    </Grow>
  );
}
