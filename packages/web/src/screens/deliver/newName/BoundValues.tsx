import { Button, InputBase } from '@mui/material';
import { useMemo, useState } from 'react';
import type { KeptText, NewName } from '@wet-lacquer/core/delivery/newName.ts';
import { valuesIn, type TextValue } from '@wet-lacquer/core/delivery/textValues.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { slugOf } from '@wet-lacquer/core/livery/slug.ts';
import { Stack } from '../../../parts/layout.tsx';
import { sentenceOf } from '../../../lib/api.ts';
import { count } from '../../../lib/words.ts';
import { Choice } from '../../../parts/Choice.tsx';
import { TextEntry } from '../../../parts/TextEntry.tsx';
import { INK, MONO } from '../../../theme.ts';

type Bound = NewName['values'][string];

interface Props {
  text: KeptText;
  bound: Bound;
  livery: Livery;
  /** Files that are delivered. */
  paths: readonly DeliveredPath[];
  onChange(bound: Bound): void;
}

/** A file of the delivery by its sheet and map. */
export interface DeliveredPath {
  sheet: string;
  map: string;
  name: string;
}

const SHOWN = 40;

/** Values of a text that take something of the livery's: found by what they are called, bound by picking. */
export function BoundValues({ text, bound, livery, paths, onChange }: Props) {
  const [open, setOpen] = useState(false);
  const [search, setSearch] = useState('');
  const read = useMemo((): { values: TextValue[]; why: string | null } => {
    try {
      return { values: valuesIn(text.text, text.language), why: null };
    } catch (error) {
      return { values: [], why: sentenceOf(error) };
    }
  }, [text]);
  if (read.why) return <p style={NOTE}>Its values cannot be told apart: {read.why}</p>;
  if (read.values.length === 0) return null;
  if (!open)
    return (
      <div>
        <Button size="small" onClick={() => setOpen(true)}>
          {bound.length > 0 ? count(bound.length, 'value') + ' bound' : 'Bind values'}
        </Button>
      </div>
    );
  const wanted = search.trim().toLowerCase();
  const found = read.values.filter(({ path, value }) => `${path} ${value}`.toLowerCase().includes(wanted));
  // What is bound stays in sight.
  const listed = [
    ...found.filter(({ path }) => bound.some((one) => one.path === path)),
    ...found.filter(({ path }) => !bound.some((one) => one.path === path)),
  ];
  const set = (path: string, next: Bound[number] | null) =>
    onChange([...bound.filter((one) => one.path !== path), ...(next ? [next] : [])]);
  return (
    <Stack gap={6}>
      <InputBase
        value={search}
        placeholder={`Search ${count(read.values.length, 'value')}`}
        inputProps={{ 'aria-label': `Search the values of ${text.name}` }}
        onChange={(event) => setSearch(event.target.value)}
        sx={{ border: `1px solid ${INK.edge}`, borderRadius: '2px', background: INK.raised, px: 1 }}
      />
      {listed.slice(0, SHOWN).map((value) => (
        <OneValue
          key={value.path}
          value={value}
          bound={bound.find(({ path }) => path === value.path) ?? null}
          livery={livery}
          paths={paths}
          onSet={(next) => set(value.path, next)}
        />
      ))}
      {listed.length > SHOWN && <p style={NOTE}>{listed.length - SHOWN} more; a longer word finds fewer.</p>}
      {listed.length === 0 && <p style={NOTE}>No value is called “{search}”.</p>}
    </Stack>
  );
}

/** What a colour is written as, by what stands there. */
const writtenAs = (value: string): 'linear' | 'bytes' | 'hex' | null => {
  if (/^[#"]*[0-9a-f]{6}/i.test(value) && !/^\d+(\.\d+)?$/.test(value)) return 'hex';
  const numbers = value.match(/-?\d*\.?\d+/g);
  if (!numbers || /[a-z_/]/i.test(value.replace(/e[+-]?\d/gi, ''))) return null;
  return numbers.some((n) => Number(n) > 1) ? 'bytes' : 'linear';
};

function OneValue({
  value: { path, value, line },
  bound,
  livery,
  paths,
  onSet,
}: {
  value: TextValue;
  bound: Bound[number] | null;
  livery: Livery;
  paths: readonly DeliveredPath[];
  onSet(bound: Bound[number] | null): void;
}) {
  const as = writtenAs(value);
  const several = (value.match(/-?\d*\.?\d+/g) ?? []).length >= 3 || as === 'hex';
  const channels = several ? [null] : (['red', 'green', 'blue'] as const);
  const options = [
    { value: 'as it is', label: 'as it is' },
    { value: 'typed', label: 'another, typed' },
    { value: 'key', label: 'the file key' },
    ...Object.entries(livery.particulars)
      .filter(([key]) => key !== 'key')
      .map(([key, now]) => ({ value: `particulars.${key}`, label: key, note: now })),
    ...paths.map(({ sheet, map, name }) => ({ value: `paths.${sheet}.${map}`, label: 'a file', note: name })),
    ...(as
      ? livery.scheme.flatMap(({ name, hex }) =>
          channels.map((channel) => ({
            value: `colour ${slugOf(name)} ${channel ?? ''}`.trim(),
            label: channel ? `${name}, ${channel}` : name,
            note: hex,
          })),
        )
      : []),
  ];
  const now =
    bound === null
      ? 'as it is'
      : 'colour' in bound
        ? `colour ${bound.colour} ${bound.channel ?? ''}`.trim()
        : bound.value === '{{livery.key}}'
          ? 'key'
          : (/^\{\{((?:particulars|paths)\.[\w.-]+)\}\}$/.exec(bound.value)?.[1] ?? 'typed');
  const pick = (choice: string) => {
    const [kind, colour, channel] = choice.split(' ');
    if (choice === 'as it is') onSet(null);
    else if (choice === 'typed') onSet({ path, value });
    else if (choice === 'key') onSet({ path, value: '{{livery.key}}' });
    else if (kind === 'colour' && as)
      onSet({ path, colour, as, ...(channel && { channel: channel as 'red' | 'green' | 'blue' }) });
    else onSet({ path, value: `{{${choice}}}` });
  };
  return (
    <Stack gap={2}>
      <span style={{ fontFamily: MONO, fontSize: 11, color: INK.quiet, overflowWrap: 'anywhere' }}>
        {line}: {path} = {value.slice(0, 80)}
      </span>
      <Choice label="becomes" value={now} options={options} onChange={pick} />
      {now === 'typed' && bound && 'value' in bound && (
        <TextEntry label="value" mono value={bound.value} onCommit={(next) => onSet({ path, value: next })} />
      )}
    </Stack>
  );
}

const NOTE = { margin: 0, color: INK.quiet, fontSize: 12 } as const;
