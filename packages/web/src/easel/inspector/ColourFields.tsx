import { Button } from '@mui/material';
import { Fragment } from 'react';
import useSWR from 'swr';
import type { ColourRow } from '@wet-lacquer/core/layers/data.ts';
import { dataOf, type Layer, type LayerOf, type Paint } from '@wet-lacquer/core/livery/layer.ts';
import type { DecalCard } from '@wet-lacquer/sync/answers.ts';
import { Stack } from '../../parts/layout.tsx';
import { Quiet } from '../../parts/text.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { INK } from '../../theme.ts';
import { PaintPicker } from './PaintPicker.tsx';
import type { FieldsProps } from './PlaceFields.tsx';
import { Tick } from '../../parts/Tick.tsx';

/** A layer's colours. */
export function ColourFields({ layer, disabled, set }: FieldsProps<Layer>) {
  const values = layer as unknown as Record<string, unknown>;
  return dataOf(layer).colours.map((row, i) => {
    if (typeof row === 'string') {
      const Row = ROWS[row];
      return <Row key={row} layer={layer as never} disabled={disabled} set={set} />;
    }
    const paint = (label: string) => (
      <PaintPicker
        key={row.key}
        label={label}
        paint={values[row.key] as Paint}
        disabled={disabled}
        onChange={(next) => set({ [row.key]: next }, `Paint ${layer.name}`)}
      />
    );
    switch (row.is) {
      case 'paint':
        return paint(row.label);
      case 'paints':
        return (
          <ListOfPaints
            key={row.key}
            paints={values[row.key] as Paint[]}
            max={row.most}
            disabled={disabled}
            onChange={(paints) => set({ [row.key]: paints }, `Paint ${layer.name}`)}
          />
        );
      case 'maybe':
        return (
          <Fragment key={i}>
            {values[row.key] !== null && paint(row.label)}
            <Tick
              label={row.tick}
              checked={values[row.key] !== null}
              disabled={disabled}
              onChange={(on) => set({ [row.key]: on ? { hex: '#ffffff' } : null }, `Other cells of ${layer.name}`)}
            />
          </Fragment>
        );
    }
  });
}

function OutlineFields({ layer, disabled, set }: FieldsProps<LayerOf<'lettering'>>) {
  const { outline } = layer;
  return (
    <>
      {outline && (
        <>
          <PaintPicker
            label="outline"
            paint={outline.paint}
            disabled={disabled}
            onChange={(paint) => set({ outline: { ...outline, paint } }, `Outline of ${layer.name}`)}
          />
          <NumberField
            label="outline width"
            unit="px"
            value={outline.width}
            min={0}
            max={512}
            disabled={disabled}
            onCommit={(width) => set({ outline: { ...outline, width } }, `Outline of ${layer.name}`)}
          />
        </>
      )}
      <Tick
        label="Outline"
        checked={outline !== null}
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
          <Stack columns="1fr 1fr" gap={4}>
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
          </Stack>
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
  if (layer.source === 'pixels') return <Quiet as="p">A picture keeps its own colours.</Quiet>;
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

/** Rows that are more than one paint. */
const ROWS: Record<Extract<ColourRow, string>, (props: FieldsProps<never>) => React.ReactNode> = {
  stops: FadeStops,
  outline: OutlineFields,
  recolour: DecalColours,
};
