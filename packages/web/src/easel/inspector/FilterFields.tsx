import { Button, Menu, MenuItem } from '@mui/material';
import { useEffect, useState } from 'react';
import { hexOfRgb } from '@wet-lacquer/core/colour/hex.ts';
import { shadingLeft } from '@wet-lacquer/core/filters/recolour/apply.ts';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { colourOf, schemePaint } from '@wet-lacquer/core/livery/livery.ts';
import type { FilterRow, FilterStart } from '@wet-lacquer/core/filters/data.ts';
import { Filter, filterData, FILTERS, type FilterOf, type Paint } from '@wet-lacquer/core/livery/paint.ts';
import { Explained } from '../../parts/Explained.tsx';
import { Stack } from '../../parts/layout.tsx';
import { Quiet } from '../../parts/text.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Slide } from '../../parts/Slide.tsx';
import { INK } from '../../theme.ts';
import type { LayerTones } from '../../workers/messages.ts';
import { useHand } from '../hand.ts';
import { useEasel, useLivery } from '../context.ts';
import { Histogram } from './Histogram.tsx';
import { PaintPicker } from './PaintPicker.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { type FieldsProps } from './PlaceFields.tsx';
import { Section } from '../../parts/Section.tsx';

type Kind = Filter['kind'];

/** A change to begin with, of its own seed. */
const begun = (kind: Kind, start: Omit<FilterStart, 'seed'>): Filter =>
  Filter.parse({ kind, ...FILTERS[kind].begin({ ...start, seed: Math.floor(Math.random() * 1e6) }) });

/** What is done to the layer's picture, one after the other; all of it can be changed and taken off again. */
export function FilterFields({ layer, disabled, set }: FieldsProps<Layer>) {
  const { doc, flat } = useEasel();
  const livery = useLivery();
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const [tones, setTones] = useState<LayerTones | null>(null);
  const filters = layer.filters ?? [];
  const needsTones = filters.some((filter) => filterData(filter).tones);
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
  const fits = (kind: Kind) => layer.kind !== 'adjust' || FILTERS[kind].alone;
  const add = async (kind: Kind) => {
    const found = FILTERS[kind].tones ? await flat.ask('tones', { layer: layer.id }).catch(() => null) : null;
    const hex = hexOfRgb(colourOf(livery, first));
    const made = begun(kind, { paint: first, hex, middle: found?.middle ?? null });
    put([...filters, made], `${FILTERS[kind].name} on ${layer.name}`);
  };
  const put = (next: Filter[], label: string) => set({ filters: next.length > 0 ? next : null }, label);
  const change = (i: number, values: Partial<Filter>) =>
    put(filters.with(i, { ...filters[i], ...values } as Filter), `${filterData(filters[i]).name} of ${layer.name}`);
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
          <legend style={{ padding: '0 4px', color: INK.quiet }}>{filterData(filter).name}</legend>
          <Stack gap={4}>
            <OneFilter
              layer={layer}
              at={i}
              filter={filter}
              tones={tones}
              change={(values) => change(i, values)}
              show={(values) => show(i, values)}
            />
            <Button
              size="small"
              sx={{ justifySelf: 'end', minHeight: 24, py: 0 }}
              aria-label={`Take ${filterData(filter).name} off`}
              onClick={() => put(filters.toSpliced(i, 1), `Take ${filterData(filter).name} off ${layer.name}`)}
            >
              Take off
            </Button>
          </Stack>
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
        {(Object.keys(FILTERS) as Kind[]).filter(fits).map((kind) => (
          <MenuItem
            key={kind}
            onClick={() => {
              setMenu(null);
              void add(kind);
            }}
          >
            <Explained name={FILTERS[kind].name} what={FILTERS[kind].what} />
          </MenuItem>
        ))}
      </Menu>
    </Section>
  );
}

interface RowProps<F extends Filter> {
  layer: Layer;
  /** Its place among the layer's changes. */
  at: number;
  filter: F;
  tones: LayerTones | null;
}
interface OneProps extends RowProps<Filter> {
  change(values: Partial<Filter>): void;
  show(values: Partial<Filter> | null): void;
}

function OneFilter({ change, show, ...given }: OneProps) {
  const values = given.filter as unknown as Record<string, unknown>;
  const set = (key: string, value: unknown) => change({ [key]: value } as Partial<Filter>);
  return filterData(given.filter).rows.map((row) => {
    if (typeof row === 'string') {
      const Row = ROWS[row];
      return <Row key={row} {...(given as RowProps<never>)} />;
    }
    const { key, label } = row;
    switch (row.is) {
      case 'slide': {
        const { min, max, unit, step = 1 } = row;
        return (
          <Slide
            key={key}
            {...{ label, min, max, unit, step }}
            value={values[key] as number}
            digits={step < 1 ? 2 : 0}
            onShow={(value) => show(value === null ? null : ({ [key]: value } as Partial<Filter>))}
            onCommit={(value) => set(key, value)}
          />
        );
      }
      case 'paint':
        return (
          <PaintPicker key={key} label={label} paint={values[key] as Paint} onChange={(paint) => set(key, paint)} />
        );
      case 'hex':
        return (
          <PaintPicker
            key={key}
            label={label}
            paint={{ hex: values[key] as string }}
            onChange={(paint) => 'hex' in paint && set(key, paint.hex)}
          />
        );
      case 'tick':
        return <Tick key={key} label={label} checked={values[key] as boolean} onChange={(on) => set(key, on)} />;
      case 'choice':
        return (
          <Choice
            key={key}
            label={label}
            value={values[key] as string}
            options={row.options.map((value) => ({ value, label: value }))}
            onChange={(value) => set(key, value)}
          />
        );
    }
  });
}

/** The change keeps to one patch of the colour, as far as that hangs together: the next press on the sheet says which. */
function OnePatch({ layer, at, filter: { tolerance, soft } }: RowProps<FilterOf<'replace'>>) {
  const waits = useHand(({ patch }) => patch?.layer === layer.id && patch.filter === at);
  const patch = { layer: layer.id, filter: at, tolerance: Math.min(100, tolerance + soft) };
  return (
    <Button size="small" aria-pressed={waits} onClick={() => useHand.setState({ patch: waits ? null : patch })}>
      {waits ? 'Press on the patch' : 'Only where it hangs together'}
    </Button>
  );
}

function Tones({ filter: { channel, black, white }, tones }: RowProps<FilterOf<'levels'>>) {
  return tones && <Histogram tones={tones} channel={channel} black={black} white={white} />;
}

/** Lightness before and after, and a warning when nothing of the shading is left to see. */
function Shading({ filter, tones }: RowProps<FilterOf<'recolour'>>) {
  const livery = useLivery();
  if (!tones) return null;
  const left = shadingLeft(filter, colourOf(livery, filter.paint), tones.range);
  const L = (v: number) => Math.round(v * 100);
  return (
    <>
      <Quiet as="p" small>
        Lightness {L(left.before[0])} to {L(left.before[1])} becomes {L(left.after[0])} to {L(left.after[1])}
      </Quiet>
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

/** Rows that are more than one setting. */
const ROWS: Record<Extract<FilterRow, string>, (props: RowProps<never>) => React.ReactNode> = {
  histogram: Tones,
  shading: Shading,
  patch: OnePatch,
};
