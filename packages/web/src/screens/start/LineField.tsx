import { InputBase } from '@mui/material';
import { useId } from 'react';
import { FIELD, FIELD_NAME } from '../../parts/field.ts';

interface Props {
  label: string;
  value: string;
  onChange(value: string): void;
  maxLength: number;
  required?: boolean;
  autoFocus?: boolean;
}

/** A line that counts while it is typed; with its name inside its edge, as in the right column. */
export function LineField({ label, value, onChange, maxLength, required, autoFocus }: Props) {
  const id = useId();
  return (
    <label htmlFor={id} style={{ ...FIELD, minHeight: 34 }}>
      <span style={{ ...FIELD_NAME, minWidth: 44 }}>{label}</span>
      <InputBase
        id={id}
        value={value}
        required={required}
        autoFocus={autoFocus}
        onChange={(event) => onChange(event.target.value)}
        inputProps={{ maxLength, autoComplete: 'off', spellCheck: false, style: { padding: '3px 8px' } }}
        sx={{ flex: 1, minWidth: 0, fontSize: 13 }}
      />
    </label>
  );
}
