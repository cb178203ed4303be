import { Button, LinearProgress } from '@mui/material';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { mutate } from 'swr';
import { bayGame } from '@wet-lacquer/core/games/index.ts';
import type { ListingAnswer } from '@wet-lacquer/sync/exchange.ts';
import { send, sentenceOf } from '../../lib/api.ts';
import { count, dateInWords } from '../../lib/words.ts';
import { PlainList, Row, Stack } from '../../parts/layout.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Heading, Quiet } from '../../parts/text.tsx';
import { INK } from '../../theme.ts';
import { SayDialog } from './SayDialog.tsx';
import { SkinFacts } from './SkinFacts.tsx';
import { Swatches } from './SkinCard.tsx';

/** What was read of the exchange is read again, and what it changed in the games. */
const toldAnew = () => mutate((key) => typeof key === 'string' && /^\/(exchange|bay)/.test(key));

/** What it is, and what can be done with it. */
export function SkinAbout({ skin }: { skin: ListingAnswer }) {
  const navigate = useNavigate();
  const [busy, setBusy] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const [asking, setAsking] = useState<'report' | 'take-down' | null>(null);
  const does = async (what: string, work: () => Promise<string | null>) => {
    setBusy(what);
    setProblem(null);
    setSaid(null);
    try {
      setSaid(await work());
      await toldAnew();
    } catch (error) {
      setProblem(sentenceOf(error));
    } finally {
      setBusy(null);
    }
  };
  const putIn = () =>
    does('It is put into the game', async () => {
      await send('POST', `/exchange/${skin.id}/put-in`, {});
      return null;
    });
  const takeOut = () =>
    does('It is taken out of the game', async () => {
      const { left } = await send<{ left: string[] }>('POST', `/exchange/${skin.id}/take-out`);
      return left.length === 0
        ? 'It is out of the game; what was there before is back.'
        : `It is out of the game. Changed by others since, and left as they are: ${left.join(', ')}.`;
    });
  const goOn = () =>
    does('A livery is begun with it', async () => {
      const { id } = await send<{ id: string }>('POST', `/exchange/${skin.id}/livery`);
      await navigate(`/liveries/${id}`);
      return null;
    });
  const { putInAs } = skin;
  const stops = skin.findings.filter(({ level }) => level === 'stop');
  return (
    <aside
      aria-label="About this skin"
      style={{ overflowY: 'auto', background: INK.panel, borderLeft: `1px solid ${INK.line}`, padding: 16 }}
    >
      <Stack gap={12}>
        <div>
          <Heading as="h1" size={16}>
            {skin.name}
          </Heading>
          <Quiet as="div">
            by {skin.by}
            {skin.crew && `, ${skin.crew}`}
          </Quiet>
          <Quiet as="div">
            {skin.subject} for {skin.gameName}
          </Quiet>
          {skin.from && (
            <Quiet as="div" small mono>
              from {skin.from}
            </Quiet>
          )}
        </div>
        {skin.takenDown !== null && <Notice level="warning">It was taken down: {skin.takenDown}</Notice>}
        {problem && <Notice level="error">{problem}</Notice>}
        {busy && <LinearProgress aria-label={busy} />}
        {said && <div role="status">{said}</div>}
        <Row gap={8} wrap>
          {(!putInAs || putInAs.version < skin.version) && skin.takenDown === null && (
            <Button variant="contained" disabled={busy !== null || stops.length > 0} onClick={() => void putIn()}>
              {putInAs ? `Put version ${skin.version} in` : 'Put it into the game'}
            </Button>
          )}
          {putInAs && (
            <Button disabled={busy !== null} onClick={() => void takeOut()}>
              Take it out
            </Button>
          )}
          {putInAs && bayGame(skin.game) && (
            <Button component={Link} to={`/bay/${skin.game}?livery=${encodeURIComponent(putInAs.files[0])}`}>
              Open in the test bay
            </Button>
          )}
          {skin.adapt && skin.takenDown === null && (
            <Button disabled={busy !== null} onClick={() => void goOn()}>
              Go on from it
            </Button>
          )}
        </Row>
        {putInAs && (
          <div role="status">
            <strong>In the game</strong> since {dateInWords(putInAs.createdAt)}: version {putInAs.version}
            {putInAs.number !== null && skin.called && `, ${skin.called} ${putInAs.number}`},{' '}
            {count(putInAs.files.length, 'file')}.
            {putInAs.notes.map((note) => (
              <Notice key={note} level="warning">
                {note}
              </Notice>
            ))}
          </div>
        )}
        {skin.findings.length > 0 && (
          <PlainList gap={6} aria-label="What was found in it">
            {skin.findings.map(({ level, says }) => (
              <li key={says}>
                <Notice level={level === 'stop' ? 'error' : 'warning'}>{says}</Notice>
              </li>
            ))}
          </PlainList>
        )}
        {skin.about && <p style={{ margin: 0, whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' }}>{skin.about}</p>}
        <Row gap={8}>
          <Swatches colours={skin.colours} />
        </Row>
        <SkinFacts skin={skin} />
        {skin.reports.length > 0 && (
          <section aria-label="What was said against it">
            <Heading as="h2">What was said against it</Heading>
            <PlainList gap={4}>
              {skin.reports.map(({ why, by, createdAt }) => (
                <li key={createdAt}>
                  {why}{' '}
                  <Quiet small>
                    {by ?? 'a painter'}, {dateInWords(createdAt)}
                  </Quiet>
                </li>
              ))}
            </PlainList>
          </section>
        )}
        <Row gap={8} wrap>
          <Button size="small" onClick={() => setAsking('report')}>
            Say something against it …
          </Button>
          {skin.own &&
            (skin.takenDown === null ? (
              <Button size="small" onClick={() => setAsking('take-down')}>
                Take it down …
              </Button>
            ) : (
              <Button
                size="small"
                onClick={() =>
                  void does('It is put back', async () => {
                    await send('POST', `/exchange/${skin.id}/put-back`);
                    return 'It is listed again.';
                  })
                }
              >
                List it again
              </Button>
            ))}
        </Row>
      </Stack>
      {asking && (
        <SayDialog
          title={asking === 'report' ? `What is wrong with ${skin.name}` : `Take ${skin.name} down`}
          button={asking === 'report' ? 'Say it' : 'Take it down'}
          onClose={() => setAsking(null)}
          onSay={(why) =>
            does('It is told', async () => {
              setAsking(null);
              await send('POST', `/exchange/${skin.id}/${asking === 'report' ? 'reports' : 'take-down'}`, { why });
              return asking === 'report'
                ? 'It is told to whoever looks after this server.'
                : 'It is not listed any more.';
            })
          }
        />
      )}
    </aside>
  );
}
