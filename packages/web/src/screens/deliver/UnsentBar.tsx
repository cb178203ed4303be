import { Button } from '@mui/material';
import type { Unsent } from '../../easel/unsent.ts';
import { count } from '../../lib/words.ts';
import { Notice } from '../../parts/Notice.tsx';

interface Props {
  unsent: Unsent;
  /** The step that the server has. */
  revision: number | null;
  /** It was decided to go on without them. */
  without: boolean;
  onWithout(without: boolean): void;
}

/** Steps that the server does not have yet, and what can be done: wait, or deliver what is there and know it. */
export function UnsentBar({ unsent, revision, without, onWithout }: Props) {
  if (unsent.state !== 'stuck') return null;
  const one = unsent.left === 1;
  return (
    <div style={{ padding: '8px 12px 0' }}>
      <Notice
        level="warning"
        action={
          without ? (
            <Button size="small" onClick={() => onWithout(false)}>
              Wait for {one ? 'it' : 'them'}
            </Button>
          ) : (
            revision !== null && (
              <Button size="small" onClick={() => onWithout(true)}>
                Deliver step {revision} without {one ? 'it' : 'them'}
              </Button>
            )
          )
        }
      >
        <strong>
          {count(unsent.left, 'step')} {one ? 'is' : 'are'} not saved yet.
        </strong>{' '}
        {unsent.trouble} {without ? `What is shown is step ${revision}.` : `${one ? 'It is' : 'They are'} tried again.`}
      </Notice>
    </div>
  );
}
