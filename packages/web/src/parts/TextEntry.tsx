import { InputBase } from '@mui/material';
import { useId } from 'react';
import { FIELD, FIELD_NAME } from './field.ts';
import { steady } from './steady.tsx';
import { useDraft } from './useDraft.ts';

interface Props {
  label: string;
  /** The label is for screen readers only. */
  bare?: boolean;
  value: string;
  disabled?: boolean;
  mono?: boolean;
  maxLength?: number;
  /** Several lines; then Enter makes a new one. */
  rows?: number;
  /** An empty text goes back to what was. */
  required?: boolean;
  autoFocus?: boolean;
  inputId?: string;
  onCommit(value: string): void;
}

/** A line of text that is taken when it is left or Enter is pressed; Escape goes back. */
export const TextEntry = steady(function TextEntry({
  label,
  bare,
  value,
  disabled,
  mono,
  maxLength = 200,
  rows,
  required,
  autoFocus,
  inputId,
  onCommit,
}: Props) {
  const own = useId();
  const id = inputId ?? own;
  const { draft, setDraft, begin, leave, took } = useDraft(value);
  const commit = () => {
    if (required && draft.trim() === '') return setDraft(value);
    if (draft === value) return;
    took(draft);
    onCommit(draft);
  };
  return (
    <label htmlFor={id} style={bare ? { ...FIELD, paddingLeft: 0 } : FIELD}>
      {!bare && <span style={{ ...FIELD_NAME, minWidth: 40 }}>{label}</span>}
      <InputBase
        id={id}
        autoFocus={autoFocus}
        value={draft}
        disabled={disabled}
        multiline={rows !== undefined}
        minRows={rows}
        maxRows={rows && rows * 3}
        className={mono ? 'mono' : undefined}
        onFocus={begin}
        onChange={(event) => setDraft(event.target.value)}
        onBlur={() => leave() && commit()}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && (!rows || event.ctrlKey)) commit();
          if (event.key === 'Escape') setDraft(value);
        }}
        inputProps={{
          maxLength,
          'aria-label': bare ? label : undefined,
          autoComplete: 'off',
          spellCheck: false,
          style: { padding: '3px 8px', fontFamily: 'inherit' },
        }}
        sx={{
          flex: 1,
          minWidth: 0,
          fontFamily: mono ? '"IBM Plex Mono", monospace' : undefined,
          fontSize: mono ? 12 : 13,
        }}
      />
    </label>
  );
});
