import { Button } from '@mui/material';
import { useEffect, useState } from 'react';
import { hexOfRgb } from '@wet-lacquer/core/colour/hex.ts';
import type { LayerOf } from '@wet-lacquer/core/livery/layer.ts';
import { colourOf } from '@wet-lacquer/core/livery/livery.ts';
import type { KnockOut } from '@wet-lacquer/core/livery/paint.ts';
import { Notice } from '../../parts/Notice.tsx';
import { Slide } from '../../parts/Slide.tsx';
import { useEasel, useLivery } from '../context.ts';
import { PaintPicker } from './PaintPicker.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { type FieldsProps } from './PlaceFields.tsx';
import { Section } from '../../parts/Section.tsx';

/** The background of a decal's picture: a notice when it comes along as a box, and taking it out. */
export function KnockOutFields({ layer, disabled, set }: FieldsProps<LayerOf<'decal'>>) {
  const { doc, flat } = useEasel();
  const livery = useLivery();
  const [box, setBox] = useState<string | null>(null);
  const { blob, id, knockOut } = layer;
  const knocked = knockOut !== undefined;
  useEffect(() => {
    if (knocked) return;
    let wanted = true;
    // The worker hears of a new layer a little after the page.
    const timer = setTimeout(() => {
      flat.ask('decalBox', { layer: id }).then(
        (hex) => wanted && setBox(hex),
        () => {},
      );
    }, 150);
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [flat, id, blob, knocked]);
  const change = (values: Partial<KnockOut>) => ({ ...knockOut!, ...values });
  const keep = (values: Partial<KnockOut>, what: string) =>
    set({ knockOut: change(values) }, `${what} of ${layer.name}`);
  return (
    <Section title="Background">
      {!knockOut && box && (
        <Notice level="warning">This picture brings a box along: its border is all of one colour.</Notice>
      )}
      {!knockOut && (
        <Button
          size="small"
          disabled={disabled}
          onClick={() =>
            set(
              { knockOut: { hex: box ?? '#ffffff', tolerance: 4, connected: true } },
              `Knock the ground out of ${layer.name}`,
            )
          }
        >
          Knock it out
        </Button>
      )}
      {knockOut && (
        <>
          <PaintPicker
            label="ground"
            paint={{ hex: knockOut.hex }}
            disabled={disabled}
            onChange={(paint) => keep({ hex: hexOfRgb(colourOf(livery, paint)) }, 'Ground')}
          />
          <Slide
            label="tolerance"
            value={knockOut.tolerance}
            min={0}
            max={40}
            step={0.5}
            digits={1}
            disabled={disabled}
            onShow={(tolerance) =>
              doc.show(
                tolerance === null ? null : { do: 'set-layer', layer: id, set: { knockOut: change({ tolerance }) } },
              )
            }
            onCommit={(tolerance) => keep({ tolerance }, 'Tolerance')}
          />
          <Tick
            label="Only from the border inwards"
            checked={knockOut.connected}
            disabled={disabled}
            onChange={(connected) => keep({ connected }, 'Ground')}
          />
          <Button
            size="small"
            disabled={disabled}
            onClick={() => set({ knockOut: null }, `Put the ground of ${layer.name} back`)}
          >
            Put it back
          </Button>
        </>
      )}
    </Section>
  );
}
