import { Dialog, InputBase } from '@mui/material';
import { useState, type KeyboardEvent } from 'react';
import { useNavigate } from 'react-router';
import useSWR from 'swr';
import { MAIN_MAP, mapsOf } from '@wet-lacquer/core/livery/template.ts';
import { layersOf } from '@wet-lacquer/core/livery/livery.ts';
import type { TemplateLayout } from '@wet-lacquer/core/surface/templateLayout.ts';
import { Grow } from '../parts/layout.tsx';
import { Quiet } from '../parts/text.tsx';
import { INK } from '../theme.ts';
import { addLayer } from './actions.ts';
import { COMMANDS, type Reach } from './commands/commands.ts';
import { makersFor } from './buildup/makers.ts';
import { placeHere } from './buildup/placeHere.ts';
import { useEasel, useLivery, useTemplate } from './context.ts';
import { KeyMark } from './commands/KeysDialog.tsx';
import { useView } from './flat/view.ts';
import { choose, choosePlate, useSession } from './session.ts';

interface Found {
  key: string;
  name: string;
  what: string;
  /** The key that does the same. */
  keys?: string;
  go(): void;
}

/** Finds layers, sheets, makers, screens and everything that can be done by name. */
export function FindDialog({ reach, onClose }: { reach: Reach; onClose(): void }) {
  const { doc } = useEasel();
  const livery = useLivery();
  const template = useTemplate();
  const navigate = useNavigate();
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const sheetKey = useSession((s) => s.sheet);
  const { data: layout } = useSWR<TemplateLayout>(`/templates/${livery.pins.template}/layout`, {
    revalidateOnFocus: false,
  });
  const wanted = text.trim().toLowerCase();
  const all: Found[] = [
    ...template.sheets.flatMap((sheet) =>
      mapsOf(sheet).flatMap((map) =>
        layersOf(livery, sheet.key, map.key).map((layer) => ({
          key: layer.id,
          name: layer.name,
          what: `layer on ${sheet.name}${map.key === MAIN_MAP ? '' : `, ${map.name}`}`,
          go: () => choose(layer.id, sheet.key, map.key),
        })),
      ),
    ),
    ...template.sheets.map((sheet) => ({
      key: `sheet ${sheet.key}`,
      name: sheet.name,
      what: 'sheet',
      go: () => choose(null, sheet.key),
    })),
    ...(livery.plates ?? []).map(({ id, name }) => ({
      key: `plate ${id}`,
      name,
      what: 'plate on the model',
      go: () => choosePlate(id),
    })),
    ...makersFor(template).map((maker) => ({
      key: `make ${maker.key}`,
      name: `Add ${maker.name.toLowerCase()}`,
      what: maker.phase,
      go: () => {
        void addLayer(doc, maker.make(placeHere(template, livery, sheetKey)), maker.phase);
      },
    })),
    ...COMMANDS.filter((command) => command.can?.(reach) !== false).map((command) => ({
      key: `command ${command.name}`,
      name: command.name,
      what: command.group.toLowerCase(),
      keys: command.keys?.[0],
      go: () => command.run(reach),
    })),
    ...(layout?.islands ?? []).map((island) => ({
      key: `island ${island.number}`,
      name: `Island ${island.number}`,
      what: `on ${template.sheets.find((sheet) => sheet.key === island.sheet)?.name}`,
      go: () => {
        choose(null, island.sheet);
        useSession.setState({ guides: new Set([...useSession.getState().guides, 'locator']) });
        const { left, top, right, bottom } = island.box;
        // The sheet is fitted when it comes; the island then comes to the middle.
        setTimeout(() => {
          const v = useView.getState();
          const zoom = Math.min(4, (0.6 * v.width) / (right - left), (0.6 * v.height) / (bottom - top));
          useView.setState({ ...v, zoom, x: (left + right) / 2, y: (top + bottom) / 2 });
        }, 60);
      },
    })),
    { key: 'deliver', name: 'Deliver', what: 'screen', go: () => void navigate('deliver') },
    { key: 'bay', name: 'Test bay', what: 'screen', go: () => void navigate('/bay') },
    { key: 'exchange', name: 'Exchange', what: 'screen', go: () => void navigate('/exchange') },
  ];
  // What begins with it first, then what has it in its name, then in what it is.
  const rank = ({ name, what }: Found) => {
    const at = name.toLowerCase().indexOf(wanted);
    return at === 0 ? 0 : at > 0 ? 1 : what.toLowerCase().includes(wanted) ? 2 : 3;
  };
  const found = all
    .map((one) => ({ one, rank: rank(one) }))
    .filter((ranked) => ranked.rank < 3)
    .sort((a, b) => a.rank - b.rank)
    .slice(0, 12)
    .map(({ one }) => one);
  const go = (one: Found | undefined) => {
    if (!one) return;
    onClose();
    one.go();
  };
  const key = (event: KeyboardEvent) => {
    if (event.key === 'ArrowDown') setAt(Math.min(found.length - 1, at + 1));
    else if (event.key === 'ArrowUp') setAt(Math.max(0, at - 1));
    else if (event.key === 'Enter') go(found[at]);
    else return;
    event.preventDefault();
  };
  return (
    <Dialog
      open
      onClose={onClose}
      fullWidth
      maxWidth="xs"
      slotProps={{ paper: { 'aria-label': 'Find' } }}
      sx={{ '& .MuiDialog-container': { alignItems: 'flex-start' } }}
    >
      <InputBase
        autoFocus
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
        }}
        onKeyDown={key}
        placeholder="A layer, a sheet, something to add or to do"
        inputProps={{
          role: 'combobox',
          'aria-label': 'Find',
          'aria-expanded': true,
          'aria-controls': 'found',
          'aria-activedescendant': found[at] ? `found-${at}` : undefined,
        }}
        sx={{ px: 2, py: 1, fontSize: 15 }}
      />
      <ul id="found" role="listbox" aria-label="Found" style={{ margin: 0, padding: '0 0 8px', listStyle: 'none' }}>
        {found.map((one, i) => (
          <li
            key={one.key}
            id={`found-${i}`}
            role="option"
            aria-selected={i === at}
            onClick={() => go(one)}
            style={{
              display: 'flex',
              padding: '5px 16px',
              cursor: 'pointer',
              background: i === at ? INK.accentDeep : 'transparent',
            }}
          >
            <Grow as="span">{one.name}</Grow>
            <Quiet>{one.what}</Quiet>
            {one.keys && <KeyMark keys={one.keys} />}
          </li>
        ))}
      </ul>
      {found.length === 0 && (
        <p style={{ margin: 0, padding: '0 16px 14px', color: INK.quiet }}>Nothing is called that.</p>
      )}
    </Dialog>
  );
}
