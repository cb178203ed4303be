import { Button, Dialog, InputBase } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import { Row } from '../../parts/layout.tsx';
import { Heading } from '../../parts/text.tsx';
import { INK, MONO } from '../../theme.ts';
import { COMMANDS, GROUPS } from './commands.ts';

const ARROWS: Record<string, string> = { ArrowLeft: '←', ArrowRight: '→', ArrowUp: '↑', ArrowDown: '↓' };
const WHERE = { sheet: 'on the sheet', shelf: 'on the build-up', both: 'on sheet and build-up' };

/** Keys as they are printed on a keyboard. */
export function KeyMark({ keys }: { keys: string }) {
  return (
    <kbd style={{ fontFamily: MONO, fontSize: 11, color: INK.text, marginLeft: 12, whiteSpace: 'nowrap' }}>
      {keys
        .split(' ')
        .map((key) => ARROWS[key] ?? key)
        .join(' ')}
    </kbd>
  );
}

/** What holds with the pointer, where there is no key alone. */
const WITH_POINTER: readonly [keys: string, what: string][] = [
  ['Space', 'held: a press moves the view'],
  ['Wheel', 'nearer and further away; with Shift sideways'],
  ['Shift', 'held: brushes go straight from where they were, angles in steps of 15°'],
  ['Alt', 'held: a brush takes the colour under it, clone its source; nothing snaps'],
  ['Ctrl C', 'copies the chosen layers'],
  ['Ctrl X', 'cuts them'],
  ['Ctrl V', 'puts them down; a picture from elsewhere becomes a decal'],
  ['Alt ←, Alt →', 'on the build-up: the layer goes on earlier or later'],
];

/** Every key, to be searched. */
export function KeysDialog({ onClose }: { onClose(): void }) {
  const [text, setText] = useState('');
  const wanted = text.trim().toLowerCase();
  const fits = (...texts: string[]) => texts.join(' ').toLowerCase().includes(wanted);
  const rows = COMMANDS.filter(({ name, group, keys }) => keys && fits(name, group, ...keys));
  const others = WITH_POINTER.filter(([keys, what]) => fits(keys, what));
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" slotProps={{ paper: { 'aria-label': 'Keys' } }}>
      <Row gap={12} pad="12px 16px 8px">
        <Heading as="h2" size={15}>
          Keys
        </Heading>
        <InputBase
          autoFocus
          value={text}
          onChange={(event) => setText(event.target.value)}
          placeholder="Search by what it does, or by the key"
          inputProps={{ 'aria-label': 'Search keys' }}
          sx={{ flex: 1, border: `1px solid ${INK.edge}`, borderRadius: '2px', background: INK.raised, px: 1 }}
        />
        <Button component={Link} to="/help">
          The guide
        </Button>
        <Button onClick={onClose}>Close</Button>
      </Row>
      <div style={{ columnWidth: 260, columnGap: 28, padding: '4px 16px 18px', overflow: 'auto' }}>
        {GROUPS.map((group) => {
          const mine = rows.filter((row) => row.group === group);
          return (
            mine.length > 0 && (
              <section key={group} aria-label={group} style={{ marginBottom: 14 }}>
                <h3 style={{ margin: '0 0 4px', fontSize: 13, fontWeight: 600, color: INK.quiet }}>{group}</h3>
                {mine.map(({ name, keys, on }) => (
                  <KeyRow key={name} keys={keys!.join(', ')} what={name} title={on ? WHERE[on] : 'everywhere'} />
                ))}
              </section>
            )
          );
        })}
        {others.length > 0 && (
          <section aria-label="With the pointer">
            <h3 style={{ margin: '0 0 4px', fontSize: 13, fontWeight: 600, color: INK.quiet }}>With the pointer</h3>
            {others.map(([keys, what]) => (
              <KeyRow key={keys} keys={keys} what={what} />
            ))}
          </section>
        )}
        {rows.length === 0 && others.length === 0 && <p style={{ color: INK.quiet }}>No key does that.</p>}
      </div>
    </Dialog>
  );
}

function KeyRow({ keys, what, title }: { keys: string; what: string; title?: string }) {
  return (
    <div
      title={title}
      style={{
        display: 'flex',
        alignItems: 'baseline',
        justifyContent: 'space-between',
        padding: '2px 0',
        breakInside: 'avoid',
      }}
    >
      <span>{what}</span>
      <KeyMark keys={keys} />
    </div>
  );
}
