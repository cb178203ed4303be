import { Button, LinearProgress } from '@mui/material';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Me } from '@wet-lacquer/sync/people.ts';
import { send, sentenceOf } from '../../lib/api.ts';
import { Line } from '../../parts/Line.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Quiet } from '../../parts/text.tsx';
import { becomes } from '../../people/me.ts';
import { PasswordField } from './PasswordField.tsx';
import { Sheet } from './Sheet.tsx';

interface Invited {
  name: string | null;
  keeper: boolean;
}

/** Makes an account by a link, or sets a new password by one. The token is behind the #: no server's log has it. */
export function InvitedScreen() {
  const navigate = useNavigate();
  const [token] = useState(() => location.hash.slice(1));
  const [invited, setInvited] = useState<Invited | null>(null);
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    // Nobody who looks over a shoulder, or at what was visited, has it.
    history.replaceState(history.state, '', location.pathname);
    send<Invited>('POST', '/invitations/look', { token }).then(setInvited, (error: unknown) =>
      setProblem(sentenceOf(error)),
    );
  }, [token]);
  const take = async () => {
    try {
      setProblem(null);
      const me = await send<Me>('POST', '/invitations/take', { token, name: invited?.name ?? name, password });
      await becomes(me);
      await navigate(invited?.name ? '/' : '/account', { replace: true });
    } catch (error) {
      setProblem(sentenceOf(error));
    }
  };
  const back = invited?.name !== null && invited?.name !== undefined;
  return (
    <Sheet title={back ? `Welcome back, ${invited.name}` : 'You are invited'}>
      {problem && <Notice level="error">{problem}</Notice>}
      {!invited && !problem && <LinearProgress aria-label="Looking at the invitation" />}
      {invited && (
        <form
          style={{ display: 'grid', gap: 12 }}
          onSubmit={(event) => {
            event.preventDefault();
            void take();
          }}
        >
          <Quiet as="p">
            {back
              ? 'Choose a new password. Every browser that was signed in is signed out.'
              : invited.keeper
                ? 'You will look after this server: you invite others, and close accounts.'
                : 'Choose the name under which others see your work.'}
          </Quiet>
          {!back && (
            <Line
              fullWidth
              autoFocus
              label="name"
              value={name}
              autoComplete="username"
              onChange={(event) => setName(event.target.value)}
            />
          )}
          <PasswordField
            label="password"
            fresh
            autoFocus={back}
            value={password}
            onChange={setPassword}
            helper="At least 12 characters; a few words that do not belong together make a good one."
          />
          <Button type="submit" variant="contained" disabled={password === '' || (!back && name.trim() === '')}>
            {back ? 'Set it and go in' : 'Make the account'}
          </Button>
        </form>
      )}
    </Sheet>
  );
}
