import { Button, LinearProgress } from '@mui/material';
import { useEffect, useMemo, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import useSWR from 'swr';
import { BAY_GAMES, bayGame } from '@wet-lacquer/core/games/index.ts';
import type { BaySheet } from '@wet-lacquer/core/bay/report.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { seenBy } from '@wet-lacquer/core/exchange/seenBy.ts';
import type { GameFile, TemplateCard } from '@wet-lacquer/sync/answers.ts';
import type { Seen } from '@wet-lacquer/sync/exchange.ts';
import { Columns } from '../../parts/Columns.tsx';
import { Column, PlainList, Row } from '../../parts/layout.tsx';
import { Heading, Quiet } from '../../parts/text.tsx';
import { sentenceOf } from '../../lib/api.ts';
import { noteLooked } from '../../lib/looked.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { Trail } from '../../shell/Trail.tsx';
import { INK, MONO } from '../../theme.ts';
import { BayLevel } from './BayLevel.tsx';
import { BAY_GROUND, BayModel } from './BayModel.tsx';
import { BayRowScreen } from './BayRowScreen.tsx';
import { useBay } from './useBay.ts';
import { Cancel, CheckMark, HelpCircleOutline } from '../../parts/icons.tsx';

/** The game looks at its folder this often. */
const RELOAD_MS = 800;

/** A stand-in game: it sees only what was delivered, and says what it made of it. */
export function BayScreen() {
  const { game } = useParams();
  return game === undefined ? <BayRowScreen /> : <Bay key={game} game={game} />;
}

function Bay({ game }: { game: string }) {
  const navigate = useNavigate();
  const [search, setSearch] = useSearchParams();
  const { data: templates } = useSWR<TemplateCard[]>('/templates');
  const card = templates?.find((t) => t.game === game);
  const { data: template } = useSWR<Template>(card ? `/templates/${card.hash}` : null, {
    revalidateIfStale: false,
    revalidateOnFocus: false,
  });
  const { data: files, error, mutate } = useSWR<GameFile[]>(`/bay/${game}`, { refreshInterval: RELOAD_MS });
  const [livery, setLivery] = useState(search.get('livery'));
  useEffect(() => noteLooked('bay', game), [game]);
  const { data: seen } = useSWR<Seen>(`/exchange/seen/${game}`);
  const [eyes, setEyes] = useState(MINE);
  const looked = files && seen && eyes !== MINE ? throughEyes(files, seen, eyes) : files;
  const stable = useStable(looked);
  const { answer, problem } = useBay(game, stable, livery, template?.mesh ?? null);

  const played = bayGame(game);
  if (!played) return <NoGame game={game} />;
  const report = answer?.report ?? null;
  return (
    <Column full>
      <TopBar
        trail={
          <Trail to="/bay" of="Test bay">
            {played.name}
          </Trail>
        }
      />
      <Columns sizes={['minmax(0, 1fr)', '380px']} heights={['70vh', 'max-content']}>
        <div style={{ minWidth: 0, minHeight: 0, background: BAY_GROUND }}>
          {answer?.scene && <BayLevel scene={answer.scene} game={game} />}
          {template && report && !answer?.scene && <BayModel template={template} report={report} view={played.view} />}
          {!report && answer && (
            <div style={{ background: INK.room, height: '100%' }}>
              <Nothing title="The game finds no livery">
                <p>Deliver one from its easel; it appears here by itself. The game looks only into its own folder.</p>
              </Nothing>
            </div>
          )}
          {!answer && !error && <LinearProgress aria-label="The game is loading" />}
        </div>
        <aside
          aria-label="What the game made of it"
          style={{
            overflowY: 'auto',
            background: INK.panel,
            borderLeft: `1px solid ${INK.line}`,
            padding: 16,
          }}
        >
          <Row gap={8}>
            <Heading as="h1" size={15} grow>
              What the game made of it
            </Heading>
            <Button size="small" onClick={() => void mutate()}>
              Reload
            </Button>
          </Row>
          <div style={{ marginTop: 12 }}>
            <Choice
              label="game"
              value={played.key}
              options={BAY_GAMES.map((one) => ({ value: one.key, label: one.name }))}
              onChange={(key) => void navigate(`/bay/${key}`)}
            />
          </div>
          {seen && seen.ofSkins.length > 0 && (
            <div style={{ marginTop: 12 }}>
              <Choice
                label="seen by"
                value={eyes}
                options={[
                  { value: MINE, label: 'you: this folder' },
                  ...seen.friends.map(({ who }, i) => ({ value: String(i), label: who, note: 'their folder' })),
                  { value: NOBODY, label: 'somebody who has none of it' },
                ]}
                onChange={setEyes}
              />
              {eyes !== MINE && (
                <Quiet as="p" small>
                  Others see a skin only where the same files lie under the same names in their own folder.
                </Quiet>
              )}
            </div>
          )}
          {(problem ?? error) && <Notice level="error">{problem ?? sentenceOf(error)}</Notice>}
          {answer && answer.keys.length > 0 && report && (
            <div style={{ margin: '12px 0' }}>
              <Choice
                label="livery"
                value={report.livery}
                options={answer.keys.map((key) => ({ value: key, label: key }))}
                onChange={(key) => {
                  setLivery(key);
                  setSearch({ livery: key }, { replace: true });
                }}
              />
            </div>
          )}
          {report && (
            <>
              <h2 style={{ fontSize: 13, margin: '14px 0 6px' }}>Sheets</h2>
              <PlainList gap={8}>
                {report.sheets.map((sheet) => (
                  <SheetLine key={sheet.key} sheet={sheet} />
                ))}
              </PlainList>
              {report.plates.length > 0 && (
                <>
                  <h2 style={{ fontSize: 13, margin: '18px 0 6px' }}>Plates</h2>
                  <PlainList gap={8}>
                    {report.plates.map((plate) => (
                      <SheetLine key={plate.name} sheet={{ ...plate, key: plate.name }} />
                    ))}
                  </PlainList>
                </>
              )}
              {report.facts.length > 0 && (
                <>
                  <h2 style={{ fontSize: 13, margin: '18px 0 6px' }}>What it read</h2>
                  <dl style={{ margin: 0, display: 'grid', gridTemplateColumns: '120px 1fr', gap: '3px 8px' }}>
                    {report.facts.map(({ label, value, hex }) => (
                      <div key={label} style={{ display: 'contents' }}>
                        <Quiet as="dt">{label}</Quiet>
                        <dd style={{ margin: 0, display: 'flex', alignItems: 'center', gap: 6 }}>
                          {hex && (
                            <span
                              style={{ width: 14, height: 14, background: hex, outline: `1px solid ${INK.edge}` }}
                            />
                          )}
                          {value}
                          {hex && !value.includes(hex) && (
                            <Quiet small mono>
                              {hex}
                            </Quiet>
                          )}
                        </dd>
                      </div>
                    ))}
                  </dl>
                </>
              )}
            </>
          )}
          <Ignored lines={[...(answer?.ignored ?? []), ...(report?.ignored ?? [])]} />
        </aside>
      </Columns>
    </Column>
  );
}

/** A game that has no stand-in. */
function NoGame({ game }: { game: string }) {
  return (
    <Column full>
      <TopBar trail="Test bay" />
      <main>
        <Nothing title={`There is no stand-in for “${game}” here`}>
          <p>
            Deliveries for it are files like any other: look at them in the game itself. These games have a stand-in:
          </p>
          <Row gap={8} wrap spread="center">
            {BAY_GAMES.map(({ key, name }) => (
              <Button key={key} component={Link} to={`/bay/${key}`}>
                {name}
              </Button>
            ))}
          </Row>
        </Nothing>
      </main>
    </Column>
  );
}

/** Whose eyes: one's own, nobody's in particular, or somebody's by their place in the list. */
const [MINE, NOBODY] = ['mine', 'nobody'];

function throughEyes(files: GameFile[], { ofSkins, continued, friends }: Seen, eyes: string): GameFile[] {
  const theirs = eyes === NOBODY ? {} : (friends[Number(eyes)]?.files ?? {});
  return seenBy(files, new Set(ofSkins), new Set(continued), new Map(Object.entries(theirs)));
}

/** The same array as long as the folder is the same. */
function useStable(files: GameFile[] | undefined): GameFile[] | undefined {
  const key = files?.map((file) => `${file.name} ${file.hash}`).join('\n');
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the key stands for the files
  return useMemo(() => files, [key]);
}

const LOOKS: Record<BaySheet['status'], { word: string; Icon: typeof CheckMark; colour: string }> = {
  shown: { word: 'shown', Icon: CheckMark, colour: INK.good },
  own: { word: 'the game’s own', Icon: HelpCircleOutline, colour: INK.quiet },
  missing: { word: 'missing', Icon: Cancel, colour: INK.red },
  refused: { word: 'refused', Icon: Cancel, colour: INK.red },
};

function SheetLine({ sheet }: { sheet: Pick<BaySheet, 'key' | 'file' | 'status' | 'why'> }) {
  const { word, Icon, colour } = LOOKS[sheet.status];
  return (
    <li
      style={{
        display: 'grid',
        gridTemplateColumns: '22px 1fr',
        border: `1px solid ${INK.line}`,
        borderRadius: 2,
        padding: '6px 8px',
        background: INK.raised,
      }}
    >
      <Icon fontSize="small" sx={{ color: colour }} />
      <div>
        <strong style={{ fontWeight: 600 }}>{sheet.key}</strong> {word}
        <div style={{ fontFamily: MONO, fontSize: 12, color: INK.quiet, overflowWrap: 'anywhere' }}>{sheet.file}</div>
        {sheet.why && <div>{sheet.why}</div>}
      </div>
    </li>
  );
}

function Ignored({ lines }: { lines: { file: string; why: string }[] }) {
  if (lines.length === 0) return null;
  return (
    <>
      <h2 style={{ fontSize: 13, margin: '18px 0 6px' }}>Ignored</h2>
      <PlainList gap={8}>
        {lines.map(({ file, why }) => (
          <li key={`${file} ${why}`}>
            <div style={{ fontFamily: MONO, fontSize: 12, overflowWrap: 'anywhere' }}>{file}</div>
            <Quiet as="div">{why}</Quiet>
          </li>
        ))}
      </PlainList>
    </>
  );
}
