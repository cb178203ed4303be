import { Button, LinearProgress } from '@mui/material';
import { useState } from 'react';
import useSWR from 'swr';
import type { InvitationCard, PainterCard } from '@wet-lacquer/sync/people.ts';
import { send, sentenceOf } from '../../lib/api.ts';
import { dateInWords } from '../../lib/words.ts';
import { Column, Grow, PlainList, Row, Stack } from '../../parts/layout.tsx';
import { Line } from '../../parts/Line.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { Heading, Quiet } from '../../parts/text.tsx';
import { useMe } from '../../people/me.ts';
import { TopBar } from '../../shell/TopBar.tsx';

/** Who has an account, and who is invited: for whoever looks after the server. */
export function PeopleScreen() {
  const { me } = useMe();
  const { data: painters, error, mutate: mutatePainters } = useSWR<PainterCard[]>('/painters');
  const { data: invited, mutate: mutateInvited } = useSWR<InvitationCard[]>('/invitations');
  const [note, setNote] = useState('');
  const [keeper, setKeeper] = useState(false);
  const [link, setLink] = useState<{ for: string; url: string } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const does = async (what: () => Promise<unknown>) => {
    try {
      setProblem(null);
      await what();
      await Promise.all([mutatePainters(), mutateInvited()]);
    } catch (failure) {
      setProblem(sentenceOf(failure));
    }
  };
  const invite = (body: object, whom: string) =>
    does(async () => {
      const { token } = await send<{ token: string }>('POST', '/invitations', body);
      setLink({ for: whom, url: `${location.origin}/invited#${token}` });
      setNote('');
    });
  return (
    <Column full>
      <TopBar trail="People" />
      <main style={{ flex: 1, overflow: 'auto', padding: '20px 24px' }}>
        <div style={{ maxWidth: 860 }}>
          <Stack gap={16}>
            <Heading as="h1" size={18}>
              People
            </Heading>
            {(problem ?? error) && <Notice level="error">{problem ?? sentenceOf(error)}</Notice>}
            <Row
              as="form"
              gap={10}
              wrap
              onSubmit={(event) => {
                event.preventDefault();
                void invite({ note, keeper }, note || 'somebody new');
              }}
            >
              <Line label="whom it is for" value={note} onChange={(event) => setNote(event.target.value)} />
              <Tick label="looks after the server, too" checked={keeper} onChange={setKeeper} />
              <Button type="submit" variant="contained">
                Make an invitation
              </Button>
            </Row>
            {link && (
              <Stack gap={6}>
                <Quiet as="p">For {link.for}: good once, for seven days. It is shown this once; hand it on.</Quiet>
                <Row gap={8}>
                  <Line
                    fullWidth
                    label="link"
                    value={link.url}
                    onFocus={(event) => event.target.select()}
                    slotProps={{ htmlInput: { readOnly: true } }}
                  />
                  <Button onClick={() => void navigator.clipboard.writeText(link.url)}>Copy</Button>
                </Row>
              </Stack>
            )}
            {!painters && !error && <LinearProgress aria-label="Reading who has an account" />}
            {painters && (
              <PlainList aria-label="Painters" gap={4}>
                {painters.map((one) => (
                  <Row as="li" key={one.id} gap={8} wrap>
                    <Grow>
                      {one.name}{' '}
                      <Quiet>
                        {one.closed
                          ? 'closed'
                          : one.keeper
                            ? 'looks after the server'
                            : `since ${dateInWords(one.since)}`}
                      </Quiet>
                    </Grow>
                    {one.id !== me?.painter?.id && (
                      <>
                        <Button
                          size="small"
                          variant="text"
                          onClick={() => void does(() => send('POST', `/painters/${one.id}`, { keeper: !one.keeper }))}
                        >
                          {one.keeper ? `${one.name} looks after it no more` : `Let ${one.name} look after it`}
                        </Button>
                        <Button size="small" variant="text" onClick={() => void invite({ painter: one.id }, one.name)}>
                          Let {one.name} back in
                        </Button>
                        <Button
                          size="small"
                          variant="text"
                          onClick={() => void does(() => send('POST', `/painters/${one.id}`, { closed: !one.closed }))}
                        >
                          {one.closed ? `Open ${one.name}’s account` : `Close ${one.name}’s account`}
                        </Button>
                      </>
                    )}
                  </Row>
                ))}
              </PlainList>
            )}
            {invited && invited.length > 0 && (
              <>
                <Heading as="h2" size={15}>
                  Invited
                </Heading>
                <PlainList aria-label="Invited" gap={4}>
                  {invited.map((one) => (
                    <Row as="li" key={one.id} gap={8}>
                      <Grow>
                        {one.note || 'somebody'} <Quiet>good until {dateInWords(one.endsAt)}</Quiet>
                      </Grow>
                      <Button
                        size="small"
                        variant="text"
                        onClick={() => void does(() => send('DELETE', `/invitations/${one.id}`))}
                      >
                        Take back
                      </Button>
                    </Row>
                  ))}
                </PlainList>
              </>
            )}
          </Stack>
        </div>
      </main>
    </Column>
  );
}
