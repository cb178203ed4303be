import { Checkbox, FormControlLabel } from '@mui/material';
import { steady } from './steady.tsx';

/** Something that is so or not, with its name. */
export const Tick = steady(function Tick({
  label,
  checked,
  disabled,
  onChange,
}: {
  label: string;
  checked: boolean;
  disabled?: boolean;
  onChange(checked: boolean): void;
}) {
  return (
    <FormControlLabel
      control={
        <Checkbox
          size="small"
          checked={checked}
          disabled={disabled}
          onChange={(event) => onChange(event.target.checked)}
          sx={{ py: 0.25 }}
        />
      }
      label={label}
      sx={{ mr: 0 }}
    />
  );
});
