import { Button } from '@mui/material';
import { useState } from 'react';
import type { Template, TemplatePart } from '@wet-lacquer/core/livery/template.ts';
import { LOCATOR_GRID } from '@wet-lacquer/core/surface/cells.ts';
import { placesOf } from '@wet-lacquer/core/surface/places.ts';
import type { TemplateChange } from '@wet-lacquer/core/surface/reviseTemplate.ts';
import type { TemplateLayout } from '@wet-lacquer/core/surface/templateLayout.ts';
import { ColourInput } from '../../parts/ColourInput.tsx';
import { Quiet } from '../../parts/text.tsx';
import { Grow, PlainList, Stack } from '../../parts/layout.tsx';
import { count } from '../../lib/words.ts';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { INK } from '../../theme.ts';
import { Section } from '../../parts/Section.tsx';
import { NameAll } from './NameAll.tsx';
import { useLooking } from './useLooking.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';

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
  const what = template.boards ? 'cell' : 'island';
  const call = (name: string) => {
    if (template.boards) void change(...nameCells(template, layout, chosen, name));
    else if (name.trim()) void change({ do: 'group-islands', islands: [...chosen], name, hex: null });
  };
  const islandsOf = (part: TemplatePart) =>
    layout.islands.filter((island) => island.parts.includes(part.key)).map((island) => island.number);
  const wanted = search.trim().toLowerCase();
  const listed = template.parts.filter(({ name }) => !template.boards && name.toLowerCase().includes(wanted));
  return (
    <>
      <Section title={chosen.length > 0 ? `${count(chosen.length, what)} chosen` : 'Make a part'}>
        {chosen.length > 0 ? (
          <TextEntry
            key={chosen.join()}
            label="call it"
            value={template.boards ? nameOf(template, layout, chosen) : ''}
            maxLength={60}
            onCommit={(name) => call(name)}
          />
        ) : (
          <Quiet as="p">
            Choose {what}s on the sheet or on the model, with Shift for several, and give them a name.
          </Quiet>
        )}
      </Section>
      <Section title="Parts">
        {!template.boards && template.parts.length > 6 && (
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
        <PlainList>
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
                    style={{ width: 12, height: 12, border: `1px solid ${INK.edge}`, background: part.hex ?? 'none' }}
                  />
                  <Grow as="span">{part.name}</Grow>
                  <Quiet>{islands.length ? some(islands) : 'not painted'}</Quiet>
                </button>
                {open === part.key && <PartFields part={part} />}
              </li>
            );
          })}
        </PlainList>
        {!template.boards && (
          <NameAll
            names={template.parts.map(({ name }) => name)}
            order="as in the list"
            onNames={(names) =>
              void change(
                ...template.parts.flatMap(({ key, name }, i): TemplateChange[] =>
                  names[i] === name ? [] : [{ do: 'set-part', part: key, set: { name: names[i] } }],
                ),
              )
            }
          />
        )}
        {template.boards && <NamedCells onShow={onShow} />}
        {!template.boards && listed.length === 0 && <Quiet as="p">No part is called “{search}”.</Quiet>}
      </Section>
    </>
  );
}

/** What some cells are called together; nothing when they are called differently. */
function nameOf({ sheets }: Template, { islands }: TemplateLayout, chosen: readonly number[]): string {
  const names = islands
    .filter(({ number }) => chosen.includes(number))
    .map(({ sheet, cell }) => sheets.find(({ key }) => key === sheet)?.cells?.names?.[cell ?? 0] ?? '');
  return new Set(names).size === 1 ? names[0] : '';
}

/** Gives cells a name, on each of the sheets where they lie; an empty one takes theirs away. */
function nameCells(
  { sheets }: Template,
  { islands }: TemplateLayout,
  chosen: readonly number[],
  name: string,
): TemplateChange[] {
  return sheets.flatMap((sheet): TemplateChange[] => {
    const cells = islands.flatMap(({ number, sheet: on, cell }) =>
      on === sheet.key && cell && chosen.includes(number) ? [String(cell)] : [],
    );
    if (cells.length === 0) return [];
    const names = Object.entries(sheet.cells?.names ?? {}).filter(([cell]) => !cells.includes(cell));
    if (name.trim()) names.push(...cells.map((cell): [string, string] => [cell, name.trim()]));
    const { columns, rows } = sheet.cells ?? LOCATOR_GRID;
    const set = { cells: { columns, rows, ...(names.length > 0 && { names: Object.fromEntries(names) }) } };
    return [{ do: 'set-sheet', sheet: sheet.key, set }];
  });
}

/** The cells that have names, sheet by sheet. */
function NamedCells({ onShow }: { onShow(islands: readonly number[]): void }) {
  const { template, layout } = useLooking();
  const named = template.sheets.flatMap((sheet) =>
    placesOf(template, sheet.key)
      .filter(({ named }) => named)
      .map(({ name, keys }) => ({
        name,
        islands: layout.islands.filter((one) => one.sheet === sheet.key && keys.includes(one.parts[0])),
      })),
  );
  if (named.length === 0) return <Quiet as="p">No cell has a name yet.</Quiet>;
  return (
    <PlainList gap={2}>
      {named.map(({ name, islands }) => (
        <li key={`${islands[0]?.sheet} ${name}`}>
          <Button
            size="small"
            variant="text"
            fullWidth
            sx={{ justifyContent: 'space-between', gap: 1 }}
            onClick={() => onShow(islands.map(({ number }) => number))}
          >
            <span>{name}</span>
            <Quiet>{some(islands.map(({ number }) => number))}</Quiet>
          </Button>
        </li>
      ))}
    </PlainList>
  );
}

const some = (numbers: readonly number[]) =>
  numbers.length > 6 ? `${numbers.slice(0, 5).join(', ')} and ${numbers.length - 5} more` : numbers.join(', ');

function PartFields({ part }: { part: TemplatePart }) {
  const { template, change } = useLooking();
  const sheet = template.sheets.find((s) => s.key === part.sheet);
  const others = template.parts.filter((p) => p.sheet === part.sheet && p !== part);
  return (
    <Stack gap={6} pad="6px 4px 10px">
      <TextEntry
        label="name"
        value={part.name}
        required
        maxLength={60}
        onCommit={(name) => void change({ do: 'set-part', part: part.key, set: { name } })}
      />
      <label style={{ display: 'flex', gap: 8, alignItems: 'center', color: INK.quiet, fontSize: 12 }}>
        shown in
        <ColourInput
          label={`Colour of ${part.name}`}
          value={part.hex ?? '#808080'}
          onCommit={(hex) => void change({ do: 'set-part', part: part.key, set: { hex } })}
        />
      </label>
      {sheet && (
        <Quiet as="p" small>
          {others.length > 0
            ? `Shares ${sheet.name} with ${others
                .slice(0, 4)
                .map((p) => p.name)
                .join(', ')}${others.length > 4 ? ` and ${others.length - 4} more` : ''}.`
            : `Has ${sheet.name} to itself.`}
        </Quiet>
      )}
      {sheet && others.length > 0 && (
        <Button
          size="small"
          onClick={() => void change({ do: 'own-sheet', parts: [part.key], name: cutTo(part.name, 60) })}
        >
          Give it a sheet of its own
        </Button>
      )}
    </Stack>
  );
}
