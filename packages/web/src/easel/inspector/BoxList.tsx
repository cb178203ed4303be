import { Button, Popover } from '@mui/material';
import { useState } from 'react';
import { HexAlphaColorPicker, HexColorInput } from 'react-colorful';
import { boxesOf, withAlphaOf } from '@wet-lacquer/core/livery/boxes.ts';
import type { ParameterBox, TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { PlainList, Row } from '../../parts/layout.tsx';
import { HEX_FIELD } from '../../parts/field.ts';
import { INK, MONO } from '../../theme.ts';
import { useEasel, useLivery, useTemplate } from '../context.ts';

/** The sheet's parameter boxes as named colours; what is set here lies in their pixels in what is delivered. */
export function BoxList({ sheet }: { sheet: TemplateSheet }) {
  const livery = useLivery();
  const template = useTemplate();
  return (
    <PlainList gap={6}>
      {boxesOf(livery, template, sheet.key).map((box) => (
        <Box key={box.key} box={box} sheet={sheet} />
      ))}
    </PlainList>
  );
}

function Box({ box, sheet }: { box: ParameterBox; sheet: TemplateSheet }) {
  const { doc } = useEasel();
  const livery = useLivery();
  const [at, setAt] = useState<HTMLElement | null>(null);
  const [draft, setDraft] = useState(box.hex);
  const own = livery.sheets.find((s) => s.key === sheet.key)?.boxes ?? {};
  const given = sheet.boxes!.find((b) => b.key === box.key)!.hex;
  const edit = (hex: string) => {
    const boxes = { ...own, [box.key]: hex };
    if (hex === given) delete boxes[box.key];
    return { do: 'set-sheet' as const, sheet: sheet.key, set: { boxes } };
  };
  const close = (keep: boolean) => {
    setAt(null);
    if (keep && draft !== box.hex) doc.commit(edit(draft), `Set ${box.name} to ${draft}`);
    else doc.show(null);
  };
  const pick = (hex: string, alpha = '#000000ff') => {
    const next = withAlphaOf(hex, alpha);
    if (!/^#[0-9a-f]{8}$/.test(next)) return;
    setDraft(next);
    doc.show(edit(next));
  };
  const alpha = Math.round((Number.parseInt(box.hex.slice(7), 16) / 255) * 100);
  return (
    <li>
      <button
        type="button"
        aria-label={`Set ${box.name}, now ${box.hex}`}
        aria-haspopup="dialog"
        title={box.means}
        onClick={(event) => {
          setDraft(box.hex);
          setAt(event.currentTarget);
        }}
        style={{
          display: 'grid',
          gridTemplateColumns: '28px 1fr auto',
          gap: 8,
          alignItems: 'center',
          width: '100%',
          minHeight: 28,
          padding: '2px 6px',
          background: INK.raised,
          color: INK.text,
          border: `1px solid ${INK.edge}`,
          borderRadius: 2,
          font: 'inherit',
          textAlign: 'left',
          cursor: 'pointer',
        }}
      >
        <span aria-hidden style={{ height: 18, background: CHECKER, border: `1px solid ${INK.edge}` }}>
          <span style={{ display: 'block', height: '100%', background: box.hex }} />
        </span>
        <span>{box.name}</span>
        <span style={{ color: INK.quiet, fontFamily: MONO, fontSize: 11 }}>
          {alpha === 0 ? 'off' : `${alpha} %`}
          {box.hex !== given && ' *'}
        </span>
      </button>
      <Popover
        anchorEl={at}
        open={at !== null}
        onClose={() => close(true)}
        slotProps={{ paper: { role: 'dialog', 'aria-label': box.name, sx: { p: 1.5, width: 230 } } }}
      >
        <p style={{ margin: '0 0 8px', color: INK.quiet }}>{box.means || 'A colour that the game reads.'}</p>
        <HexAlphaColorPicker color={draft} onChange={(hex) => pick(hex)} style={{ width: '100%', height: 160 }} />
        <HexColorInput
          color={draft}
          // Six typed digits are a colour: how much of it there is stays.
          onChange={(hex) => pick(hex, draft)}
          prefixed
          alpha
          aria-label={`Hex value of ${box.name}`}
          style={HEX_FIELD}
          onKeyDown={(event) => {
            if (event.key !== 'Enter') return;
            // The focus goes back to the button, which must not hear of this key.
            event.preventDefault();
            close(true);
          }}
        />
        <Row align="stretch" gap={6} above={8} spread="flex-end">
          <Button size="small" onClick={() => pick(given)}>
            As the game has it
          </Button>
          <Button size="small" variant="contained" color="primary" onClick={() => close(true)}>
            Take it
          </Button>
        </Row>
      </Popover>
    </li>
  );
}

const CHECKER = 'repeating-conic-gradient(#808080 0 25%, #b0b0b0 0 50%) 0 0 / 8px 8px';
