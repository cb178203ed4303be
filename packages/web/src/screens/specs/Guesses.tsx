import { Button } from '@mui/material';
import type { DeliverySpec, SpecGuess } from '@wet-lacquer/core/livery/spec.ts';
import { Grow, Row } from '../../parts/layout.tsx';
import { Quiet } from '../../parts/text.tsx';
import { count } from '../../lib/words.ts';
import { INK } from '../../theme.ts';

interface Props {
  guesses: readonly SpecGuess[];
  readOnly: boolean;
  onChange(change: Pick<DeliverySpec, 'guesses'>): void;
}

/** What was guessed when the spec was taken from a skin's files: each is confirmed, or put right and then confirmed. */
export function Guesses({ guesses, readOnly, onChange }: Props) {
  return (
    <section
      aria-label="To be confirmed"
      style={{ border: `1px solid ${INK.amber}`, borderRadius: 2, padding: 10, marginBottom: 12 }}
    >
      <strong>{count(guesses.length, 'guess', 'guesses')} to be confirmed</strong>
      <ul style={{ margin: '6px 0 0', padding: 0, listStyle: 'none', display: 'grid', gap: 8 }}>
        {guesses.map((guess, i) => (
          <Row key={`${guess.at} ${guess.says}`} as="li" align="start" gap={10}>
            <Grow as="span">
              {guess.says}{' '}
              <Quiet small mono>
                {guess.at}
              </Quiet>
            </Grow>
            {!readOnly && (
              <Button
                size="small"
                aria-label={`Confirm ${guess.at}: ${guess.says}`}
                onClick={() => {
                  const left = guesses.toSpliced(i, 1);
                  onChange({ guesses: left.length > 0 ? left : undefined });
                }}
              >
                Confirm
              </Button>
            )}
          </Row>
        ))}
      </ul>
    </section>
  );
}
