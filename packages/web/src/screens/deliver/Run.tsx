import { Button } from '@mui/material';
import { useState } from 'react';
import type { DeliveryCard, PlannedCard, PreflightAnswer } from '@wet-lacquer/sync/answers.ts';
import { Row } from '../../parts/layout.tsx';
import { send, sentenceOf } from '../../lib/api.ts';
import { count, size } from '../../lib/words.ts';
import { Notice } from '../../parts/Notice.tsx';
import { INK } from '../../theme.ts';
import { stopsOf, toWrite } from './answers.ts';
import { Outcome } from './Outcome.tsx';
import { Progress } from './Progress.tsx';
import { isUnderWay } from './underWay.ts';

interface Props {
  /** Of every spec that the livery is delivered by. */
  answers: readonly PreflightAnswer[];
  shown: PreflightAnswer;
  liveryId: string;
  deliveries: DeliveryCard[];
  overruled: ReadonlySet<string>;
  /** The newest step of the livery. */
  newest: number;
  /** Steps are not saved, and nobody said that it goes on without them. */
  waits: boolean;
  /** What is shown is of an earlier step, and the newest is being looked through. */
  looking: boolean;
  onChange(): Promise<void>;
}

/** The one button; while it runs its progress, afterwards where everything went. */
export function Run({ answers, shown, liveryId, deliveries, overruled, newest, waits, looking, onChange }: Props) {
  /** What was asked for in one go. */
  const [started, setStarted] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const several = answers.length > 1;
  const files = answers.flatMap(toWrite);
  const stops = answers.reduce((n, answer) => n + stopsOf(answer, overruled), 0);
  const running = deliveries.find(isUnderWay);
  const together = (batch: string | null | undefined) => deliveries.filter((one) => one.batch === batch).reverse();
  const ended = together(started);
  const answerOf = ({ specKey }: DeliveryCard) => answers.find(({ spec }) => spec.key === specKey);

  const deliver = async (specs?: string[]) => {
    setBusy(true);
    setProblem(null);
    try {
      // What is shown is delivered, whatever came since.
      const asked = { specs, revision: shown.revision, overrule: [...overruled] };
      setStarted((await send<DeliveryCard>('POST', `/liveries/${liveryId}/deliveries`, asked)).batch);
    } catch (error) {
      setProblem(sentenceOf(error));
    }
    await onChange();
    setBusy(false);
  };
  const cancel = async () => {
    await send('POST', `/deliveries/${running!.id}/cancel`).catch((error: unknown) => setProblem(sentenceOf(error)));
    await onChange();
  };

  return (
    <footer
      style={{
        flex: 'none',
        maxHeight: '55%',
        overflowY: 'auto',
        padding: '12px 18px',
        borderTop: `1px solid ${INK.line}`,
        background: INK.panel,
      }}
    >
      {problem && <Notice level="error">{problem}</Notice>}
      {running ? (
        <Row gap={14}>
          <Progress
            of={together(running.batch)}
            nameOf={(one) => (several ? (answerOf(one)?.spec.gameName ?? one.game) : null)}
          />
          <Button
            onClick={() => void cancel()}
            disabled={together(running.batch).every((one) => !isUnderWay(one) || one.state === 'publishing')}
          >
            Cancel
          </Button>
        </Row>
      ) : (
        <div style={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: '8px 16px' }}>
          <Button
            variant="contained"
            color="primary"
            size="large"
            disabled={stops > 0 || busy || waits || looking || files.length === 0}
            onClick={() => void deliver()}
            sx={{ fontSize: 15, minHeight: 40, px: 3, flex: 'none' }}
          >
            Deliver {count(files.length, 'file')}
            {several && ` by ${answers.length} specs`}
          </Button>
          {several && (
            <Button
              size="large"
              sx={{ flex: 'none' }}
              disabled={stopsOf(shown, overruled) > 0 || busy || waits || looking || toWrite(shown).length === 0}
              onClick={() => void deliver([shown.spec.key])}
            >
              Only to {shown.spec.gameName}
            </Button>
          )}
          <span style={{ color: INK.quiet, flex: '1 1 220px' }}>
            {waits ? 'Waits for steps that are not saved yet. ' : ''}
            {looking && !waits ? 'Looks at the newest step. ' : ''}
            {stops > 0 ? `Waits for ${count(stops, 'finding')}. ` : ''}
            Step {shown.revision}
            {newest > shown.revision ? `; ${count(newest - shown.revision, 'newer step')}` : ', the newest'}.{' '}
            {weightOf(files)} into{' '}
            {several ? 'the games’ folders' : shown.package ? 'one package' : 'the game’s folder'}.
            {answers.map(({ spec }) => (spec.before ? ` ${spec.before}` : ''))}
          </span>
          {newest > shown.revision && (
            <Button size="small" onClick={() => void onChange()}>
              Look at the newest
            </Button>
          )}
        </div>
      )}
      {!running &&
        ended.map((one) => <Outcome key={one.id} delivery={one} answer={answerOf(one) ?? shown} named={several} />)}
    </footer>
  );
}

/** How much will be written; what is known only once it is made is not in it, and that is said. */
function weightOf(files: readonly PlannedCard[]): string {
  const known = files.reduce((n, file) => n + file.bytes, 0);
  const unknown = files.filter(({ bytes }) => bytes === 0).length;
  if (unknown === 0) return size(known);
  return known === 0 ? count(files.length, 'file') : `${size(known)} and ${count(unknown, 'file')} of unknown size`;
}
