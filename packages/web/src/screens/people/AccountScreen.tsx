import { startRegistration } from '@simplewebauthn/browser';
import { Button, LinearProgress } from '@mui/material';
import { useState, type ReactNode } from 'react';
import useSWR from 'swr';
import type { Account } from '@wet-lacquer/sync/people.ts';
import { send, sentenceOf } from '../../lib/api.ts';
import { dateInWords } from '../../lib/words.ts';
import { Column, Grow, PlainList, Row, Stack } from '../../parts/layout.tsx';
import { Line } from '../../parts/Line.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Heading, Mono, Quiet } from '../../parts/text.tsx';
import { becomes, useMe } from '../../people/me.ts';
import { TopBar } from '../../shell/TopBar.tsx';
import { INK } from '../../theme.ts';
import { browserIn } from './browserIn.ts';
import { PasswordField } from './PasswordField.tsx';

const Part = ({ title, children }: { title: string; children: ReactNode }) => (
  <section
    aria-label={title}
    style={{ padding: 16, background: INK.panel, border: `1px solid ${INK.line}`, borderRadius: 2 }}
  >
    <Stack gap={10}>
      <Heading as="h2" size={15}>
        {title}
      </Heading>
      {children}
    </Stack>
  </section>
);

/** What lets one in, and where one is signed in. */
export function AccountScreen() {
  const { me } = useMe();
  const { data, error, mutate } = useSWR<Account>('/me/account', { dedupingInterval: 0 });
  const [password, setPassword] = useState('');
  const [next, setNext] = useState('');
  const [keyName, setKeyName] = useState('');
  const [codes, setCodes] = useState<string[] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const does = async (what: () => Promise<string | null>) => {
    try {
      setProblem(null);
      setSaid(null);
      const words = await what();
      setSaid(words);
      await mutate();
    } catch (failure) {
      setProblem(
        failure instanceof Error && failure.name === 'NotAllowedError' ? 'No passkey was made.' : sentenceOf(failure),
      );
    }
  };
  const makeKey = () =>
    does(async () => {
      const { id, options } = await send<{ id: string; options: never }>('POST', '/me/passkeys/options', { password });
      const response = await startRegistration({ optionsJSON: options });
      await send('POST', '/me/passkeys', { id, name: keyName.trim() || browserIn(navigator.userAgent), response });
      setKeyName('');
      return 'The passkey is kept; it signs you in from now on.';
    });
  return (
    <Column full>
      <TopBar trail="Your account" />
      <main style={{ flex: 1, overflow: 'auto', padding: '20px 24px' }}>
        <div style={{ maxWidth: 720, display: 'grid', gap: 16 }}>
          <Heading as="h1" size={18}>
            {me?.painter?.name}
          </Heading>
          {problem && <Notice level="error">{problem}</Notice>}
          {said && <div role="status">{said}</div>}
          {error && !data && <Notice level="error">{sentenceOf(error)}</Notice>}
          {!data && !error && <LinearProgress aria-label="Reading the account" />}
          {data && (
            <>
              {data.password && (
                <Part title="To be sure that it is you">
                  <Quiet as="p">Say your password before you change what lets you in.</Quiet>
                  <PasswordField label="your password" value={password} onChange={setPassword} />
                </Part>
              )}
              <Part title="Passkeys">
                <Quiet as="p">
                  A key in this device, or in one that you carry: no password is typed, and none can be taken.
                </Quiet>
                <PlainList aria-label="Passkeys" gap={4}>
                  {data.passkeys.map((one) => (
                    <Row as="li" key={one.id} gap={8}>
                      <Grow>
                        {one.name}{' '}
                        <Quiet>
                          {one.usedAt ? `used ${dateInWords(one.usedAt)}` : `made ${dateInWords(one.since)}`}
                        </Quiet>
                      </Grow>
                      <Button
                        size="small"
                        variant="text"
                        aria-label={`Remove ${one.name}`}
                        onClick={() =>
                          void does(() => send<null>('DELETE', `/me/passkeys/${encodeURIComponent(one.id)}`))
                        }
                      >
                        Remove
                      </Button>
                    </Row>
                  ))}
                </PlainList>
                {me?.keys ? (
                  <Row gap={8} wrap>
                    <Line
                      label="what to call it"
                      value={keyName}
                      onChange={(event) => setKeyName(event.target.value)}
                    />
                    <Button onClick={() => void makeKey()}>Make a passkey</Button>
                  </Row>
                ) : (
                  <Quiet as="p">Passkeys need an address with a name; this one has none.</Quiet>
                )}
              </Part>
              <Part title="Recovery codes">
                <Quiet as="p">
                  {data.codes > 0
                    ? `${data.codes} are left. Each lets you in once.`
                    : 'There are none. Each lets you in once, when nothing else does.'}
                </Quiet>
                {codes && (
                  <>
                    <Quiet as="p">They are shown this once: write them down, or print them.</Quiet>
                    <PlainList aria-label="Your recovery codes" gap={2}>
                      {codes.map((code) => (
                        <li key={code}>
                          <Mono>{code}</Mono>
                        </li>
                      ))}
                    </PlainList>
                  </>
                )}
                <Row>
                  <Button
                    onClick={() =>
                      void does(async () => {
                        setCodes((await send<{ codes: string[] }>('POST', '/me/codes', { password })).codes);
                        return data.codes > 0 ? 'Earlier codes are good for nothing any more.' : null;
                      })
                    }
                  >
                    {data.codes > 0 ? 'Make new ones' : 'Make ten'}
                  </Button>
                </Row>
              </Part>
              <Part title={data.password ? 'Another password' : 'A password'}>
                <PasswordField
                  label="new password"
                  fresh
                  value={next}
                  onChange={setNext}
                  helper="At least 12 characters."
                />
                <Row>
                  <Button
                    disabled={next === ''}
                    onClick={() =>
                      void does(async () => {
                        await send('POST', '/me/password', { password, next });
                        setPassword('');
                        setNext('');
                        return 'The password is set; every other browser is signed out.';
                      })
                    }
                  >
                    Set it
                  </Button>
                </Row>
              </Part>
              <Part title="Where you are signed in">
                <PlainList aria-label="Browsers" gap={4}>
                  {data.sessions.map((one) => (
                    <Row as="li" key={one.id} gap={8}>
                      <Grow>
                        {browserIn(one.browser)}{' '}
                        <Quiet>{one.here ? 'this one' : `last used ${dateInWords(one.usedAt)}`}</Quiet>
                      </Grow>
                      {!one.here && (
                        <Button
                          size="small"
                          variant="text"
                          onClick={() => void does(() => send<null>('DELETE', `/me/sessions/${one.id}`))}
                        >
                          Sign it out
                        </Button>
                      )}
                    </Row>
                  ))}
                </PlainList>
                <Row>
                  <Button onClick={() => void send('DELETE', '/me/sessions').then(() => becomes(null))}>
                    Sign out everywhere
                  </Button>
                </Row>
              </Part>
            </>
          )}
        </div>
      </main>
    </Column>
  );
}
