import { Button } from '@mui/material';
import type { Fit } from '@wet-lacquer/core/transfer/fit.ts';
import { layByPairs, type PlacePair } from '@wet-lacquer/core/transfer/laidOver.ts';
import { NumberField } from '../../parts/NumberField.tsx';
import { Row, Stack } from '../../parts/layout.tsx';
import { Section } from '../../parts/Section.tsx';
import { Quiet } from '../../parts/text.tsx';
import { count } from '../../lib/words.ts';

const AXES = ['forward', 'up', 'to starboard'] as const;

interface Props {
  fit: Fit;
  disabled: boolean;
  pairs: readonly Partial<PlacePair>[];
  pairing: boolean;
  onFit(fit: Fit, pairAgain?: boolean): void;
  onPairing(on: boolean): void;
  onClear(): void;
}

/** How the old model lies over the new one: typed, or by places that are clicked on both. */
export function OverlayFields({ fit, disabled, pairs, pairing, onFit, onPairing, onClear }: Props) {
  const whole = pairs.filter((pair): pair is PlacePair => pair.old !== undefined && pair.now !== undefined);
  const half = pairs.length > whole.length;
  const put = (of: 'turn' | 'shift', n: number, value: number) => {
    const next = [...fit[of]] as [number, number, number];
    next[n] = value;
    onFit({ ...fit, [of]: next });
  };
  return (
    <Section title="How they lie over each other">
      <NumberField
        label="size"
        unit="×"
        digits={4}
        step={0.01}
        min={0.000001}
        max={1_000_000}
        value={fit.scale}
        disabled={disabled}
        onCommit={(scale) => onFit({ ...fit, scale })}
      />
      <Stack columns="minmax(0, 1fr) minmax(0, 1fr)" gap={6}>
        {AXES.map((axis, n) => (
          <NumberField
            key={axis}
            label={axis}
            unit="m"
            digits={3}
            step={0.01}
            value={fit.shift[n]}
            disabled={disabled}
            onCommit={(value) => put('shift', n, value)}
          />
        ))}
        {(['roll', 'yaw', 'pitch'] as const).map((name, n) => (
          <NumberField
            key={name}
            label={name}
            unit="°"
            digits={2}
            min={-360}
            max={360}
            value={fit.turn[n]}
            disabled={disabled}
            onCommit={(value) => put('turn', n, value)}
          />
        ))}
      </Stack>
      <Row gap={6} wrap>
        <Button size="small" aria-pressed={pairing} disabled={disabled} onClick={() => onPairing(!pairing)}>
          {pairing ? 'Stop clicking places' : 'Click places on both'}
        </Button>
        {whole.length > 0 && (
          <Button size="small" disabled={disabled} onClick={() => onFit(layByPairs(fit, whole), true)}>
            Lay by {count(whole.length, 'pair')}
          </Button>
        )}
        {pairs.length > 0 && (
          <Button size="small" onClick={onClear}>
            Forget them
          </Button>
        )}
      </Row>
      {pairing && (
        <Quiet as="p" small>
          {half
            ? 'Now the same place on the other model.'
            : 'Click a place on one model, then the same place on the other. One pair moves it, two size it, three turn it.'}
        </Quiet>
      )}
    </Section>
  );
}
