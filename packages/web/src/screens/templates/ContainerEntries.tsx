import { Button, Checkbox, FormControlLabel, InputBase, LinearProgress } from '@mui/material';
import { useState } from 'react';
import useSWR from 'swr';
import { lastOf } from '@wet-lacquer/core/held.ts';
import { baseOf } from '@wet-lacquer/core/paths.ts';
import { Grow, PlainList, Row, Stack } from '../../parts/layout.tsx';
import { Quiet } from '../../parts/text.tsx';
import { send, sendFile, sentenceOf } from '../../lib/api.ts';
import { count, size } from '../../lib/words.ts';
import { CodeText } from '../../parts/CodeText.tsx';
import { FilePick } from '../../parts/FilePick.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { INK, MONO } from '../../theme.ts';

interface Entry {
  way: string[];
  size: number;
}
interface Mention {
  way: string[];
  times: number;
  line: string;
  binary?: true;
}

/** What a container was before a change, and how one is made. */
interface Props {
  hash: string;
  work(what: () => Promise<void>): Promise<void>;
  onChanged(hash: string, what: string): void;
}
interface OfEntry extends Props {
  way: string[];
}

const query = (way: readonly string[]) => new URLSearchParams({ way: JSON.stringify(way) }).toString();
const shown = (way: readonly string[]) => way.join(' › ');

/** The files of a container by name, and what can be done with each; a file can be added beside them. */
export function ContainerEntries({ hash, work, onChanged }: Props) {
  const [text, setText] = useState('');
  const [open, setOpen] = useState<string | null>(null);
  const { data, error } = useSWR<{ entries: Entry[]; found: number }>(
    `/containers/${hash}?${new URLSearchParams({ text })}`,
    { keepPreviousData: true, revalidateOnFocus: false },
  );
  const add = (picked: File) =>
    work(async () => {
      // Beside the first of those that are shown.
      const beside = data?.entries[0]?.way ?? [''];
      const last = lastOf(beside);
      const way = beside.with(-1, last.slice(0, last.length - baseOf(last).length) + picked.name.trim());
      const made = await sendFile<{ hash: string }>(`/containers/${hash}/entries?${query(way)}`, picked);
      onChanged(made.hash, `${shown(way)} is new`);
      setText(picked.name.trim());
    });
  return (
    <>
      <Row gap={8} below={8}>
        <InputBase
          value={text}
          onChange={(event) => setText(event.target.value)}
          placeholder="Search by name"
          inputProps={{ 'aria-label': 'Search in the container' }}
          sx={{ width: 360, border: `1px solid ${INK.edge}`, borderRadius: '2px', background: INK.raised, px: 1 }}
        />
        <FilePick label="File to add" size="small" onFile={(picked) => void add(picked)}>
          Add a file
        </FilePick>
      </Row>
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
      <PlainList aria-label="Files in it">
        {data?.entries.map((entry) => {
          const key = shown(entry.way);
          return (
            <EntryRow
              key={key}
              entry={entry}
              open={open === key}
              onOpen={() => setOpen(open === key ? null : key)}
              {...{ hash, work, onChanged }}
            />
          );
        })}
      </PlainList>
    </>
  );
}

/** One file: taken out, exchanged, and what else there is when it is opened. */
function EntryRow({ entry, open, onOpen, ...props }: Props & { entry: Entry; open: boolean; onOpen(): void }) {
  const { hash, work, onChanged } = props;
  const { way, size: bytes } = entry;
  const key = shown(way);
  const put = (picked: File) =>
    work(async () => {
      const made = await sendFile<{ hash: string }>(`/containers/${hash}/entry?${query(way)}`, picked);
      onChanged(made.hash, `${picked.name} is in the place of ${key}`);
    });
  return (
    <li style={{ borderTop: `1px solid ${INK.line}`, padding: '4px 0' }}>
      <Row gap={8}>
        <span style={{ flex: 1, minWidth: 0, fontFamily: MONO, fontSize: 12, overflowWrap: 'anywhere' }}>{key}</span>
        <Quiet small mono>
          {size(bytes)}
        </Quiet>
        <Button
          size="small"
          href={`/api/containers/${hash}/entry?${query(way)}`}
          download
          aria-label={`Take out ${key}`}
        >
          Take out
        </Button>
        <FilePick size="small" label={`Put a file in the place of ${key}`} onFile={(picked) => void put(picked)}>
          Put in its place
        </FilePick>
        <Button size="small" aria-expanded={open} aria-label={`More of ${key}`} onClick={onOpen}>
          More
        </Button>
      </Row>
      {open && (
        <Stack gap={10} pad="6px 0 10px 16px">
          <Naming way={way} {...props} />
          <EntryText way={way} {...props} />
          <Uses way={way} {...props} />
        </Stack>
      )}
    </li>
  );
}

/** Another name for a file, or none of it. */
function Naming({ hash, way, work, onChanged }: OfEntry) {
  const name = lastOf(way);
  const rename = (to: string) =>
    work(async () => {
      const made = await send<{ hash: string }>('POST', `/containers/${hash}/names`, { way, name: to });
      onChanged(made.hash, `${shown(way)} is called ${to.trim()}`);
    });
  const remove = () =>
    work(async () => {
      const made = await send<{ hash: string }>('DELETE', `/containers/${hash}/entry?${query(way)}`);
      onChanged(made.hash, `${shown(way)} is left out`);
    });
  return (
    <div style={{ display: 'flex', gap: 8, maxWidth: 720, alignItems: 'center' }}>
      <Grow>
        <TextEntry label="called" value={name} mono required maxLength={400} onCommit={(to) => void rename(to)} />
      </Grow>
      <Button size="small" onClick={() => void remove()} aria-label={`Leave ${shown(way)} out`}>
        Leave it out
      </Button>
    </div>
  );
}

/** A text, edited where it stands; nothing for other files. */
function EntryText({ hash, way, work, onChanged }: OfEntry) {
  const { data } = useSWR<{ text: string }>(`/containers/${hash}/text?${query(way)}`, {
    revalidateOnFocus: false,
    shouldRetryOnError: false,
  });
  const [draft, setDraft] = useState<string | null>(null);
  if (!data) return null;
  const plain = data.text.replaceAll('\r\n', '\n');
  const save = () =>
    work(async () => {
      const made = await send<{ hash: string }>('POST', `/containers/${hash}/text`, { way, text: draft });
      setDraft(null);
      onChanged(made.hash, `${shown(way)} has other words in it`);
    });
  if (draft === null)
    return (
      <div>
        <Button size="small" onClick={() => setDraft(plain)}>
          Edit the text
        </Button>
      </div>
    );
  return (
    <div style={{ display: 'grid', gap: 6, maxWidth: 900 }}>
      <div style={{ height: 260, border: `1px solid ${INK.edge}` }}>
        <CodeText label={`Text of ${shown(way)}`} text={draft} onChange={setDraft} />
      </div>
      <Row align="stretch" gap={8}>
        <Button size="small" disabled={draft === plain} onClick={() => void save()}>
          Put it back
        </Button>
        <Button size="small" variant="text" onClick={() => setDraft(null)}>
          Leave it as it was
        </Button>
      </Row>
    </div>
  );
}

/** The texts that mention a file; some of them can be given a copy of their own. */
function Uses({ hash, way, work, onChanged }: OfEntry) {
  const { data, error } = useSWR<Mention[]>(`/containers/${hash}/uses?${query(way)}`, { revalidateOnFocus: false });
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const base = baseOf(lastOf(way));
  const [name, setName] = useState(base.replace(/(\.[^.]*)?$/, '_own$1'));
  if (error) return <Notice level="error">{sentenceOf(error)}</Notice>;
  if (!data) return <LinearProgress aria-label="Looking through the texts" />;
  if (data.length === 0)
    return <p style={{ margin: '4px 0', color: INK.quiet }}>Nothing in this container mentions {base}.</p>;
  const copy = () =>
    work(async () => {
      const users = data.filter((use) => chosen.includes(shown(use.way))).map((use) => use.way);
      const made = await send<{ hash: string }>('POST', `/containers/${hash}/copies`, { way, name, users });
      onChanged(made.hash, `${name}: a copy of ${base}, used by ${users.map(shown).join(', ')}`);
    });
  return (
    <div style={{ display: 'grid', gap: 4, maxWidth: 720 }}>
      <Quiet small>Mentioned in</Quiet>
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
                  disabled={use.binary}
                  onChange={() => setChosen(on ? chosen.filter((k) => k !== key) : [...chosen, key])}
                />
              }
              label={`${key}, ${count(use.times, 'mention')}${use.binary ? ': no text, left alone' : ''}`}
            />
            <code style={{ display: 'block', color: INK.quiet, fontFamily: MONO, fontSize: 12, paddingLeft: 30 }}>
              {use.line}
            </code>
          </div>
        );
      })}
      <Row gap={8}>
        <Grow>
          <TextEntry label="copy's name" value={name} mono onCommit={setName} />
        </Grow>
        <Button size="small" disabled={chosen.length === 0} onClick={() => void copy()}>
          Give the chosen ones a copy of their own
        </Button>
      </Row>
    </div>
  );
}
