import { Checkbox, FormControlLabel, Menu, MenuItem, Slider } from '@mui/material';
import type { ReactNode } from 'react';
import { INK } from '../../../theme.ts';

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

/** What a press on a line does that closes its menu. */
export const closing =
  ({ onClose }: MenuProps, does: () => void): (() => void) =>
  () => {
    does();
    onClose();
  };

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

/** A line of a menu with a slider on it. */
export function SlideItem({
  label,
  name,
  width,
  onChange,
  children,
  ...range
}: {
  label: string;
  /** As it is read aloud. */
  name: string;
  /** Of the line, in pixels. */
  width: number;
  min: number;
  max: number;
  step?: number;
  value: number;
  onChange(value: number): void;
  /** Under it. */
  children?: ReactNode;
}) {
  return (
    <li style={{ padding: '2px 16px', width }}>
      <label style={{ display: 'flex', gap: 10, alignItems: 'center', color: INK.quiet }}>
        {label}
        <Slider size="small" aria-label={name} {...range} onChange={(_event, value) => onChange(value)} />
      </label>
      {children}
    </li>
  );
}
