import { TextField, type TextFieldProps } from '@mui/material';

/** A line to write in, with its name above it whether it is empty or not. */
export const Line = ({ slotProps, ...props }: TextFieldProps) => (
  <TextField size="small" {...props} slotProps={{ ...slotProps, inputLabel: { shrink: true } }} />
);
