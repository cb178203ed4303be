import { Button, type ButtonProps } from '@mui/material';
import { useRef } from 'react';

interface Props extends Pick<ButtonProps, 'size' | 'disabled' | 'startIcon' | 'children'> {
  /** What the file is, for those who do not see the button. */
  label: string;
  /** Endings, as an input takes them. */
  accept?: string;
  onFile?(file: File): void;
  /** Several can be given at once. */
  onFiles?(files: FileList): void;
}

/** A button that asks for a file, or for several; the same file can be given again. */
export function FilePick({ label, accept, onFile, onFiles, ...button }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button {...button} onClick={() => input.current?.click()} />
      <input
        ref={input}
        type="file"
        hidden
        multiple={onFiles !== undefined}
        accept={accept}
        aria-label={label}
        onChange={(event) => {
          const { files } = event.target;
          if (files?.[0]) {
            onFile?.(files[0]);
            onFiles?.(files);
          }
          event.target.value = '';
        }}
      />
    </>
  );
}
