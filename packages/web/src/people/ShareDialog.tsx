import { Button, Dialog, DialogActions, DialogContent, DialogTitle, LinearProgress, MenuItem } from '@mui/material';
import { useState } from 'react';
import useSWR from 'swr';
import type { Given, SharedKind, Shares } from '@wet-lacquer/sync/people.ts';
import { send, sentenceOf } from '../lib/api.ts';
import { dateInWords } from '../lib/words.ts';
import { Grow, PlainList, Row, Stack } from '../parts/layout.tsx';
import { Line } from '../parts/Line.tsx';
import { Notice } from '../parts/Notice.tsx';
import { Heading, Mono, Quiet } from '../parts/text.tsx';

const MAY: Readonly<Record<Given | 'own', string>> = {
  look: 'may look at it',
  copy: 'may copy it',
  paint: 'may paint it',
  own: 'owns it',
};
const ORDER: readonly Given[] = ['look', 'copy', 'paint'];
const DAYS = [
  [7, 'good for a week'],
  [30, 'good for 30 days'],
  [0, 'until it is taken back'],
] as const;

interface Props {
  kind: SharedKind;
  object: string;
  name: string;
  onClose(): void;
}

/** With whom a thing is shared: by name and by link, given and taken back. */
export function ShareDialog({ kind, object, name, onClose }: Props) {
  const at = `/shares/${kind}/${object}`;
  const { data, error, mutate } = useSWR<Shares>(at, { dedupingInterval: 0 });
  const [who, setWho] = useState('');
  const [role, setRole] = useState<Given>(kind === 'livery' || kind === 'team' ? 'paint' : 'copy');
  const [days, setDays] = useState<number>(30);
  const [link, setLink] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const does = async (what: () => Promise<unknown>) => {
    try {
      setProblem(null);
      await what();
      await mutate();
    } catch (failure) {
      setProblem(sentenceOf(failure));
    }
  };
  const give = () =>
    does(async () => {
      await send('POST', at, { name: who, role });
      setWho('');
    });
  const makeLink = () =>
    does(async () => {
      const { token } = await send<{ token: string }>('POST', `${at}/links`, { role, days: days || null });
      setLink(`${location.origin}/shared#${token}`);
    });
  const roles = kind === 'livery' ? ORDER : ORDER.filter((one) => one !== 'look');
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="share">
      <DialogTitle id="share">Share {name}</DialogTitle>
      <DialogContent>
        <Stack gap={16}>
          {(problem ?? error) && <Notice level="error">{problem ?? sentenceOf(error)}</Notice>}
          <Row
            as="form"
            gap={8}
            wrap
            above={6}
            onSubmit={(event) => {
              event.preventDefault();
              void give();
            }}
          >
            <Line
              label="painter’s name"
              value={who}
              onChange={(event) => setWho(event.target.value)}
              sx={{ flex: '1 1 160px' }}
            />
            <Line
              select
              label="who has it"
              value={role}
              onChange={(event) => setRole(event.target.value as Given)}
              sx={{ minWidth: 150 }}
            >
              {roles.map((one) => (
                <MenuItem key={one} value={one}>
                  {MAY[one]}
                </MenuItem>
              ))}
            </Line>
            <Button type="submit" variant="contained" disabled={who.trim() === ''}>
              Share
            </Button>
          </Row>
          <Row gap={8} wrap>
            <Line
              select
              label="a link is"
              value={days}
              onChange={(event) => setDays(Number(event.target.value))}
              sx={{ minWidth: 190 }}
            >
              {DAYS.map(([value, words]) => (
                <MenuItem key={value} value={value}>
                  {words}
                </MenuItem>
              ))}
            </Line>
            <Button onClick={() => void makeLink()}>Make a link: whoever has it {MAY[role]}</Button>
          </Row>
          {link && (
            <Stack gap={6}>
              <Quiet as="p">It is shown this once; hand it on.</Quiet>
              <Row gap={8}>
                <Line
                  fullWidth
                  label="link"
                  value={link}
                  onFocus={(event) => event.target.select()}
                  slotProps={{ htmlInput: { readOnly: true } }}
                />
                <Button onClick={() => void navigator.clipboard.writeText(link)}>Copy</Button>
              </Row>
            </Stack>
          )}
          {!data && !error && <LinearProgress aria-label="Reading with whom it is shared" />}
          {data && (
            <Stack gap={6}>
              <Heading as="h3">Who has it</Heading>
              <PlainList aria-label="Who has it" gap={4}>
                {data.people.map((one) => (
                  <Row as="li" key={`${one.id} ${one.role}`} gap={8}>
                    <Grow>
                      {one.name} <Quiet>{MAY[one.role] + (one.byLink ? ', by a link' : '')}</Quiet>
                    </Grow>
                    {one.role !== 'own' && (
                      <Button
                        size="small"
                        variant="text"
                        aria-label={`Take it back from ${one.name}`}
                        onClick={() => void does(() => send('DELETE', `${at}/${one.id}`))}
                      >
                        Take back
                      </Button>
                    )}
                  </Row>
                ))}
                {data.links.map((one) => (
                  <Row as="li" key={one.id} gap={8}>
                    <Grow>
                      <Mono>link</Mono>{' '}
                      <Quiet>
                        {MAY[one.role]}, made {dateInWords(one.createdAt)}
                        {one.endsAt && `, good until ${dateInWords(one.endsAt)}`}
                      </Quiet>
                    </Grow>
                    <Button
                      size="small"
                      variant="text"
                      aria-label="Take this link back"
                      onClick={() =>
                        void does(async () => {
                          await send('DELETE', `/links/${one.id}`);
                          setLink(null);
                        })
                      }
                    >
                      Take back
                    </Button>
                  </Row>
                ))}
              </PlainList>
              {data.people.length === 0 && (
                <Quiet as="p">It belongs to this server; whoever looks after it has it.</Quiet>
              )}
            </Stack>
          )}
        </Stack>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
