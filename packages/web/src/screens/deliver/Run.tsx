import { Button, LinearProgress } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import { send, sentenceOf } from '../../lib/api.ts';
import type { DeliveryCard, PreflightAnswer } from '../../lib/types.ts';
import { count, size } from '../../lib/words.ts';
import { Notice } from '../../parts/Notice.tsx';
import { INK, MONO } from '../../theme.ts';
import { isUnderWay } from './underWay.ts';

interface Props {
  answer: PreflightAnswer;
  liveryId: string;
  deliveries: DeliveryCard[];
  onChange(): Promise<void>;
}

/** The one button; while it runs its progress, afterwards where everything went. */
export function Run({ answer, liveryId, deliveries, onChange }: Props) {
  const [started, setStarted] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const files = answer.files.filter((file) => file.leftOut === null);
  const stops = answer.preflight.findings.filter((finding) => finding.level === 'stop').length;
  const running = deliveries.find(isUnderWay);
  const last = started ? deliveries.find((d) => d.id === started) : undefined;

  const deliver = async () => {
    setBusy(true);
    setProblem(null);
    try {
      setStarted((await send<DeliveryCard>('POST', `/liveries/${liveryId}/deliveries`)).id);
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
    <footer style={{ flex: 'none', padding: '12px 18px', borderTop: `1px solid ${INK.line}`, background: INK.panel }}>
      {problem && <Notice level="error">{problem}</Notice>}
      {running ? (
        <div style={{ display: 'flex', alignItems: 'center', gap: 14 }}>
          <div style={{ flex: 1 }}>
            <div role="status" style={{ marginBottom: 6 }}>
              {running.state === 'publishing' ? 'Putting the files in place' : running.progress.what}
            </div>
            <LinearProgress
              variant="determinate"
              aria-label="Delivery"
              value={(100 * running.progress.done) / Math.max(1, running.progress.of)}
            />
          </div>
          <Button onClick={() => void cancel()} disabled={running.state === 'publishing'}>
            Cancel
          </Button>
        </div>
      ) : (
        <div style={{ display: 'flex', alignItems: 'center', gap: 16 }}>
          <Button
            variant="contained"
            color="primary"
            size="large"
            disabled={stops > 0 || busy || files.length === 0}
            onClick={() => void deliver()}
            sx={{ fontSize: 15, minHeight: 40, px: 3 }}
          >
            Deliver {count(files.length, 'file')}
          </Button>
          <span style={{ color: INK.quiet }}>
            {stops > 0 ? `Waits for ${count(stops, 'finding')}. ` : ''}
            {size(files.reduce((n, file) => n + file.bytes, 0))} into{' '}
            {answer.package ? 'one package' : 'the game’s folder and a zip'}.
            {answer.spec.before && ` ${answer.spec.before}`}
          </span>
        </div>
      )}
      {!running && last && <Outcome delivery={last} answer={answer} />}
    </footer>
  );
}

function Outcome({ delivery, answer }: { delivery: DeliveryCard; answer: PreflightAnswer }) {
  if (delivery.state === 'failed') return <Notice level="error">{delivery.error}</Notice>;
  if (delivery.state === 'cancelled') return <p style={{ margin: '10px 0 0' }}>Cancelled: nothing was written.</p>;
  const file = delivery.package ?? delivery.folder + (delivery.files[0]?.name ?? '');
  return (
    <div role="status" style={{ marginTop: 12, display: 'grid', gap: 6 }}>
      <div>
        <strong>Delivered</strong> {count(delivery.files.length, 'file')}
        {delivery.seconds !== null && ` in ${delivery.seconds.toFixed(1)} s`} to{' '}
        <span style={{ fontFamily: MONO, fontSize: 12 }}>
          {delivery.package ?? (delivery.folder || 'the game’s folder')}
        </span>
        {delivery.slot !== null && answer.slot && `, as ${answer.slot.called} ${delivery.slot}`}
      </div>
      <div style={{ color: INK.quiet }}>{answer.spec.after}</div>
      <details>
        <summary style={{ cursor: 'pointer' }}>SHA-256 of each file</summary>
        <ul
          style={{
            margin: '4px 0 0',
            padding: 0,
            listStyle: 'none',
            fontFamily: MONO,
            fontSize: 11,
            overflowWrap: 'anywhere',
          }}
        >
          {delivery.files.map((file) => (
            <li key={file.name}>
              {file.name}: {file.blob}
            </li>
          ))}
        </ul>
      </details>
      <div style={{ display: 'flex', gap: 8 }}>
        <Button component={Link} to={`/bay/${delivery.game}?livery=${encodeURIComponent(file)}`}>
          Open in the test bay
        </Button>
        <Button component="a" href={`/api/deliveries/${delivery.id}/zip`}>
          Save the {delivery.package ? 'package' : 'zip'}
        </Button>
        <Button component="a" href={`/api/deliveries/${delivery.id}/note`}>
          Save the delivery note
        </Button>
      </div>
    </div>
  );
}
