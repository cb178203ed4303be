import { Button, LinearProgress } from '@mui/material';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import type { OpenedLink, SharedKind } from '@wet-lacquer/sync/people.ts';
import { send, sentenceOf } from '../../lib/api.ts';
import { Notice } from '../../parts/Notice.tsx';
import { becomes, useMe } from '../../people/me.ts';
import { SignInScreen } from './SignInScreen.tsx';
import { Sheet } from './Sheet.tsx';

const AT: Readonly<Record<SharedKind, (object: string) => string>> = {
  livery: (id) => `/liveries/${id}`,
  template: (hash) => `/templates/${hash}`,
  decal: () => '/decals',
  spec: (key) => `/specs/${key}`,
  team: (id) => `/teams/${id}`,
};

/** Follows a link that something is shared by. Whoever has no account may look at a livery; for more, one signs in. */
export function SharedScreen() {
  const navigate = useNavigate();
  const { me } = useMe();
  const [token] = useState(() => location.hash.slice(1));
  const [opened, setOpened] = useState<OpenedLink | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const painter = me?.painter?.id;
  useEffect(() => {
    history.replaceState(history.state, '', location.pathname);
    const follow = async () => {
      const link = await send<OpenedLink>('POST', '/links/open', { token });
      setOpened(link);
      if (painter)
        await navigate(link.role === 'look' ? `/look/${link.object}` : AT[link.kind](link.object), { replace: true });
      else if (link.kind === 'livery') {
        await becomes(null);
        if (link.role === 'look') await navigate(`/look/${link.object}`, { replace: true });
      }
    };
    follow().catch((error: unknown) => setProblem(sentenceOf(error)));
  }, [token, painter, navigate]);
  if (opened && me && !painter) {
    if (opened.role === 'look') return null;
    return <SignInScreen me={me} />;
  }
  return (
    <Sheet title="Something is shared with you">
      {problem ? <Notice level="error">{problem}</Notice> : <LinearProgress aria-label="Following the link" />}
      {problem && <Button onClick={() => void navigate('/')}>To the liveries</Button>}
    </Sheet>
  );
}
