import { MenuItem, Select } from '@mui/material';
import { useId } from 'react';
import { INK } from '../theme.ts';

interface Props<T extends string> {
  label: string;
  value: T;
  options: readonly { value: T; label: string; note?: string }[];
  disabled?: boolean;
  onChange(value: T): void;
}

/** One of a list, with its name inside the field's edge like the numbers beside it. */
export function Choice<T extends string>({ label, value, options, disabled, onChange }: Props<T>) {
  const id = useId();
  return (
    <div
      style={{
        display: 'flex',
        alignItems: 'center',
        minHeight: 28,
        border: `1px solid ${INK.edge}`,
        borderRadius: 2,
        background: INK.raised,
        paddingLeft: 8,
        minWidth: 0,
      }}
    >
      <span id={id} style={{ color: INK.quiet, fontSize: 12, flex: 'none' }}>
        {label}
      </span>
      <Select
        variant="standard"
        disableUnderline
        value={value}
        disabled={disabled}
        onChange={(event) => onChange(event.target.value as T)}
        labelId={id}
        sx={{
          flex: 1,
          minWidth: 0,
          textAlign: 'right',
          fontSize: 13,
          '& .MuiSelect-select': { padding: '3px 24px 3px 6px !important' },
        }}
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
