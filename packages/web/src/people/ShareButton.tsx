import { Button } from '@mui/material';
import { useState } from 'react';
import type { SharedKind } from '@wet-lacquer/sync/people.ts';
import { useMe } from './me.ts';
import { ShareDialog } from './ShareDialog.tsx';

/** Shares a thing; nothing where nobody signs in. */
export function ShareButton({ kind, object, name }: { kind: SharedKind; object: string; name: string }) {
  const { me } = useMe();
  const [sharing, setSharing] = useState(false);
  if (!me?.painter) return null;
  return (
    <>
      <Button onClick={() => setSharing(true)}>Share</Button>
      {sharing && <ShareDialog kind={kind} object={object} name={name} onClose={() => setSharing(false)} />}
    </>
  );
}
