import { Button, LinearProgress } from '@mui/material';
import type { DeliveryCard } from '@wet-lacquer/sync/answers.ts';
import { count } from '../../lib/words.ts';
import { Row } from '../../parts/layout.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Quiet } from '../../parts/text.tsx';
import { INK } from '../../theme.ts';
import { toWrite } from '../deliver/answers.ts';
import { Outcome } from '../deliver/Outcome.tsx';
import { Progress } from '../deliver/Progress.tsx';
import { isUnderWay } from '../deliver/underWay.ts';
import type { TeamDelivery } from './useTeamDelivery.ts';

/** One button for all; while it runs one progress, afterwards where everything went. */
export function TeamRun({ delivery }: { delivery: TeamDelivery }) {
  const { looked, going, stops, run, busy, problem, deliver, cancel } = delivery;
  const running = run?.some(isUnderWay) ?? false;
  const files = going.reduce((sum, { answers }) => sum + answers.reduce((n, one) => n + toWrite(one).length, 0), 0);
  const of = ({ liveryId }: DeliveryCard) => looked?.find(({ mate }) => mate.id === liveryId);
  const nameOf = (one: DeliveryCard) => of(one)?.mate.name ?? one.game;
  return (
    <footer
      style={{
        ...{ flex: 'none', maxHeight: '50%', overflowY: 'auto', padding: '12px 24px' },
        ...{ borderTop: `1px solid ${INK.line}`, background: INK.panel },
      }}
    >
      {busy && !running && <LinearProgress aria-label="Looking through all of it once more" />}
      {problem && <Notice level="error">{problem}</Notice>}
      {running ? (
        <Row gap={14}>
          <Progress of={run!} nameOf={nameOf} />
          <Button
            disabled={busy || run!.every((one) => !isUnderWay(one) || one.state === 'publishing')}
            onClick={() => void cancel()}
          >
            Cancel
          </Button>
        </Row>
      ) : (
        <Row gap={16} wrap>
          <Button
            variant="contained"
            color="primary"
            size="large"
            disabled={busy || stops > 0 || files === 0}
            onClick={() => void deliver()}
            sx={{ fontSize: 15, minHeight: 40, px: 3, flex: 'none' }}
          >
            Deliver {count(going.length, 'livery', 'liveries')}
          </Button>
          <Quiet>
            {stops > 0 ? `Waits for ${count(stops, 'finding')}.` : `${count(files, 'file')} into the games’ folders.`}
          </Quiet>
        </Row>
      )}
      {!running &&
        run?.map((one) => {
          const answer = of(one)?.answers.find(({ spec }) => spec.key === one.specKey);
          return (
            <section key={one.id} aria-label={nameOf(one)} style={{ marginTop: 8 }}>
              <strong style={{ fontWeight: 600 }}>{nameOf(one)}</strong>
              {answer && <Outcome delivery={one} answer={answer} named />}
            </section>
          );
        })}
    </footer>
  );
}
