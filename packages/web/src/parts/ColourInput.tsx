import { useEffect, useRef } from 'react';
import { CONTROL, INK } from '../theme.ts';

interface Props {
  label: string;
  /** `#rrggbb`. */
  value: string;
  disabled?: boolean;
  /** While it is being chosen, as often as the hand tells of it. */
  onShow?(value: string): void;
  /** When it has been chosen: once. */
  onCommit?(value: string): void;
}

/** How long a colour that was chosen has to be taken. */
const REFUSED_MS = 400;

/** A colour by the browser's own chooser. */
export function ColourInput({ label, value, disabled, onShow, onCommit }: Props) {
  const input = useRef<HTMLInputElement>(null);
  // React says "change" with every move of the hand; the browser says it when the chooser is put away.
  useEffect(() => {
    const element = input.current!;
    element.value = value;
    // What was not taken goes back to what it is.
    let back: ReturnType<typeof setTimeout>;
    const done = () => {
      if (element.value === value) return;
      onCommit?.(element.value);
      back = setTimeout(() => (element.value = value), REFUSED_MS);
    };
    element.addEventListener('change', done);
    return () => {
      clearTimeout(back);
      element.removeEventListener('change', done);
    };
  }, [value, onCommit]);
  return (
    <input
      ref={input}
      type="color"
      aria-label={label}
      defaultValue={value}
      disabled={disabled}
      onInput={(event) => onShow?.(event.currentTarget.value)}
      style={{ width: 44, height: CONTROL, padding: 0, border: `1px solid ${INK.edge}`, background: 'none' }}
    />
  );
}
