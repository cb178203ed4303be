import { InputBase } from '@mui/material';
import { useId, type ReactNode } from 'react';
import { INK, MONO } from '../theme.ts';
import { FIELD, FIELD_NAME } from './field.ts';
import { steady } from './steady.tsx';
import { useDraft } from './useDraft.ts';

interface Props {
  label: string;
  value: number;
  unit?: string;
  min?: number;
  max?: number;
  step?: number;
  digits?: number;
  disabled?: boolean;
  /** Between the name and the number. */
  middle?: ReactNode;
  onCommit(value: number): void;
}

/** A number that is typed, or stepped with the arrow keys (Shift: ten steps). What cannot be a number goes back to what was. */
export const NumberField = steady(function NumberField({
  label,
  value,
  unit = '',
  min = -Infinity,
  max = Infinity,
  step = 1,
  digits = 1,
  disabled,
  middle,
  onCommit,
}: Props) {
  const id = useId();
  const shown = format(value, digits);
  const { draft, setDraft, begin, leave, took } = useDraft(shown);
  const commit = (next: number) => {
    const clamped = Math.min(max, Math.max(min, next));
    if (Number.isFinite(next) && clamped !== value) onCommit(clamped);
    const said = format(Number.isFinite(next) ? clamped : value, digits);
    took(said);
    setDraft(said);
  };
  return (
    <label htmlFor={id} style={{ ...FIELD, opacity: disabled ? 0.55 : 1 }}>
      <span style={FIELD_NAME}>{label}</span>
      {middle}
      <InputBase
        id={id}
        value={draft}
        disabled={disabled}
        onFocus={(event) => {
          begin();
          event.target.select();
        }}
        onChange={(event) => setDraft(event.target.value)}
        onBlur={() => {
          // Only what was typed: a value that is shown rounded stays as it is.
          if (leave()) commit(parse(draft, value));
        }}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && draft !== shown) commit(parse(draft, value));
          if (event.key === 'Escape') setDraft(shown);
          if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
            event.preventDefault();
            const by = step * (event.shiftKey ? 10 : 1) * (event.key === 'ArrowUp' ? 1 : -1);
            commit(Number((parse(draft, value) + by).toFixed(4)));
          }
        }}
        inputProps={{
          'aria-label': label,
          inputMode: 'decimal',
          autoComplete: 'off',
          style: { textAlign: 'right', padding: '3px 4px', fontFamily: MONO, fontSize: 12 },
        }}
        sx={middle ? { flex: 'none', width: 46 } : { flex: 1, minWidth: 0 }}
      />
      <span
        aria-hidden
        style={{ color: INK.quiet, fontSize: 12, fontFamily: MONO, paddingRight: 8, minWidth: unit ? undefined : 4 }}
      >
        {unit}
      </span>
    </label>
  );
});

const format = (value: number, digits: number) => String(Number(value.toFixed(digits)));

/** A decimal point or comma; anything else keeps the value. */
function parse(text: string, otherwise: number): number {
  const value = Number(text.trim().replace(',', '.'));
  return text.trim() !== '' && Number.isFinite(value) ? value : otherwise;
}
