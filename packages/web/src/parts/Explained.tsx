import { ListItemText } from '@mui/material';
import { INK } from '../theme.ts';

/** What a line of a menu is called, and under it what it does. */
export function Explained({ name, what }: { name: string; what: string }) {
  return (
    <ListItemText
      primary={name}
      secondary={what}
      slotProps={{ secondary: { sx: { fontSize: 12, color: INK.quiet } } }}
    />
  );
}
