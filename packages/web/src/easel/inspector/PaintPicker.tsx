import { Button, Popover } from '@mui/material';
import { useState } from 'react';
import { HexColorInput, HexColorPicker } from 'react-colorful';
import { hexOfRgb } from '@wet-lacquer/core/colour/hex.ts';
import type { Paint } from '@wet-lacquer/core/livery/layer.ts';
import { colourOf } from '@wet-lacquer/core/livery/livery.ts';
import { CUT_OFF, Quiet } from '../../parts/text.tsx';
import { Row } from '../../parts/layout.tsx';
import { INK, MONO } from '../../theme.ts';
import { useLivery } from '../context.ts';

interface Props {
  label: string;
  paint: Paint;
  disabled?: boolean;
  onChange(paint: Paint): void;
  onRemove?(): void;
}

/** A paint: the scheme's colours first, a colour of its own if none of them will do. */
export function PaintPicker({ label, paint, disabled, onChange, onRemove }: Props) {
  const livery = useLivery();
  const [at, setAt] = useState<HTMLElement | null>(null);
  const hex = hexOfRgb(colourOf(livery, paint));
  const [own, setOwn] = useState(hex);
  const name =
    'hex' in paint
      ? paint.hex
      : (livery.scheme.find((colour) => colour.id === paint.scheme)?.name ?? 'a colour that is gone');
  const takeOwn = () => {
    onChange({ hex: own.toLowerCase() });
    setAt(null);
  };
  return (
    <>
      <button
        type="button"
        disabled={disabled}
        aria-label={`${label}: ${name}`}
        aria-haspopup="dialog"
        onClick={(event) => {
          setOwn(hex);
          setAt(event.currentTarget);
        }}
        style={{
          display: 'flex',
          alignItems: 'center',
          gap: 8,
          width: '100%',
          minHeight: 28,
          padding: '0 8px',
          background: INK.raised,
          color: INK.text,
          border: `1px solid ${INK.edge}`,
          borderRadius: 2,
          font: 'inherit',
          cursor: 'pointer',
        }}
      >
        <Quiet small>{label}</Quiet>
        <span style={{ marginLeft: 'auto', ...CUT_OFF }}>{name}</span>
        <span
          aria-hidden
          style={{ width: 22, height: 18, background: hex, border: `1px solid ${INK.edge}`, flex: 'none' }}
        />
      </button>
      <Popover
        anchorEl={at}
        open={at !== null}
        onClose={() => setAt(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': label, sx: { p: 1.5, width: 244 } } }}
      >
        <div style={{ color: INK.quiet, marginBottom: 6 }}>From the scheme</div>
        <Row align="stretch" gap={6} wrap>
          {livery.scheme.map((colour) => {
            const is = 'scheme' in paint && paint.scheme === colour.id;
            return (
              <button
                key={colour.id}
                type="button"
                title={colour.name}
                aria-label={colour.name}
                aria-pressed={is}
                onClick={() => {
                  onChange({ scheme: colour.id });
                  setAt(null);
                }}
                style={{
                  width: 30,
                  height: 30,
                  padding: 3,
                  background: 'transparent',
                  border: `2px solid ${is ? INK.accent : INK.line}`,
                  borderRadius: 2,
                  cursor: 'pointer',
                }}
              >
                <span style={{ display: 'block', width: '100%', height: '100%', background: colour.hex }} />
              </button>
            );
          })}
        </Row>
        <div style={{ color: INK.quiet, margin: '10px 0 6px' }}>A colour of its own</div>
        <HexColorPicker color={own} onChange={setOwn} style={{ width: '100%', height: 130 }} />
        <Row align="stretch" gap={6} above={8}>
          <HexColorInput
            color={own}
            onChange={setOwn}
            prefixed
            aria-label="Hex value"
            onKeyDown={(event) => {
              if (event.key !== 'Enter') return;
              // Otherwise it goes on to the button that opened this, and opens it again.
              event.preventDefault();
              takeOwn();
            }}
            style={{
              flex: 1,
              minWidth: 0,
              background: INK.deep,
              color: INK.text,
              border: `1px solid ${INK.edge}`,
              borderRadius: 2,
              padding: '0 8px',
              fontFamily: MONO,
              fontSize: 12,
            }}
          />
          <Button size="small" onClick={takeOwn}>
            Use it
          </Button>
        </Row>
        {onRemove && (
          <Button
            size="small"
            sx={{ mt: 1 }}
            onClick={() => {
              setAt(null);
              onRemove();
            }}
          >
            Take this colour out
          </Button>
        )}
      </Popover>
    </>
  );
}
