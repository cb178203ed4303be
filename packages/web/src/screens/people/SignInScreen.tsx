import { startAuthentication } from '@simplewebauthn/browser';
import { Button } from '@mui/material';
import { useState } from 'react';
import type { Me } from '@wet-lacquer/sync/people.ts';
import { send, sentenceOf } from '../../lib/api.ts';
import { Row } from '../../parts/layout.tsx';
import { Line } from '../../parts/Line.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Quiet } from '../../parts/text.tsx';
import { becomes } from '../../people/me.ts';
import { PasswordField } from './PasswordField.tsx';
import { Sheet } from './Sheet.tsx';

/** Signs somebody in, right where they are: what they wanted to see stands there afterwards. */
export function SignInScreen({ me }: { me: Me }) {
  const [name, setName] = useState('');
  const [secret, setSecret] = useState('');
  const [byCode, setByCode] = useState(false);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const does = async (what: () => Promise<Me>) => {
    setBusy(true);
    setProblem(null);
    try {
      await becomes(await what());
    } catch (error) {
      // A browser's own words for having changed one's mind say nothing to anybody.
      setProblem(
        error instanceof Error && error.name === 'NotAllowedError' ? 'No passkey was used.' : sentenceOf(error),
      );
      setSecret('');
    } finally {
      setBusy(false);
    }
  };
  const signIn = () =>
    does(() =>
      byCode
        ? send('POST', '/sign-in/code', { name, code: secret })
        : send('POST', '/sign-in', { name, password: secret }),
    );
  const withKey = () =>
    does(async () => {
      const { id, options } = await send<{ id: string; options: never }>('POST', '/sign-in/passkey/options', {});
      return send('POST', '/sign-in/passkey', { id, response: await startAuthentication({ optionsJSON: options }) });
    });
  if (me.empty)
    return (
      <Sheet title="Nobody has an account here yet">
        <Quiet as="p">
          The server said a link when it was started, in its own window; it makes the first one. Or run
        </Quiet>
        <code>npm run painter</code>
        <Quiet as="p">on the machine that it runs on, and open the link that it says.</Quiet>
      </Sheet>
    );
  return (
    <Sheet title="Sign in">
      {problem && <Notice level="error">{problem}</Notice>}
      <form
        style={{ display: 'grid', gap: 12 }}
        onSubmit={(event) => {
          event.preventDefault();
          void signIn();
        }}
      >
        <Line
          fullWidth
          autoFocus
          label="name"
          value={name}
          autoComplete="username"
          onChange={(event) => setName(event.target.value)}
        />
        {byCode ? (
          <Line
            fullWidth
            label="recovery code"
            value={secret}
            autoComplete="one-time-code"
            onChange={(event) => setSecret(event.target.value)}
          />
        ) : (
          <PasswordField label="password" value={secret} onChange={setSecret} />
        )}
        <Button type="submit" variant="contained" disabled={busy || name.trim() === '' || secret === ''}>
          Sign in
        </Button>
      </form>
      <Row gap={8} wrap>
        {me.keys && (
          <Button onClick={() => void withKey()} disabled={busy}>
            Sign in with a passkey
          </Button>
        )}
        <Button
          variant="text"
          onClick={() => {
            setByCode(!byCode);
            setSecret('');
          }}
        >
          {byCode ? 'Use a password' : 'Use a recovery code'}
        </Button>
      </Row>
      <Quiet as="p">Whoever looks after this server invites people, and lets them back in.</Quiet>
    </Sheet>
  );
}
