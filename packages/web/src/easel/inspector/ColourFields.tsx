import { Button } from '@mui/material';
import type { Layer, LayerOf, Paint } from '@wet-lacquer/core/livery/layer.ts';
import useSWR from 'swr';
import type { DecalCard } from '../../lib/types.ts';
import { NumberField } from '../../parts/NumberField.tsx';
import { INK } from '../../theme.ts';
import { PaintPicker } from './PaintPicker.tsx';
import type { FieldsProps } from './PlaceFields.tsx';
import { Tick } from './PlaceFields.tsx';

/** A layer's colours. */
export function ColourFields({ layer, disabled, set }: FieldsProps<Layer>) {
  switch (layer.kind) {
    case 'solid':
    case 'stripe':
    case 'shape':
    case 'halftone':
      return (
        <PaintPicker
          label="paint"
          paint={layer.paint}
          disabled={disabled}
          onChange={(paint) => set({ paint }, `Paint ${layer.name}`)}
        />
      );
    case 'stripe-set':
      return (
        <ListOfPaints
          paints={layer.paints}
          max={12}
          disabled={disabled}
          onChange={(paints) => set({ paints }, `Paint ${layer.name}`)}
        />
      );
    case 'chequer':
    case 'hazard':
      return (
        <>
          <PaintPicker
            label="paint"
            paint={layer.paint}
            disabled={disabled}
            onChange={(paint) => set({ paint }, `Paint ${layer.name}`)}
          />
          {layer.other && (
            <PaintPicker
              label={layer.kind === 'hazard' ? 'between' : 'other cells'}
              paint={layer.other}
              disabled={disabled}
              onChange={(other) => set({ other }, `Paint ${layer.name}`)}
            />
          )}
          <Tick
            label={layer.kind === 'hazard' ? 'Paint between the bars' : 'Paint the other cells too'}
            checked={layer.other !== null}
            disabled={disabled}
            onChange={(on) => set({ other: on ? { hex: '#ffffff' } : null }, `Other cells of ${layer.name}`)}
          />
        </>
      );
    case 'fade':
      return <FadeStops layer={layer} disabled={disabled} set={set} />;
    case 'lettering':
      return (
        <>
          <PaintPicker
            label="fill"
            paint={layer.paint}
            disabled={disabled}
            onChange={(paint) => set({ paint }, `Paint ${layer.name}`)}
          />
          {layer.outline && (
            <>
              <PaintPicker
                label="outline"
                paint={layer.outline.paint}
                disabled={disabled}
                onChange={(paint) => set({ outline: { ...layer.outline, paint } }, `Outline of ${layer.name}`)}
              />
              <NumberField
                label="outline width"
                unit="px"
                value={layer.outline.width}
                min={0}
                max={512}
                disabled={disabled}
                onCommit={(width) => set({ outline: { ...layer.outline, width } }, `Outline of ${layer.name}`)}
              />
            </>
          )}
          <Tick
            label="Outline"
            checked={layer.outline !== null}
            disabled={disabled}
            onChange={(on) =>
              set(
                { outline: on ? { paint: { hex: '#101010' }, width: Math.max(1, Math.round(layer.size / 16)) } : null },
                `Outline of ${layer.name}`,
              )
            }
          />
        </>
      );
    case 'decal':
      return <DecalColours layer={layer} disabled={disabled} set={set} />;
  }
}

function ListOfPaints({
  paints,
  max,
  disabled,
  onChange,
}: {
  paints: Paint[];
  max: number;
  disabled: boolean;
  onChange(paints: Paint[]): void;
}) {
  return (
    <>
      {paints.map((paint, i) => (
        <PaintPicker
          key={i}
          label={`paint ${i + 1}`}
          paint={paint}
          disabled={disabled}
          onChange={(next) => onChange(paints.with(i, next))}
          onRemove={paints.length > 1 ? () => onChange(paints.toSpliced(i, 1)) : undefined}
        />
      ))}
      <Button
        size="small"
        disabled={disabled || paints.length >= max}
        onClick={() => onChange([...paints, paints[paints.length - 1]])}
      >
        Add a paint
      </Button>
    </>
  );
}

function FadeStops({ layer, disabled, set }: FieldsProps<LayerOf<'fade'>>) {
  const change = (stops: typeof layer.stops) =>
    set({ stops: stops.toSorted((a, b) => a.at - b.at) }, `Stops of ${layer.name}`);
  return (
    <>
      {layer.stops.map((stop, i) => (
        <div key={i} style={{ display: 'grid', gap: 4, borderLeft: `2px solid ${INK.line}`, paddingLeft: 6 }}>
          <PaintPicker
            label={`stop ${i + 1}`}
            paint={stop.paint}
            disabled={disabled}
            onChange={(paint) => change(layer.stops.with(i, { ...stop, paint }))}
            onRemove={layer.stops.length > 2 ? () => change(layer.stops.toSpliced(i, 1)) : undefined}
          />
          <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 4 }}>
            <NumberField
              label="at"
              unit="%"
              value={stop.at * 100}
              min={0}
              max={100}
              disabled={disabled}
              onCommit={(at) => change(layer.stops.with(i, { ...stop, at: at / 100 }))}
            />
            <NumberField
              label="cover"
              unit="%"
              value={stop.opacity}
              min={0}
              max={100}
              disabled={disabled}
              onCommit={(opacity) => change(layer.stops.with(i, { ...stop, opacity }))}
            />
          </div>
        </div>
      ))}
      <Button
        size="small"
        disabled={disabled || layer.stops.length >= 64}
        onClick={() => change([...layer.stops, midStop(layer.stops)])}
      >
        Add a stop
      </Button>
    </>
  );
}

/** A new stop in the widest gap. */
function midStop(stops: LayerOf<'fade'>['stops']) {
  let widest = 1;
  for (let i = 1; i < stops.length; i++)
    if (stops[i].at - stops[i - 1].at > stops[widest].at - stops[widest - 1].at) widest = i;
  return { ...stops[widest - 1], at: (stops[widest - 1].at + stops[widest].at) / 2 };
}

function DecalColours({ layer, disabled, set }: FieldsProps<LayerOf<'decal'>>) {
  const { data } = useSWR<DecalCard[]>('/decals');
  const colours = data?.find((decal) => decal.blob === layer.blob)?.colours ?? [];
  const all = [...new Set([...colours, ...layer.recolour.map((r) => r.from)])].slice(0, 24);
  if (layer.source === 'pixels') return <p style={{ margin: 0, color: INK.quiet }}>A picture keeps its own colours.</p>;
  const change = (from: string, to: Paint) => {
    const rest = layer.recolour.filter((r) => r.from !== from);
    set({ recolour: 'hex' in to && to.hex === from ? rest : [...rest, { from, to }] }, `Recolour ${layer.name}`);
  };
  return (
    <>
      {all.map((from) => (
        <PaintPicker
          key={from}
          label={`${from} becomes`}
          paint={layer.recolour.find((r) => r.from === from)?.to ?? { hex: from }}
          disabled={disabled}
          onChange={(to) => change(from, to)}
          onRemove={layer.recolour.some((r) => r.from === from) ? () => change(from, { hex: from }) : undefined}
        />
      ))}
    </>
  );
}
