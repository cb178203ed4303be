import { Line } from '../../parts/Line.tsx';

interface Props {
  label: string;
  value: string;
  onChange(value: string): void;
  /** Whether it is a new one: password keepers then offer to make one. */
  fresh?: boolean;
  helper?: string;
  autoFocus?: boolean;
}

export const PasswordField = ({ label, value, onChange, fresh = false, helper, autoFocus = false }: Props) => (
  <Line
    fullWidth
    type="password"
    label={label}
    value={value}
    helperText={helper}
    autoFocus={autoFocus}
    autoComplete={fresh ? 'new-password' : 'current-password'}
    onChange={(event) => onChange(event.target.value)}
  />
);
