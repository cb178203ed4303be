import { Checkbox, ListItemText, MenuItem, Select } from '@mui/material';
import { useId } from 'react';
import { FIELD, FIELD_NAME, FIELD_SELECT } from '../../parts/field.ts';

interface Props {
  label: string;
  /** Places, each told by the first of its keys. */
  rows: readonly { keys: readonly string[]; name: string }[];
  chosen: readonly string[];
  /** The choice in words. */
  shown: string;
  disabled: boolean;
  /** @param first keys, in the order of the rows */
  onChange(first: string[]): void;
}

/** Some of a sheet's places or of a model's parts. */
export function PlacesField({ label, rows, chosen, shown, disabled, onChange }: Props) {
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
          const first = [event.target.value].flat();
          onChange(rows.flatMap(({ keys }) => (first.includes(keys[0]) ? [keys[0]] : [])));
        }}
        sx={FIELD_SELECT}
      >
        {rows.map(({ keys, name }) => (
          <MenuItem key={keys[0]} value={keys[0]} dense>
            <Checkbox size="small" checked={chosen.includes(keys[0])} tabIndex={-1} sx={{ py: 0 }} />
            <ListItemText primary={name} />
          </MenuItem>
        ))}
      </Select>
    </div>
  );
}
