import { TextField, type TextFieldProps } from '@mui/material';

/** A line to write in, with its name above it whether it is empty or not. */
export const Line = ({ slotProps, sx, ...props }: TextFieldProps) => (
  <TextField
    size="small"
    {...props}
    slotProps={{ ...slotProps, inputLabel: { shrink: true } }}
    // The frame around it shows the focus.
    sx={[{ '& textarea:focus-visible': { outline: 'none' } }, ...(Array.isArray(sx) ? sx : [sx])]}
  />
);
