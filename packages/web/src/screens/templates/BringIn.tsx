import { Button } from '@mui/material';
import { useRef, useState, type ReactNode } from 'react';
import { sentenceOf } from '../../lib/api.ts';
import { Notice } from '../../parts/Notice.tsx';
import { INK } from '../../theme.ts';
import { chosen, dropped, type Brought } from './bring.ts';

/** Buttons and a place to drop files and folders. @param children what stands in the place when nothing is dragged over it */
export function BringIn({ onFiles, children }: { onFiles(files: Brought[]): Promise<unknown>; children?: ReactNode }) {
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const take = async (brought: Promise<Brought[]> | Brought[]) => {
    setProblem(null);
    try {
      const list = await brought;
      if (list.length > 0) await onFiles(list);
    } catch (failure) {
      setProblem(sentenceOf(failure));
    }
  };
  const input = (ref: typeof files, label: string, whole: boolean) => (
    <input
      ref={ref}
      type="file"
      hidden
      multiple
      aria-label={label}
      {...(whole ? { webkitdirectory: '' } : {})}
      onChange={(event) => {
        if (event.target.files) void take(chosen(event.target.files));
        event.target.value = '';
      }}
    />
  );
  return (
    <div
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        void take(dropped(event.dataTransfer));
      }}
      style={{
        border: `1px dashed ${over ? INK.accent : INK.edge}`,
        background: over ? INK.raised : INK.panel,
        borderRadius: 2,
        padding: '14px 16px',
        display: 'flex',
        flexWrap: 'wrap',
        gap: 12,
        alignItems: 'center',
      }}
    >
      <div style={{ flex: '1 1 320px' }}>{children}</div>
      <Button onClick={() => files.current?.click()}>Bring in files</Button>
      <Button onClick={() => folder.current?.click()}>Bring in a folder</Button>
      {input(files, 'Files to bring in', false)}
      {input(folder, 'Folder to bring in', true)}
      {problem && (
        <div style={{ flexBasis: '100%' }}>
          <Notice level="error">{problem}</Notice>
        </div>
      )}
    </div>
  );
}
