import { Button, type ButtonProps } from '@mui/material';
import { useRef } from 'react';

interface Props extends Pick<ButtonProps, 'size' | 'disabled' | 'startIcon' | 'children'> {
  /** What the file is, for those who do not see the button. */
  label: string;
  /** Endings, as an input takes them. */
  accept?: string;
  onFile(file: File): void;
}

/** A button that asks for one file; the same file can be given again. */
export function FilePick({ label, accept, onFile, ...button }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button {...button} onClick={() => input.current?.click()} />
      <input
        ref={input}
        type="file"
        hidden
        accept={accept}
        aria-label={label}
        onChange={(event) => {
          if (event.target.files?.[0]) onFile(event.target.files[0]);
          event.target.value = '';
        }}
      />
    </>
  );
}
