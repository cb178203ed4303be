import useSWR from 'swr';
import type { ThreadsHealth } from '@wet-lacquer/sync/answers.ts';
import { useLate } from '../lib/slow.ts';
import { INK } from '../theme.ts';

const EVERY_MS = 1500;

/** While an answer is late because others' work stands before it: a line that says so. */
export function Waiting() {
  const late = useLate();
  const { data } = useSWR<ThreadsHealth>(late > 0 ? '/health/threads' : null, {
    refreshInterval: EVERY_MS,
    keepPreviousData: false,
    dedupingInterval: 0,
  });
  if (!data || data.waiting === 0) return null;
  return (
    <div
      role="status"
      style={{
        position: 'fixed',
        left: '50%',
        bottom: 12,
        translate: '-50%',
        zIndex: 1500,
        maxWidth: 'calc(100vw - 24px)',
        padding: '6px 12px',
        background: INK.raised,
        border: `1px solid ${INK.line}`,
        borderRadius: 2,
        color: INK.text,
      }}
    >
      The server is at {data.busy} heavy {data.busy === 1 ? 'task' : 'tasks'} and {data.waiting}{' '}
      {data.waiting === 1 ? 'waits' : 'wait'} for a free thread; what you asked for comes in its turn.
    </div>
  );
}
