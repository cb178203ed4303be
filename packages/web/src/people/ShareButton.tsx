import { Button } from '@mui/material';
import { useState } from 'react';
import type { SharedKind } from '@wet-lacquer/sync/people.ts';
import { useMe } from './me.ts';
import { ShareDialog } from './ShareDialog.tsx';

interface Props {
  kind: SharedKind;
  object: string;
  name: string;
  /** One of many on its screen. */
  small?: boolean;
}

/** Shares a thing; nothing where nobody signs in. */
export function ShareButton({ kind, object, name, small }: Props) {
  const { me } = useMe();
  const [sharing, setSharing] = useState(false);
  if (!me?.painter) return null;
  return (
    <>
      <Button
        onClick={() => setSharing(true)}
        size={small ? 'small' : undefined}
        aria-label={small ? `Share ${name}` : undefined}
      >
        Share
      </Button>
      {sharing && <ShareDialog kind={kind} object={object} name={name} onClose={() => setSharing(false)} />}
    </>
  );
}
