import { Button } from '@mui/material';
import { useEffect, useState, type ReactNode } from 'react';
import useSWR from 'swr';
import { capital } from '@wet-lacquer/core/capital.ts';
import { sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import { BLEND_MODES, CHANNELS, type BlendMode, type Layer, type LayerOf } from '@wet-lacquer/core/livery/layer.ts';
import { fillIn, layersOf } from '@wet-lacquer/core/livery/livery.ts';
import { groupOf, groupsAround } from '@wet-lacquer/core/livery/tree.ts';
import { placeNames, placesOf } from '@wet-lacquer/core/surface/places.ts';
import type { FontCard } from '@wet-lacquer/sync/answers.ts';
import { Quiet } from '../../parts/text.tsx';
import { sentenceOf } from '../../lib/api.ts';
import { Choice } from '../../parts/Choice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Slide } from '../../parts/Slide.tsx';
import { SomeOf } from '../../parts/SomeOf.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { INK } from '../../theme.ts';
import { placeFreely, setFont, setLayer } from '../actions.ts';
import { describe } from '../buildup/words.ts';
import { useEasel, useLivery, usePlaced, useTemplate } from '../context.ts';
import { useSession, useSessionOf } from '../session.ts';
import { LineUp, Partner, Repeat } from './ArrangeFields.tsx';
import { Behind } from './Behind.tsx';
import { ColourFields } from './ColourFields.tsx';
import { FinishFields } from './FinishFields.tsx';
import { KnockOutFields } from './KnockOutFields.tsx';
import { FilterFields } from './FilterFields.tsx';
import { MaskFields } from './MaskFields.tsx';
import { LitFields } from './NightFields.tsx';
import { OnModelFields } from './OnModelFields.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { PlaceFields, type FieldsProps } from './PlaceFields.tsx';
import { Pair, Section } from '../../parts/Section.tsx';
import { WarpFields } from './WarpFields.tsx';

/** Kinds without colours of their own to choose. */
const BARE: readonly Layer['kind'][] = ['picture', 'group', 'adjust', 'brush'];

const title = (mode: string) => capital(mode).replace('-', ' ');

/** The chosen layer: what it is, where it goes, its colours, how it mixes. */
export function LayerPanel({ layer }: { layer: Layer }) {
  const { doc } = useEasel();
  const template = useTemplate();
  const sheetKey = useSession((s) => s.sheet);
  const focus = useSession((s) => s.focus);
  const also = useSession((s) => s.also);
  const [problem, setProblem] = useState<{ of: Layer; why: string } | null>(null);
  const sheet = sheetNamed(template, sheetKey);
  useEffect(() => {
    if (!focus) return;
    useSession.setState({ focus: null });
    const field = document.getElementById(focus) as HTMLInputElement | null;
    field?.focus();
    field?.select();
  }, [focus]);
  const set = (values: Record<string, unknown>, label: string) => {
    try {
      setLayer(doc, layer.id, values, label);
    } catch (error) {
      setProblem({ of: layer, why: sentenceOf(error) });
    }
  };
  const disabled = layer.locked;
  return (
    <>
      <TextEntry
        label="name"
        inputId="layer-name"
        value={layer.name}
        required
        maxLength={80}
        onCommit={(name) => set({ name }, `Rename to ${name}`)}
      />
      <p style={{ margin: '4px 0 0', color: INK.quiet }}>
        {describe(layer, template)}
        {layer.hidden && ', hidden'}
      </p>
      {layer.across !== undefined && !layer.on && (
        <p style={{ margin: '2px 0 0', color: INK.quiet }}>Runs over several sheets: it is changed on all of them.</p>
      )}
      {disabled && <p style={{ margin: '4px 0 0', color: INK.amber }}>Locked: unlock it to change it.</p>}
      {problem?.of === layer && <Notice level="error">{problem.why}</Notice>}
      {layer.kind === 'lettering' && <LetteringFields layer={layer} disabled={disabled} set={set} />}
      <Section title="Where it goes">
        <Placed layer={layer}>
          {(live) => (
            <>
              <PlaceFields layer={live} disabled={disabled} set={set} sheet={sheet} />
              {live.kind === 'picture' && <TexelPlace layer={live} disabled={disabled} set={set} />}
              {(live.kind === 'decal' || live.kind === 'lettering') && <Behind layer={live} sheet={sheet.key} />}
            </>
          )}
        </Placed>
        {!layer.on && <KeepsTo layer={layer} disabled={disabled} set={set} />}
        {!layer.on && <OnModelFields layer={layer} disabled={disabled} set={set} />}
      </Section>
      {layer.on && (
        <Placed layer={layer}>{(live) => <OnModelFields layer={live} disabled={disabled} set={set} />}</Placed>
      )}
      {also.size > 0 && <LineUp ids={[layer.id, ...also]} />}
      {layer.kind === 'decal' && <WarpFields layer={layer} disabled={disabled} set={set} />}
      {layer.kind === 'decal' && layer.source === 'pixels' && (
        <KnockOutFields layer={layer} disabled={disabled} set={set} />
      )}
      {!BARE.includes(layer.kind) && (
        <Section title="Colours">
          <ColourFields layer={layer} disabled={disabled} set={set} />
        </Section>
      )}
      <FinishFields layer={layer} disabled={disabled} set={set} />
      <LitFields layer={layer} disabled={disabled} set={set} />
      <Section title="Mix">
        <Opacity layer={layer} disabled={disabled} set={set} />
        <Choice<BlendMode>
          label="blend"
          value={layer.blend}
          disabled={disabled}
          options={BLEND_MODES.map((value) => ({ value, label: title(value) }))}
          onChange={(blend) => set({ blend }, `Blend ${layer.name} as ${blend}`)}
        />
        <Relations layer={layer} disabled={disabled} set={set} />
      </Section>
      <MaskFields layer={layer} disabled={disabled} set={set} />
      <FilterFields layer={layer} disabled={disabled} set={set} />
      <Placed layer={layer}>
        {(live) => (
          <>
            {!live.on && <Partner layer={live} sheet={sheet} />}
            {!live.on && <Repeat layer={live} />}
          </>
        )}
      </Placed>
    </>
  );
}

/** What follows the layer while it is dragged. */
function Placed({ layer, children }: { layer: Layer; children(live: Layer): ReactNode }) {
  return children(usePlaced(layer));
}

function LetteringFields({ layer, disabled, set }: FieldsProps<LayerOf<'lettering'>>) {
  const { doc } = useEasel();
  const livery = useLivery();
  const { data: fonts } = useSWR<FontCard[]>('/fonts');
  const filled = fillIn(layer.text, livery.particulars);
  return (
    <Section title="Text">
      <TextEntry
        label="text"
        value={layer.text}
        disabled={disabled}
        onCommit={(text) => set({ text }, `Change text of ${layer.name}`)}
      />
      {filled !== layer.text && <Quiet as="p">Reads “{filled}” from the particulars.</Quiet>}
      {fonts && (
        <Choice
          label="font"
          value={layer.font}
          disabled={disabled}
          options={fonts.map((f) => ({ value: f.key, label: f.name, note: f.kind }))}
          onChange={(font) => void setFont(doc, layer.id, font)}
        />
      )}
      <Pair>
        <NumberField
          label="spacing"
          unit="%"
          value={layer.spacing}
          min={-50}
          max={400}
          disabled={disabled}
          onCommit={(spacing) => set({ spacing }, `Spacing of ${layer.name}`)}
        />
        <NumberField
          label="slant"
          unit="°"
          value={layer.slant}
          min={-45}
          max={45}
          disabled={disabled}
          onCommit={(slant) => set({ slant }, `Slant of ${layer.name}`)}
        />
      </Pair>
      <Tick
        label="Mirrored"
        checked={layer.mirrored}
        disabled={disabled}
        onChange={(mirrored) => set({ mirrored }, `Mirror ${layer.name}`)}
      />
    </Section>
  );
}

/** How it stands to the layers about it: its group, what it is clipped to, and which channels it changes. */
function Relations({ layer, disabled, set }: FieldsProps<Layer>) {
  const livery = useLivery();
  const { sheet, map } = useSessionOf('sheet', 'map');
  const layers = layersOf(livery, sheet, map);
  const groups = layers.filter(
    (other) => other.kind === 'group' && other.id !== layer.id && !groupsAround(layers, other).includes(layer),
  );
  return (
    <>
      {layer.kind === 'group' && (
        <Tick
          label="Its layers mix with what is below"
          checked={layer.through}
          disabled={disabled}
          onChange={(through) => set({ through }, `Let ${layer.name} through`)}
        />
      )}
      {groups.length > 0 && (
        <Choice
          label="group"
          value={groupOf(layers, layer)?.id ?? 'none'}
          disabled={disabled}
          options={[
            { value: 'none', label: 'none' },
            ...groups.map(({ id, name }) => ({ value: id as string, label: name })),
          ]}
          onChange={(group) => set({ group: group === 'none' ? null : group }, `Group of ${layer.name}`)}
        />
      )}
      <Tick
        label="Only where the layer below has paint"
        checked={layer.clipped ?? false}
        disabled={disabled}
        onChange={(on) => set({ clipped: on ? true : null }, `Clip ${layer.name}`)}
      />
      <SomeOf
        label="changes"
        options={CHANNELS.map((value) => ({ value, label: value }))}
        chosen={layer.channels ?? []}
        shown={layer.channels?.join(', ') ?? 'all channels'}
        disabled={disabled}
        onChange={(names) => set({ channels: names.length > 0 ? names : null }, `Channels of ${layer.name}`)}
      />
    </>
  );
}

/** A picture lies texel for texel: it moves by whole texels, and keeps its size. */
function TexelPlace({ layer, disabled, set }: FieldsProps<LayerOf<'picture'>>) {
  const { doc } = useEasel();
  const number = (key: 'left' | 'top') => (
    <NumberField
      label={key}
      unit="px"
      value={layer[key]}
      digits={0}
      min={-65536}
      max={65536}
      disabled={disabled}
      onCommit={(value) => set({ [key]: Math.round(value) }, `Set ${key} of ${layer.name}`)}
    />
  );
  return (
    <>
      <Pair>
        {number('left')}
        {number('top')}
      </Pair>
      <Quiet as="p">
        {layer.width} x {layer.height}, texel for texel
      </Quiet>
      <Button size="small" disabled={disabled} onClick={() => placeFreely(doc, layer)}>
        Place it freely
      </Button>
    </>
  );
}

function KeepsTo({ layer, disabled, set }: FieldsProps<Layer>) {
  const template = useTemplate();
  const sheet = useSession((s) => s.sheet);
  const places = placesOf(template, sheet);
  // A place is chosen with all its cells; what is not in the list stays until it is taken out.
  const listed = new Set(places.flatMap(({ keys }) => keys));
  const others = layer.parts.filter((key) => !listed.has(key));
  const rows = [...places, ...others.map((key) => ({ keys: [key], name: placeNames(template, sheet, [key])[0] }))].map(
    ({ keys, name }) => ({ keys, name, on: keys.some((key) => layer.parts.includes(key)) }),
  );
  return (
    <SomeOf
      label="keeps to"
      options={rows.map(({ keys, name }) => ({ value: keys[0], label: name }))}
      chosen={rows.filter(({ on }) => on).map(({ keys }) => keys[0])}
      shown={layer.parts.length === 0 ? 'whole sheet' : placeNames(template, sheet, layer.parts).join(', ')}
      disabled={disabled}
      onChange={(first) =>
        set(
          { parts: rows.filter(({ keys }) => first.includes(keys[0])).flatMap(({ keys }) => [...keys]) },
          `Places of ${layer.name}`,
        )
      }
    />
  );
}

function Opacity({ layer, disabled, set }: FieldsProps<Layer>) {
  const { doc } = useEasel();
  return (
    <Slide
      label="opacity"
      unit="%"
      value={layer.opacity}
      min={0}
      max={100}
      disabled={disabled}
      onShow={(opacity) => doc.show(opacity === null ? null : { do: 'set-layer', layer: layer.id, set: { opacity } })}
      onCommit={(opacity) => set({ opacity }, `Opacity of ${layer.name}`)}
    />
  );
}
