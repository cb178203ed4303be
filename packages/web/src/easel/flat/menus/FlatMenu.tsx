import { Checkbox, FormControlLabel, Menu, MenuItem } from '@mui/material';
import type { ReactNode } from 'react';

export interface MenuProps {
  /** What it hangs on; null: it is closed. */
  at: HTMLElement | null;
  onClose(): void;
}

/** A menu that hangs on one of the buttons along the foot of the flat view. */
export function FlatMenu({ at, onClose, children }: MenuProps & { children: ReactNode }) {
  return (
    <Menu anchorEl={at} open={at !== null} onClose={onClose}>
      {children}
    </Menu>
  );
}

interface TickItemProps {
  label: string;
  checked: boolean;
  onClick(): void;
  /** Beside the label. */
  children?: ReactNode;
}

/** A line of a menu that is ticked or not; the menu stays open. */
export function TickItem({ label, checked, onClick, children }: TickItemProps) {
  return (
    <MenuItem dense disableRipple sx={{ py: 0 }} onClick={onClick}>
      <FormControlLabel
        control={<Checkbox size="small" checked={checked} tabIndex={-1} />}
        label={label}
        onClick={(event) => event.preventDefault()}
      />
      {children}
    </MenuItem>
  );
}
