import { Checkbox, ListItemText, MenuItem, Select } from '@mui/material';
import { useId } from 'react';
import { FIELD, FIELD_NAME, FIELD_SELECT } from './field.ts';

interface Props<T extends string> {
  label: string;
  options: readonly { value: T; label: string }[];
  chosen: readonly T[];
  /** The choice in words. */
  shown: string;
  disabled?: boolean;
  /** @param chosen in the order of the options */
  onChange(chosen: T[]): void;
}

/** Some of a list, with its name inside the field's edge like the numbers beside it. */
export function SomeOf<T extends string>({ label, options, chosen, shown, disabled, onChange }: Props<T>) {
  const id = useId();
  return (
    <div style={FIELD}>
      <span id={id} style={FIELD_NAME}>
        {label}
      </span>
      <Select
        multiple
        displayEmpty
        variant="standard"
        disableUnderline
        disabled={disabled}
        value={[...chosen]}
        labelId={id}
        renderValue={() => shown}
        onChange={(event) => {
          const values = [event.target.value].flat();
          onChange(options.flatMap(({ value }) => (values.includes(value) ? [value] : [])));
        }}
        sx={FIELD_SELECT}
      >
        {options.map(({ value, label: name }) => (
          <MenuItem key={value} value={value} dense>
            <Checkbox size="small" checked={chosen.includes(value)} tabIndex={-1} sx={{ py: 0 }} />
            <ListItemText primary={name} />
          </MenuItem>
        ))}
      </Select>
    </div>
  );
}
