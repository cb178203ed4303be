import { Button } from '@mui/material';
import { useState } from 'react';
import type { BrokenCard } from '@wet-lacquer/sync/answers.ts';
import { Row } from '../../parts/layout.tsx';
import { send, sentenceOf } from '../../lib/api.ts';
import { dateInWords } from '../../lib/words.ts';
import { Notice } from '../../parts/Notice.tsx';
import { INK } from '../../theme.ts';
import { ImageBrokenVariant } from '../../parts/icons.tsx';

interface Props {
  card: BrokenCard;
  onBin(): void;
  /** It can be read again. */
  onHealed(): void;
}

/** A livery that cannot be read as it is: why, up to where it can, and the ways on from there. */
export function BrokenLivery({ card, onBin, onHealed }: Props) {
  const [problem, setProblem] = useState<string | null>(null);
  const { why, lastGood } = card.broken;
  const goBack = async () => {
    try {
      await send('POST', `/liveries/${card.id}/return`);
      onHealed();
    } catch (failure) {
      setProblem(sentenceOf(failure));
    }
  };
  // At its last step the state itself is good: what it needs beside it is not here.
  const behind = lastGood !== null && lastGood < card.revision;
  return (
    <li
      aria-label={card.name}
      style={{ background: INK.panel, border: `1px solid ${INK.amber}`, borderRadius: 2, padding: 12 }}
    >
      <Row gap={8}>
        <ImageBrokenVariant sx={{ color: INK.amber }} />
        <span style={{ fontWeight: 600, fontSize: 14 }}>{card.name}</span>
      </Row>
      <p style={{ margin: '8px 0' }}>It cannot be opened. {why}</p>
      <p style={{ margin: '8px 0', color: INK.quiet }}>
        {lastGood === null
          ? 'None of its states can be read.'
          : behind
            ? `It can be read up to step ${lastGood} of ${card.revision}; last changed ${dateInWords(card.updatedAt)}. Going on from there sets the later steps aside, where they can be made again or saved.`
            : `All its ${card.revision} steps can be read; last changed ${dateInWords(card.updatedAt)}.`}
      </p>
      {problem && <Notice level="error">{problem}</Notice>}
      <Row align="stretch" gap={6} wrap>
        {behind && (
          <Button size="small" variant="contained" onClick={() => void goBack()}>
            Go on from step {lastGood}
          </Button>
        )}
        {lastGood !== null && (
          <Button size="small" href={`/api/liveries/${card.id}/bundle`}>
            Save what is there
          </Button>
        )}
        <Button size="small" onClick={onBin}>
          Put into the bin
        </Button>
      </Row>
    </li>
  );
}
