import { Button, ListItemText, Menu, MenuItem } from '@mui/material';
import { useEffect, useState } from 'react';
import { hexOfRgb } from '@wet-lacquer/core/colour/hex.ts';
import { shadingLeft } from '@wet-lacquer/core/filters/recolour.ts';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { colourOf, schemePaint } from '@wet-lacquer/core/livery/livery.ts';
import type { Filter, FilterOf, Paint } from '@wet-lacquer/core/livery/paint.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Slide } from '../../parts/Slide.tsx';
import { INK } from '../../theme.ts';
import type { LayerTones } from '../../workers/messages.ts';
import { useHand } from '../hand.ts';
import { useEasel, useLivery } from '../context.ts';
import { Histogram } from './Histogram.tsx';
import { PaintPicker } from './PaintPicker.tsx';
import { Tick, type FieldsProps } from './PlaceFields.tsx';
import { Section } from './Section.tsx';

type Kind = Filter['kind'];

const NAMES: Record<Kind, { name: string; what: string }> = {
  recolour: { name: 'Recolour', what: 'a colour takes over, the shading stays' },
  levels: { name: 'Levels', what: 'darkest, lightest and middle values' },
  hcl: { name: 'Hue and chroma', what: 'turned hue, stronger or weaker colour' },
  replace: { name: 'Replace a colour', what: 'one becomes another, its shades along' },
  worn: { name: 'Worn', what: 'broken and faded' },
  grain: { name: 'Grain', what: 'specks of light and dark' },
  blur: { name: 'Soften', what: 'out of focus' },
  sharpen: { name: 'Sharpen', what: 'crisper edges' },
};

/** A change to begin with. */
async function make(
  kind: Kind,
  first: Paint,
  colour: string,
  tones: () => Promise<LayerTones | null>,
): Promise<Filter> {
  const seed = Math.floor(Math.random() * 1e6);
  switch (kind) {
    case 'recolour': {
      const found = await tones().catch(() => null);
      return { kind, paint: first, strength: 100, contrast: 100, middle: found?.middle ?? 0.6 };
    }
    case 'levels':
      return { kind, channel: 'all', black: 0, white: 255, gamma: 1, outBlack: 0, outWhite: 255 };
    case 'hcl':
      return { kind, hue: 0, chroma: 0, lightness: 0 };
    case 'replace':
      return { kind, from: colour, to: first, tolerance: 12, soft: 6 };
    case 'worn':
      return { kind, amount: 30, size: 24, fade: 10, seed };
    case 'grain':
      return { kind, amount: 12, size: 2, coloured: false, seed };
    case 'blur':
      return { kind, radius: 4 };
    case 'sharpen':
      return { kind, radius: 1.5, amount: 80 };
  }
}

/** What is done to the layer's picture, one after the other; all of it can be changed and taken off again. */
export function FilterFields({ layer, disabled, set }: FieldsProps<Layer>) {
  const { doc, flat } = useEasel();
  const livery = useLivery();
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const [tones, setTones] = useState<LayerTones | null>(null);
  const filters = layer.filters ?? [];
  const needsTones = filters.some(({ kind }) => kind === 'recolour' || kind === 'levels');
  useEffect(() => {
    if (!needsTones) return;
    let wanted = true;
    const timer = setTimeout(() => {
      flat
        .ask('tones', { layer: layer.id })
        .then((found) => wanted && setTones(found))
        .catch(() => {});
    }, 200);
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [flat, layer, needsTones]);
  const first = schemePaint(livery, 0);
  // What is below an adjustment is there a tile at a time: it cannot be put out of focus.
  const fits = (kind: Kind) => layer.kind !== 'adjust' || !['blur', 'sharpen', 'worn'].includes(kind);
  const put = (next: Filter[], label: string) => set({ filters: next.length > 0 ? next : null }, label);
  const change = (i: number, values: Partial<Filter>) =>
    put(filters.with(i, { ...filters[i], ...values } as Filter), `${NAMES[filters[i].kind].name} of ${layer.name}`);
  const show = (i: number, values: Partial<Filter> | null) =>
    doc.show(
      values === null
        ? null
        : {
            do: 'set-layer',
            layer: layer.id,
            set: { filters: filters.with(i, { ...filters[i], ...values } as Filter) as never },
          },
    );
  return (
    <Section title={layer.kind === 'adjust' ? 'Changes what is below' : 'Changes'}>
      {filters.map((filter, i) => (
        <fieldset
          key={i}
          disabled={disabled}
          style={{ border: `1px solid ${INK.line}`, borderRadius: 2, margin: 0, padding: '2px 8px 6px', minWidth: 0 }}
        >
          <legend style={{ padding: '0 4px', color: INK.quiet }}>{NAMES[filter.kind].name}</legend>
          <div style={{ display: 'grid', gap: 4 }}>
            <OneFilter
              filter={filter}
              tones={tones}
              change={(values) => change(i, values)}
              show={(values) => show(i, values)}
            />
            {filter.kind === 'replace' && <OnePatch layer={layer} at={i} filter={filter} />}
            <Button
              size="small"
              sx={{ justifySelf: 'end', minHeight: 24, py: 0 }}
              aria-label={`Take ${NAMES[filter.kind].name} off`}
              onClick={() => put(filters.toSpliced(i, 1), `Take ${NAMES[filter.kind].name} off ${layer.name}`)}
            >
              Take off
            </Button>
          </div>
        </fieldset>
      ))}
      <Button
        size="small"
        disabled={disabled || filters.length >= 12}
        aria-haspopup="true"
        onClick={(event) => setMenu(event.currentTarget)}
      >
        Add a change
      </Button>
      <Menu anchorEl={menu} open={menu !== null} onClose={() => setMenu(null)}>
        {(Object.keys(NAMES) as Kind[]).filter(fits).map((kind) => (
          <MenuItem
            key={kind}
            onClick={() => {
              setMenu(null);
              void make(kind, first, hexOfRgb(colourOf(livery, first)), () =>
                flat.ask('tones', { layer: layer.id }),
              ).then((made) => put([...filters, made], `${NAMES[kind].name} on ${layer.name}`));
            }}
          >
            <ListItemText
              primary={NAMES[kind].name}
              secondary={NAMES[kind].what}
              slotProps={{ secondary: { sx: { fontSize: 12, color: INK.quiet } } }}
            />
          </MenuItem>
        ))}
      </Menu>
    </Section>
  );
}

/** The change keeps to one patch of the colour, as far as that hangs together: the next press on the sheet says which. */
function OnePatch({
  layer,
  at,
  filter: { tolerance, soft },
}: {
  layer: Layer;
  /** Its place among the layer's changes. */
  at: number;
  filter: Extract<Filter, { kind: 'replace' }>;
}) {
  const waits = useHand(({ patch }) => patch?.layer === layer.id && patch.filter === at);
  const patch = { layer: layer.id, filter: at, tolerance: Math.min(100, tolerance + soft) };
  return (
    <Button size="small" aria-pressed={waits} onClick={() => useHand.setState({ patch: waits ? null : patch })}>
      {waits ? 'Press on the patch' : 'Only where it hangs together'}
    </Button>
  );
}

interface OneProps<F extends Filter> {
  filter: F;
  tones: LayerTones | null;
  change(values: Partial<F>): void;
  show(values: Partial<F> | null): void;
}

function OneFilter({ filter, tones, change, show }: OneProps<Filter>) {
  const slide = (key: string, label: string, min: number, max: number, unit = '%', step = 1) => (
    <Slide
      key={key}
      label={label}
      value={(filter as unknown as Record<string, number>)[key]}
      min={min}
      max={max}
      unit={unit}
      step={step}
      digits={step < 1 ? 2 : 0}
      onShow={(value) => show(value === null ? null : ({ [key]: value } as Partial<Filter>))}
      onCommit={(value) => change({ [key]: value } as Partial<Filter>)}
    />
  );
  switch (filter.kind) {
    case 'recolour':
      return (
        <>
          <PaintPicker label="colour" paint={filter.paint} onChange={(paint) => change({ paint })} />
          {slide('strength', 'strength', 0, 100)}
          {slide('contrast', 'contrast kept', 0, 300)}
          {tones && <Shading filter={filter} tones={tones} />}
        </>
      );
    case 'levels':
      return (
        <>
          {tones && <Histogram tones={tones} channel={filter.channel} black={filter.black} white={filter.white} />}
          <Choice
            label="channel"
            value={filter.channel}
            options={(['all', 'red', 'green', 'blue'] as const).map((value) => ({ value, label: value }))}
            onChange={(channel) => change({ channel })}
          />
          {slide('black', 'darkest', 0, 254, '')}
          {slide('gamma', 'middle', 0.1, 4, '', 0.05)}
          {slide('white', 'lightest', 1, 255, '')}
          {slide('outBlack', 'darkest becomes', 0, 255, '')}
          {slide('outWhite', 'lightest becomes', 0, 255, '')}
        </>
      );
    case 'hcl':
      return (
        <>
          {slide('hue', 'hue', -180, 180, '°')}
          {slide('chroma', 'chroma', -100, 200)}
          {slide('lightness', 'lightness', -100, 100)}
        </>
      );
    case 'replace':
      return (
        <>
          <PaintPicker
            label="from"
            paint={{ hex: filter.from }}
            onChange={(paint) => 'hex' in paint && change({ from: paint.hex })}
          />
          <PaintPicker label="to" paint={filter.to} onChange={(to) => change({ to })} />
          {slide('tolerance', 'tolerance', 0, 60)}
          {slide('soft', 'soft edge', 0, 40)}
        </>
      );
    case 'worn':
      return (
        <>
          {slide('amount', 'worn away', 0, 100)}
          {slide('size', 'size of flakes', 1, 256, 'px')}
          {slide('fade', 'faded', 0, 100)}
          {slide('seed', 'seed', 0, 999999, '')}
        </>
      );
    case 'grain':
      return (
        <>
          {slide('amount', 'amount', 0, 100)}
          {slide('size', 'size', 1, 64, 'px')}
          <Tick label="Coloured" checked={filter.coloured} onChange={(coloured) => change({ coloured })} />
          {slide('seed', 'seed', 0, 999999, '')}
        </>
      );
    case 'blur':
      return slide('radius', 'radius', 0.1, 64, 'px', 0.1);
    case 'sharpen':
      return (
        <>
          {slide('radius', 'radius', 0.1, 16, 'px', 0.1)}
          {slide('amount', 'amount', 0, 500)}
        </>
      );
  }
}

/** Lightness before and after, and a warning when nothing of the shading is left to see. */
function Shading({ filter, tones }: { filter: FilterOf<'recolour'>; tones: LayerTones }) {
  const livery = useLivery();
  const left = shadingLeft(filter, colourOf(livery, filter.paint), tones.range);
  const L = (v: number) => Math.round(v * 100);
  return (
    <>
      <p style={{ margin: 0, color: INK.quiet, fontSize: 12 }}>
        Lightness {L(left.before[0])} to {L(left.before[1])} becomes {L(left.after[0])} to {L(left.after[1])}
      </p>
      {left.lost && (
        <Notice level="warning">
          {left.lost === 'dark'
            ? 'So dark that the shadows can hardly be told apart. A lighter colour, or less contrast, brings them back.'
            : 'So light that the highlights can hardly be told apart. A darker colour, or less contrast, brings them back.'}
        </Notice>
      )}
    </>
  );
}
