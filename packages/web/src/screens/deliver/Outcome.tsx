import { Button } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import { bayGame } from '@wet-lacquer/core/games/index.ts';
import type { DeliveryCard, PreflightAnswer } from '@wet-lacquer/sync/answers.ts';
import { count } from '../../lib/words.ts';
import { Row, Stack } from '../../parts/layout.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Mono, Quiet } from '../../parts/text.tsx';
import { MONO } from '../../theme.ts';
import { PublishDialog } from '../exchange/PublishDialog.tsx';

interface Props {
  delivery: DeliveryCard;
  answer: PreflightAnswer;
  /** Said where there are several. */
  named: boolean;
}

/** What became of a delivery: where everything went, or why not. */
export function Outcome({ delivery, answer, named }: Props) {
  const [publishing, setPublishing] = useState(false);
  const name = named ? `${answer.spec.gameName}: ` : '';
  if (delivery.state === 'failed')
    return (
      <Notice level="error">
        {name}
        {delivery.error}
      </Notice>
    );
  if (delivery.state === 'cancelled')
    return <p style={{ margin: '10px 0 0' }}>{name}Cancelled: nothing was written.</p>;
  const file = delivery.package ?? delivery.folder + (delivery.files[0]?.name ?? '');
  return (
    <Stack role="status" gap={6} above={12}>
      <div>
        <strong>Delivered</strong> {count(delivery.files.length, 'file')} of step {delivery.revision}
        {named && ` for ${answer.spec.gameName}`}
        {delivery.seconds !== null && ` in ${delivery.seconds.toFixed(1)} s`} to{' '}
        <Mono small>{delivery.package ?? (delivery.folder || 'the game’s folder')}</Mono>
        {delivery.slot !== null && answer.slot && `, as ${answer.slot.called} ${delivery.slot}`}
      </div>
      <Quiet as="div">{answer.spec.after}</Quiet>
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
      <Row align="stretch" gap={8} wrap>
        {bayGame(delivery.game) && (
          <Button component={Link} to={`/bay/${delivery.game}?livery=${encodeURIComponent(file)}`}>
            Open in the test bay
          </Button>
        )}
        <Button component="a" href={`/api/deliveries/${delivery.id}/zip`}>
          Save the {delivery.package ? 'package' : 'zip'}
        </Button>
        <Button component="a" href={`/api/deliveries/${delivery.id}/note`}>
          Save the delivery note
        </Button>
        <Button onClick={() => setPublishing(true)}>Hand it on …</Button>
      </Row>
      {publishing && <PublishDialog delivery={delivery} onClose={() => setPublishing(false)} />}
    </Stack>
  );
}
