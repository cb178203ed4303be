import { Button } from '@mui/material';
import { useState } from 'react';
import type { TemplatePart } from '@wet-lacquer/core/livery/template.ts';
import { count } from '../../lib/words.ts';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { INK } from '../../theme.ts';
import { Section } from '../../easel/inspector/Section.tsx';
import { useLooking } from './useLooking.ts';

/** Parts by name: searched, renamed, coloured; islands become parts, and parts get sheets of their own. */
export function PartsColumn({
  chosen,
  onShow,
}: {
  chosen: readonly number[];
  onShow(islands: readonly number[]): void;
}) {
  const { template, layout, change } = useLooking();
  const [search, setSearch] = useState('');
  const [open, setOpen] = useState<string | null>(null);
  const islandsOf = (part: TemplatePart) =>
    layout.islands.filter((island) => island.parts.includes(part.key)).map((island) => island.number);
  const wanted = search.trim().toLowerCase();
  const listed = template.parts.filter(({ name }) => name.toLowerCase().includes(wanted));
  return (
    <>
      <Section title={chosen.length > 0 ? `${count(chosen.length, 'island')} chosen` : 'Make a part'}>
        {chosen.length > 0 ? (
          <TextEntry
            key={chosen.join()}
            label="call it"
            value=""
            maxLength={60}
            onCommit={(name) => void change({ do: 'group-islands', islands: [...chosen], name, hex: null })}
          />
        ) : (
          <p style={{ margin: 0, color: INK.quiet }}>
            Choose islands on the sheet or on the model, with Shift for several, and give them a name.
          </p>
        )}
      </Section>
      <Section title="Parts">
        {template.parts.length > 6 && (
          <input
            value={search}
            onChange={(event) => setSearch(event.target.value)}
            placeholder="Search parts"
            aria-label="Search parts"
            style={{
              background: INK.raised,
              color: INK.text,
              border: `1px solid ${INK.edge}`,
              borderRadius: 2,
              minHeight: 28,
              padding: '0 8px',
              font: 'inherit',
            }}
          />
        )}
        <ul style={{ listStyle: 'none', margin: 0, padding: 0 }}>
          {listed.map((part) => {
            const islands = islandsOf(part);
            return (
              <li key={part.key}>
                <button
                  type="button"
                  aria-expanded={open === part.key}
                  onClick={() => {
                    if (islands.length > 0) onShow(islands);
                    setOpen(open === part.key ? null : part.key);
                  }}
                  style={{
                    display: 'flex',
                    gap: 8,
                    alignItems: 'center',
                    width: '100%',
                    textAlign: 'left',
                    border: 0,
                    background: open === part.key ? INK.raised : 'none',
                    color: islands.length ? INK.text : INK.quiet,
                    font: 'inherit',
                    padding: '4px 4px',
                    minHeight: 26,
                    cursor: 'pointer',
                  }}
                >
                  <span
                    aria-hidden
                    style={{ width: 12, height: 12, border: '1px solid #7d7d7d', background: part.hex ?? 'none' }}
                  />
                  <span style={{ flex: 1 }}>{part.name}</span>
                  <span style={{ color: INK.quiet }}>{islands.length ? some(islands) : 'not painted'}</span>
                </button>
                {open === part.key && <PartFields part={part} />}
              </li>
            );
          })}
        </ul>
        {listed.length === 0 && <p style={{ margin: 0, color: INK.quiet }}>No part is called “{search}”.</p>}
      </Section>
    </>
  );
}

const some = (numbers: readonly number[]) =>
  numbers.length > 6 ? `${numbers.slice(0, 5).join(', ')} and ${numbers.length - 5} more` : numbers.join(', ');

function PartFields({ part }: { part: TemplatePart }) {
  const { template, change } = useLooking();
  const sheet = template.sheets.find((s) => s.key === part.sheet);
  const others = template.parts.filter((p) => p.sheet === part.sheet && p !== part);
  return (
    <div style={{ display: 'grid', gap: 6, padding: '6px 4px 10px' }}>
      <TextEntry
        label="name"
        value={part.name}
        required
        maxLength={60}
        onCommit={(name) => void change({ do: 'set-part', part: part.key, set: { name } })}
      />
      <label style={{ display: 'flex', gap: 8, alignItems: 'center', color: INK.quiet, fontSize: 12 }}>
        shown in
        <input
          type="color"
          aria-label={`Colour of ${part.name}`}
          defaultValue={part.hex ?? '#808080'}
          onBlur={(event) => {
            if (event.target.value !== (part.hex ?? '#808080'))
              void change({ do: 'set-part', part: part.key, set: { hex: event.target.value } });
          }}
          style={{ width: 40, height: 24, padding: 0, border: `1px solid ${INK.edge}`, background: 'none' }}
        />
      </label>
      {sheet && (
        <p style={{ margin: 0, color: INK.quiet, fontSize: 12 }}>
          {others.length > 0
            ? `Shares ${sheet.name} with ${others
                .slice(0, 4)
                .map((p) => p.name)
                .join(', ')}${others.length > 4 ? ` and ${others.length - 4} more` : ''}.`
            : `Has ${sheet.name} to itself.`}
        </p>
      )}
      {sheet && others.length > 0 && (
        <Button
          size="small"
          onClick={() => void change({ do: 'own-sheet', parts: [part.key], name: part.name.slice(0, 60) })}
        >
          Give it a sheet of its own
        </Button>
      )}
    </div>
  );
}
