import { MenuItem, Select } from '@mui/material';
import { useId } from 'react';
import { INK } from '../theme.ts';
import { FIELD, FIELD_NAME, FIELD_SELECT } from './field.ts';
import { steady } from './steady.tsx';

interface Props<T extends string> {
  label: string;
  value: T;
  options: readonly { value: T; label: string; note?: string }[];
  disabled?: boolean;
  onChange(value: T): void;
}

function OneOf<T extends string>({ label, value, options, disabled, onChange }: Props<T>) {
  const id = useId();
  return (
    <div style={FIELD}>
      <span id={id} style={FIELD_NAME}>
        {label}
      </span>
      <Select
        variant="standard"
        disableUnderline
        displayEmpty
        value={value}
        disabled={disabled}
        onChange={(event) => onChange(event.target.value as T)}
        labelId={id}
        sx={FIELD_SELECT}
      >
        {options.map((option) => (
          <MenuItem key={option.value} value={option.value}>
            {option.label}
            {option.note && <span style={{ color: INK.quiet, marginLeft: 8 }}>{option.note}</span>}
          </MenuItem>
        ))}
      </Select>
    </div>
  );
}

/** One of a list, with its name inside the field's edge like the numbers beside it. */
export const Choice = steady(OneOf) as typeof OneOf;
