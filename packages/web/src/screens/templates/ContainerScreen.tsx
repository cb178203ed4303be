import { Button, Checkbox, FormControlLabel, InputBase, LinearProgress } from '@mui/material';
import { useRef, useState } from 'react';
import useSWR from 'swr';
import { baseOf } from '@wet-lacquer/core/paths.ts';
import { send, sendFile, sentenceOf } from '../../lib/api.ts';
import { FilePick } from '../../parts/FilePick.tsx';
import { count, size } from '../../lib/words.ts';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { INK, MONO } from '../../theme.ts';
import { Trail } from './Trail.tsx';

interface Entry {
  way: string[];
  size: number;
}
interface Mention {
  way: string[];
  times: number;
  line: string;
}
interface Opened {
  hash: string;
  name: string;
  /** What was done to it, first thing first. */
  done: string[];
}

const query = (way: readonly string[]) => new URLSearchParams({ way: JSON.stringify(way) }).toString();
const shown = (way: readonly string[]) => way.join(' › ');

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
    <div
      style={{ height: '100%', display: 'flex', flexDirection: 'column' }}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        if (event.dataTransfer.files[0]) void open(event.dataTransfer.files[0]);
      }}
    >
      <TopBar trail={<Trail here={opened?.name ?? 'container'} />} />
      {busy && <LinearProgress aria-label="Working" />}
      <main style={{ flex: 1, minHeight: 0, overflow: 'auto', padding: '16px 24px' }}>
        <div style={{ display: 'flex', gap: 12, alignItems: 'center', marginBottom: 12 }}>
          <h1 style={{ fontSize: 18, margin: 0, flex: 1 }}>{opened?.name ?? 'A container'}</h1>
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
        </div>
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
            <Entries opened={opened} work={work} onChanged={changed} />
          </>
        ) : (
          <Nothing title="Nothing is open">
            <p>
              Games keep textures in zip files with endings of their own. Open one to search in it, also in containers
              inside it; take a file out, or put one in its place. The original on your disk stays as it is.
            </p>
          </Nothing>
        )}
      </main>
    </div>
  );
}

function Entries({
  opened,
  work,
  onChanged,
}: {
  opened: Opened;
  work(what: () => Promise<void>): Promise<void>;
  onChanged(hash: string, what: string): void;
}) {
  const { hash } = opened;
  const [text, setText] = useState('');
  const [looked, setLooked] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const target = useRef<string[]>([]);
  const { data, error } = useSWR<{ entries: Entry[]; found: number }>(
    `/containers/${hash}?${new URLSearchParams({ text })}`,
    { keepPreviousData: true, revalidateOnFocus: false },
  );
  const put = (picked: File) =>
    work(async () => {
      const way = target.current;
      const made = await sendFile<{ hash: string }>(`/containers/${hash}/entry?${query(way)}`, picked);
      onChanged(made.hash, `${picked.name} is in the place of ${shown(way)}`);
    });
  return (
    <>
      <InputBase
        value={text}
        onChange={(event) => setText(event.target.value)}
        placeholder="Search by name"
        inputProps={{ 'aria-label': 'Search in the container' }}
        sx={{ width: 360, border: `1px solid ${INK.edge}`, borderRadius: '2px', background: INK.raised, px: 1, mb: 1 }}
      />
      {error && !data && <Notice level="error">{sentenceOf(error)}</Notice>}
      {data && (
        <p style={{ color: INK.quiet, margin: '0 0 8px' }}>
          {data.found === 0
            ? `No file is called “${text}”.`
            : data.found > data.entries.length
              ? `${data.entries.length} of ${data.found} files; a longer name finds fewer.`
              : count(data.found, 'file')}
        </p>
      )}
      <ul aria-label="Files in it" style={{ listStyle: 'none', margin: 0, padding: 0 }}>
        {data?.entries.map(({ way, size: bytes }) => {
          const key = shown(way);
          return (
            <li key={key} style={{ borderTop: `1px solid ${INK.line}`, padding: '4px 0' }}>
              <div style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
                <span style={{ flex: 1, minWidth: 0, fontFamily: MONO, fontSize: 12, overflowWrap: 'anywhere' }}>
                  {key}
                </span>
                <span style={{ color: INK.quiet, fontFamily: MONO, fontSize: 12 }}>{size(bytes)}</span>
                <Button
                  size="small"
                  href={`/api/containers/${hash}/entry?${query(way)}`}
                  download
                  aria-label={`Take out ${key}`}
                >
                  Take out
                </Button>
                <Button
                  size="small"
                  aria-label={`Put a file in the place of ${key}`}
                  onClick={() => {
                    target.current = way;
                    file.current?.click();
                  }}
                >
                  Put in its place
                </Button>
                <Button
                  size="small"
                  aria-expanded={looked === key}
                  aria-label={`What uses ${key}`}
                  onClick={() => setLooked(looked === key ? null : key)}
                >
                  What uses it
                </Button>
              </div>
              {looked === key && <Uses hash={hash} way={way} work={work} onChanged={onChanged} />}
            </li>
          );
        })}
      </ul>
      <input
        ref={file}
        type="file"
        hidden
        aria-label="File to put in its place"
        onChange={(event) => {
          if (event.target.files?.[0]) void put(event.target.files[0]);
          event.target.value = '';
        }}
      />
    </>
  );
}

/** The texts that mention a file; some of them can be given a copy of their own. */
function Uses({
  hash,
  way,
  work,
  onChanged,
}: {
  hash: string;
  way: string[];
  work(what: () => Promise<void>): Promise<void>;
  onChanged(hash: string, what: string): void;
}) {
  const { data, error } = useSWR<Mention[]>(`/containers/${hash}/uses?${query(way)}`, { revalidateOnFocus: false });
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const base = baseOf(way.at(-1)!);
  const [name, setName] = useState(base.replace(/(\.[^.]*)?$/, '_own$1'));
  if (error) return <Notice level="error">{sentenceOf(error)}</Notice>;
  if (!data) return <LinearProgress aria-label="Looking through the texts" />;
  if (data.length === 0)
    return <p style={{ margin: '4px 0', color: INK.quiet }}>No text in this container mentions {base}.</p>;
  const copy = () =>
    work(async () => {
      const users = data.filter((use) => chosen.includes(shown(use.way))).map((use) => use.way);
      const made = await send<{ hash: string }>('POST', `/containers/${hash}/copies`, { way, name, users });
      onChanged(made.hash, `${name}: a copy of ${base}, used by ${users.map(shown).join(', ')}`);
    });
  return (
    <div style={{ padding: '6px 0 8px 16px', display: 'grid', gap: 4, maxWidth: 720 }}>
      {data.map((use) => {
        const key = shown(use.way);
        const on = chosen.includes(key);
        return (
          <div key={key}>
            <FormControlLabel
              control={
                <Checkbox
                  size="small"
                  checked={on}
                  onChange={() => setChosen(on ? chosen.filter((k) => k !== key) : [...chosen, key])}
                />
              }
              label={`${key}, ${count(use.times, 'mention')}`}
            />
            <code style={{ display: 'block', color: INK.quiet, fontFamily: MONO, fontSize: 12, paddingLeft: 30 }}>
              {use.line}
            </code>
          </div>
        );
      })}
      <div style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
        <div style={{ flex: 1 }}>
          <TextEntry label="copy's name" value={name} mono onCommit={setName} />
        </div>
        <Button size="small" disabled={chosen.length === 0} onClick={() => void copy()}>
          Give the chosen ones a copy of their own
        </Button>
      </div>
    </div>
  );
}
