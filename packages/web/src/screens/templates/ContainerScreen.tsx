import { Button, LinearProgress } from '@mui/material';
import { useState } from 'react';
import { Column, Row } from '../../parts/layout.tsx';
import { Heading } from '../../parts/text.tsx';
import { sendFile, sentenceOf } from '../../lib/api.ts';
import { FilePick } from '../../parts/FilePick.tsx';
import { count } from '../../lib/words.ts';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { INK } from '../../theme.ts';
import { ContainerEntries } from './ContainerEntries.tsx';
import { Trail } from './Trail.tsx';

interface Opened {
  hash: string;
  name: string;
  /** What was done to it, first thing first. */
  done: string[];
}

/** A zip-based file of any ending: search in it, take a file out, put one in its place; everything else in it stays byte for byte. */
export function ContainerScreen() {
  const [opened, setOpened] = useState<Opened | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const work = async (what: () => Promise<void>) => {
    setBusy(true);
    setProblem(null);
    try {
      await what();
    } catch (failure) {
      setProblem(sentenceOf(failure));
    }
    setBusy(false);
  };
  const open = (picked: File) =>
    work(async () => {
      const { hash } = await sendFile<{ hash: string }>('/containers', picked);
      setOpened({ hash, name: picked.name, done: [] });
    });
  const changed = (hash: string, what: string) => setOpened((o) => o && { ...o, hash, done: [...o.done, what] });
  return (
    <Column
      full
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        if (event.dataTransfer.files[0]) void open(event.dataTransfer.files[0]);
      }}
    >
      <TopBar trail={<Trail here={opened?.name ?? 'container'} />} />
      {busy && <LinearProgress aria-label="Working" />}
      <main style={{ flex: 1, minHeight: 0, overflow: 'auto', padding: '16px 24px' }}>
        <Row gap={12} below={12}>
          <Heading as="h1" size={18} grow>
            {opened?.name ?? 'A container'}
          </Heading>
          <FilePick label="Container to open" onFile={(picked) => void open(picked)}>
            Open a container
          </FilePick>
          {opened && opened.done.length > 0 && (
            <Button
              variant="contained"
              color="primary"
              href={`/api/containers/${opened.hash}/file?${new URLSearchParams({ name: opened.name })}`}
              download
            >
              Save it with {count(opened.done.length, 'change')}
            </Button>
          )}
        </Row>
        {problem && <Notice level="error">{problem}</Notice>}
        {opened ? (
          <>
            {opened.done.length > 0 && (
              <ul style={{ color: INK.quiet, margin: '0 0 12px', paddingLeft: 18 }}>
                {opened.done.map((what, i) => (
                  <li key={i}>{what}</li>
                ))}
              </ul>
            )}
            <ContainerEntries hash={opened.hash} work={work} onChanged={changed} />
          </>
        ) : (
          <Nothing title="Nothing is open">
            <p>
              Games keep textures in zip files with endings of their own. Open one to search in it, also in containers
              inside it; take a file out, put one in its place or beside it, change a text. The original on your disk
              stays as it is.
            </p>
          </Nothing>
        )}
      </main>
    </Column>
  );
}
