import { Button, Divider, Menu, MenuItem, Popover } from '@mui/material';
import { useState } from 'react';
import { HexColorInput, HexColorPicker } from 'react-colorful';
import { newColourId, type ColourId } from '@wet-lacquer/core/livery/ids.ts';
import type { SchemeColour } from '@wet-lacquer/core/livery/livery.ts';
import { wearInstead, wornBy } from '@wet-lacquer/core/livery/wear.ts';
import { Heading, Mono } from '../../parts/text.tsx';
import { PlainList, Row } from '../../parts/layout.tsx';
import { sentenceOf } from '../../lib/api.ts';
import { count } from '../../lib/words.ts';
import { Notice } from '../../parts/Notice.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { HEX_FIELD } from '../../parts/field.ts';
import { INK } from '../../theme.ts';
import { useEasel, useLivery, useTemplate } from '../context.ts';
import { choose, announce } from '../session.ts';
import { FinishPanel } from './FinishPanel.tsx';
import { PaletteTools } from './PaletteTools.tsx';

/** The scheme: named colours; change one, and every layer that wears it follows. */
export function SchemePanel() {
  const { doc } = useEasel();
  const livery = useLivery();
  const uses = (id: ColourId) => wornBy(livery, { scheme: id }).length;
  return (
    <>
      <Heading as="h2" size={15}>
        Scheme
      </Heading>
      <p style={{ margin: '2px 0 10px', color: INK.quiet }}>
        Change a colour here, and every layer of every sheet that wears it follows.
      </p>
      <PlainList gap={10}>
        {livery.scheme.map((colour) => (
          <Colour key={colour.id} colour={colour} uses={uses(colour.id)} />
        ))}
      </PlainList>
      <Button
        size="small"
        sx={{ mt: 1.5 }}
        disabled={livery.scheme.length >= 64}
        onClick={() =>
          doc.commit(
            {
              do: 'add-colour',
              colour: { id: newColourId(), name: `Colour ${livery.scheme.length + 1}`, hex: '#808080' },
              index: livery.scheme.length,
            },
            'Add a scheme colour',
          )
        }
      >
        Add a colour
      </Button>
      <PaletteTools />
      <FinishPanel />
    </>
  );
}

function Colour({ colour, uses }: { colour: SchemeColour; uses: number }) {
  const { doc } = useEasel();
  const [at, setAt] = useState<HTMLElement | null>(null);
  const [picked, setPicked] = useState<string | null>(null);
  const draft = picked ?? colour.hex;
  const edit = (hex: string) => ({ do: 'set-colour' as const, colour: colour.id, set: { hex } });
  const valid = /^#[0-9a-f]{6}$/.test(draft);
  const close = (keep: boolean) => {
    setAt(null);
    if (keep && valid && draft !== colour.hex) doc.commit(edit(draft));
    else doc.show(null);
    setPicked(null);
  };
  const pick = (hex: string) => {
    const lower = hex.toLowerCase();
    setPicked(lower);
    if (/^#[0-9a-f]{6}$/.test(lower)) doc.show(edit(lower));
  };
  return (
    <li style={{ display: 'grid', gridTemplateColumns: '44px 1fr', gap: 6, alignItems: 'center' }}>
      <button
        type="button"
        aria-label={`Change ${colour.name}, now ${colour.hex}`}
        aria-haspopup="dialog"
        onClick={(event) => setAt(event.currentTarget)}
        style={{
          height: 58,
          gridRow: 'span 2',
          padding: 4,
          background: INK.panel,
          border: `1px solid ${INK.edge}`,
          borderRadius: 2,
          cursor: 'pointer',
        }}
      >
        <span style={{ display: 'block', width: '100%', height: '100%', background: draft }} />
      </button>
      <TextEntry
        label={`Name of ${colour.name}`}
        bare
        value={colour.name}
        required
        maxLength={60}
        onCommit={(name) => doc.commit({ do: 'set-colour', colour: colour.id, set: { name } })}
      />
      <div style={{ display: 'flex', alignItems: 'center', gap: 8, color: INK.quiet, fontSize: 12 }}>
        <Mono>{colour.hex}</Mono>
        {uses === 0 ? <span>not worn</span> : <Wearers colour={colour} uses={uses} />}
        {uses === 0 && (
          <Button
            size="small"
            sx={{ ml: 'auto', minHeight: 24, py: 0 }}
            aria-label={`Take ${colour.name} out`}
            onClick={() => doc.commit({ do: 'remove-colour', colour: colour.id })}
          >
            Take out
          </Button>
        )}
      </div>
      <Popover
        anchorEl={at}
        open={at !== null}
        onClose={() => close(true)}
        slotProps={{ paper: { role: 'dialog', 'aria-label': colour.name, sx: { p: 1.5, width: 230 } } }}
      >
        <HexColorPicker color={draft} onChange={pick} style={{ width: '100%', height: 150 }} />
        <HexColorInput
          color={draft}
          onChange={pick}
          prefixed
          aria-label={`Hex value of ${colour.name}`}
          style={HEX_FIELD}
          onKeyDown={(event) => event.key === 'Enter' && close(true)}
        />
        <Row align="stretch" gap={6} above={8} spread="flex-end">
          <Button size="small" onClick={() => close(false)}>
            Leave it as it was
          </Button>
          <Button size="small" variant="contained" color="primary" disabled={!valid} onClick={() => close(true)}>
            Take it
          </Button>
        </Row>
      </Popover>
    </li>
  );
}

/** Where a colour is worn, and another in its place. */
function Wearers({ colour, uses }: { colour: SchemeColour; uses: number }) {
  const { doc } = useEasel();
  const livery = useLivery();
  const template = useTemplate();
  const [at, setAt] = useState<HTMLElement | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const close = () => {
    setAt(null);
    setProblem(null);
  };
  const instead = (other: SchemeColour, merge: boolean) => {
    try {
      const edits = wearInstead(livery, { scheme: colour.id }, { scheme: other.id }, merge ? colour.id : null);
      const label = merge ? `Merge ${colour.name} into ${other.name}` : `Wear ${other.name} instead of ${colour.name}`;
      doc.commit({ do: 'together', edits }, label);
      announce(label);
      close();
    } catch (error) {
      setProblem(sentenceOf(error));
    }
  };
  const others = livery.scheme.filter(({ id }) => id !== colour.id);
  const swatch = (hex: string) => (
    <span
      aria-hidden
      style={{ width: 22, height: 16, marginRight: 8, background: hex, border: `1px solid ${INK.edge}` }}
    />
  );
  return (
    <>
      <Button
        size="small"
        aria-haspopup="true"
        onClick={(event) => setAt(event.currentTarget)}
        sx={{ minHeight: 24, py: 0, px: 0.75, ml: -0.75, border: 0, fontWeight: 400, textDecoration: 'underline' }}
      >
        worn by {count(uses, 'layer')}
      </Button>
      <Menu
        anchorEl={at}
        open={at !== null}
        onClose={close}
        slotProps={{ paper: { sx: { maxHeight: 480, width: 270 } } }}
      >
        {problem && (
          <li>
            <Notice level="error">{problem}</Notice>
          </li>
        )}
        {(at ? wornBy(livery, { scheme: colour.id }) : []).map(({ sheet, map, layer }) => (
          <MenuItem
            key={layer.id}
            dense
            onClick={() => {
              close();
              choose(layer.id, sheet, map);
            }}
          >
            <span style={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis' }}>{layer.name}</span>
            <span style={{ color: INK.quiet, marginLeft: 12 }}>
              {template.sheets.find(({ key }) => key === sheet)?.name ?? sheet}
            </span>
          </MenuItem>
        ))}
        {others.length > 0 && <Divider />}
        {others.length > 0 && (
          <li style={{ padding: '2px 16px', color: INK.quiet }}>Wear instead, and keep {colour.name}</li>
        )}
        {others.map((other) => (
          <MenuItem key={`wear ${other.id}`} dense onClick={() => instead(other, false)}>
            {swatch(other.hex)}
            {other.name}
          </MenuItem>
        ))}
        {others.length > 0 && <Divider />}
        {others.length > 0 && <li style={{ padding: '2px 16px', color: INK.quiet }}>Merge {colour.name} into</li>}
        {others.map((other) => (
          <MenuItem key={`merge ${other.id}`} dense onClick={() => instead(other, true)}>
            {swatch(other.hex)}
            {other.name}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
