import { Button, LinearProgress } from '@mui/material';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import useSWR, { mutate } from 'swr';
import { bayGame } from '@wet-lacquer/core/games/index.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { GameFile, TemplateCard } from '@wet-lacquer/sync/answers.ts';
import type { ListingAnswer } from '@wet-lacquer/sync/exchange.ts';
import { send, sentenceOf } from '../../lib/api.ts';
import { count, dateInWords, size } from '../../lib/words.ts';
import { Columns } from '../../parts/Columns.tsx';
import { Column, PlainList, Row, Stack } from '../../parts/layout.tsx';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { Heading, Hidden, Mono, Quiet } from '../../parts/text.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { Trail } from '../../shell/Trail.tsx';
import { INK } from '../../theme.ts';
import { BayLevel } from '../bay/BayLevel.tsx';
import { BAY_GROUND, BayModel } from '../bay/BayModel.tsx';
import { useBay } from '../bay/useBay.ts';
import { Swatches } from './ExchangeScreen.tsx';
import { SayDialog } from './SayDialog.tsx';

/** One skin that was handed on: seen before it is taken, put into the game and out of it. */
export function SkinScreen() {
  const { id = '' } = useParams();
  const { data, error } = useSWR<ListingAnswer>(`/exchange/${id}`);
  return (
    <Column full>
      <TopBar
        trail={
          <Trail to="/exchange" of="Exchange">
            {data?.name ?? ''}
          </Trail>
        }
      />
      {error && !data && (
        <main>
          <Hidden as="h1">Exchange</Hidden>
          <Nothing title="This skin is not here">
            <p>{sentenceOf(error)}</p>
            <Button component={Link} to="/exchange">
              To the exchange
            </Button>
          </Nothing>
        </main>
      )}
      {!data && !error && <LinearProgress aria-label="Reading the skin" />}
      {data && (
        <Columns sizes={['minmax(0, 1fr)', '380px']} heights={['60vh', 'max-content']}>
          <Look skin={data} />
          <About skin={data} />
        </Columns>
      )}
    </Column>
  );
}

/** What was read of the exchange is read again, and what it changed in the games. */
const toldAnew = () => mutate((key) => typeof key === 'string' && /^\/(exchange|bay)/.test(key));

/** On the turntable where its subject is here, by the game's own loader; else its pictures. */
function Look({ skin }: { skin: ListingAnswer }) {
  const at = `/exchange/${skin.id}/${skin.version}`;
  const played = bayGame(skin.game);
  const { data: templates } = useSWR<TemplateCard[]>('/templates');
  const here = played && templates?.some(({ hash }) => hash === skin.template);
  const { data: template } = useSWR<Template>(here ? `/templates/${skin.template}` : null, {
    revalidateIfStale: false,
    revalidateOnFocus: false,
  });
  const { data: files } = useSWR<GameFile[]>(here ? `${at}/folder` : null, {
    revalidateIfStale: false,
    revalidateOnFocus: false,
  });
  const { answer, problem } = useBay(skin.game, template && files, null, template?.mesh ?? null, at);
  const report = answer?.report;
  return (
    <div style={{ minWidth: 0, minHeight: 0, background: BAY_GROUND, position: 'relative' }}>
      {answer?.scene && <BayLevel scene={answer.scene} />}
      {template && report && played && !answer.scene && (
        <BayModel template={template} report={report} view={played.view} />
      )}
      {problem && <Notice level="error">{problem}</Notice>}
      {here && !answer && !problem && <LinearProgress aria-label="The game is loading it" />}
      {templates && !here && (
        <div style={{ height: '100%', overflow: 'auto', display: 'grid', alignContent: 'center', gap: 8, padding: 16 }}>
          {skin.shows.map((shows, i) => (
            <img
              key={shows}
              src={`/api/exchange/${skin.id}/${skin.version}/pictures/${i}`}
              alt={`${skin.name}, ${shows}`}
              style={{ maxWidth: '100%', margin: '0 auto', display: 'block' }}
            />
          ))}
        </div>
      )}
    </div>
  );
}

function About({ skin }: { skin: ListingAnswer }) {
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
        <Facts skin={skin} />
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

/** Its terms, who has it, its files and versions. */
function Facts({ skin }: { skin: ListingAnswer }) {
  const bytes = skin.files.reduce((sum, file) => sum + file.bytes, 0);
  return (
    <>
      <section aria-label="Terms">
        <Heading as="h2">What others may do</Heading>
        <p style={{ margin: '4px 0' }}>{skin.terms}</p>
        <Quiet as="p">
          {skin.adapt ? 'Others may go on from it with a livery of their own.' : 'The livery itself does not go along.'}
        </Quiet>
        {skin.after && (
          <Quiet as="p">
            It goes on from {skin.after.name} by {skin.after.by}: {skin.after.licence}
          </Quiet>
        )}
        {skin.credits.map(({ name, origin, licence }) => (
          <Quiet as="p" key={`${name} ${origin}`} small>
            {name}: {origin}, {licence}
          </Quiet>
        ))}
      </section>
      <section aria-label="Who has it">
        <Heading as="h2">Who has it</Heading>
        {skin.friends.length === 0 ? (
          <Quiet as="p">Nobody has said so yet. Others see it only with the same files in their own game.</Quiet>
        ) : (
          <PlainList>
            {skin.friends.map(({ who, version }) => (
              <li key={who}>
                {who} <Quiet>version {version}</Quiet>
              </li>
            ))}
          </PlainList>
        )}
      </section>
      <details>
        <summary style={{ cursor: 'pointer' }}>
          {count(skin.files.length, 'file')}, {size(bytes)}
        </summary>
        <PlainList gap={4}>
          {skin.files.map(({ name, what, bytes: own }) => (
            <li key={name} style={{ overflowWrap: 'anywhere' }}>
              <Mono small>{name}</Mono> <Quiet small>{[what, size(own)].filter(Boolean).join(', ')}</Quiet>
            </li>
          ))}
        </PlainList>
      </details>
      <details>
        <summary style={{ cursor: 'pointer' }}>{count(skin.versions.length, 'version')}</summary>
        <PlainList gap={4}>
          {skin.versions.map(({ version, news, createdAt }) => (
            <li key={version}>
              {version} <Quiet>{dateInWords(createdAt)}</Quiet> {news}
            </li>
          ))}
        </PlainList>
      </details>
    </>
  );
}
