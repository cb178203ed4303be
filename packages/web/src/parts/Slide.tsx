import { capital } from '@wet-lacquer/core/capital.ts';
import { Slider } from '@mui/material';
import { useEffect, useMemo, useState } from 'react';
import { perFrame } from '../lib/perFrame.ts';
import { NumberField } from './NumberField.tsx';
import { steady } from './steady.tsx';

interface Props {
  label: string;
  value: number;
  min: number;
  max: number;
  step?: number;
  unit?: string;
  digits?: number;
  disabled?: boolean;
  /** While it is dragged, as often as the hand tells of it; null: it was let go of. */
  onShow?(value: number | null): void;
  onCommit(value: number): void;
}

/** A number that is typed, stepped or dragged. */
export const Slide = steady(function Slide({
  label,
  value,
  min,
  max,
  step = 1,
  unit,
  digits,
  disabled,
  onShow,
  onCommit,
}: Props) {
  const [sliding, setSliding] = useState<number | null>(null);
  const slide = useMemo(() => perFrame(setSliding), []);
  useEffect(() => () => slide.drop(), [slide]);
  const shown = sliding ?? value;
  return (
    <NumberField
      label={label}
      unit={unit}
      value={shown}
      min={min}
      max={max}
      step={step}
      digits={digits}
      disabled={disabled}
      onCommit={onCommit}
      middle={
        <span
          style={{ flex: 1, minWidth: 36, padding: '0 6px 0 12px', display: 'flex' }}
          // The field's name belongs to the number: a press on the slider is not one on the name.
          onClick={(event) => event.preventDefault()}
        >
          <Slider
            aria-label={capital(label)}
            size="small"
            value={shown}
            min={min}
            max={max}
            step={step}
            disabled={disabled}
            onChange={(_event, next) => {
              slide.next(next);
              onShow?.(next);
            }}
            onChangeCommitted={(_event, next) => {
              slide.drop();
              setSliding(null);
              if (next === value) onShow?.(null);
              else onCommit(next);
            }}
            sx={{ py: '12px' }}
          />
        </span>
      }
    />
  );
});
