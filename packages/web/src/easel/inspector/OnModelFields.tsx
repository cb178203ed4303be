import { Button } from '@mui/material';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { PROJECTORS, type Projector, type ProjectorKind } from '@wet-lacquer/core/livery/projector.ts';
import { canStand } from '@wet-lacquer/core/layers/stand.ts';
import {
  become,
  levelled,
  partnerOver,
  planeBetween,
  seenFrom,
  viewOf,
  VIEWS,
  type View,
} from '@wet-lacquer/core/projectors/place.ts';
import { useShallow } from 'zustand/react/shallow';
import { capital } from '@wet-lacquer/core/capital.ts';
import { Choice } from '../../parts/Choice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { Pair, Section } from '../../parts/Section.tsx';
import { SomeOf } from '../../parts/SomeOf.tsx';
import { Quiet } from '../../parts/text.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { useEasel, useTemplate } from '../context.ts';
import { beginLine, endLine, useLineDrawing } from '../turntable/lineDrawing.ts';
import { count } from '../../lib/words.ts';
import { putOnModel, takeToSheet } from '../onModel.ts';
import type { FieldsProps } from './PlaceFields.tsx';

const AXES = ['forward', 'up', 'starboard'] as const;

type MetreProps = Parameters<typeof NumberField>[0];

/** A length or a place on the model. */
const Metre = (props: MetreProps) => (
  <NumberField unit="m" digits={3} step={0.01} min={-10_000} max={10_000} {...props} />
);

/** How a layer lies on the model, or the way there. */
export function OnModelFields({ layer, disabled, set }: FieldsProps<Layer>) {
  const { doc } = useEasel();
  const template = useTemplate();
  if (template.boards || !canStand(layer)) return null;
  const { on } = layer;
  if (!on)
    return (
      <Button size="small" disabled={disabled} onClick={() => putOnModel(doc, layer.id)}>
        Put on the model
      </Button>
    );
  const plane = planeBetween(template);
  const painted = template.parts.flatMap(({ key, name, sheet }) =>
    sheet === null ? [] : [{ value: key, label: name }],
  );
  const change = (next: Projector, label: string) => set({ on: next }, `${label} of ${layer.name}`);
  const number = (key: string, label: string, value: number, more: Partial<MetreProps> = {}) => (
    <Metre
      key={key}
      label={label}
      value={value}
      disabled={disabled}
      onCommit={(next) => change({ ...on, [key]: next }, `Set ${label}`)}
      {...more}
    />
  );
  const values = on as unknown as Record<string, number>;
  return (
    <Section title="On the model">
      <Choice<ProjectorKind>
        label="lies"
        value={on.kind}
        disabled={disabled}
        options={Object.entries(PROJECTORS).map(([value, { name, what }]) => ({
          value: value as ProjectorKind,
          label: name.toLowerCase(),
          note: what,
        }))}
        onChange={(kind) => change(become(on, kind, template), 'Lie')}
      />
      {'at' in on &&
        AXES.map((axis, k) => (
          <Metre
            key={axis}
            label={axis}
            value={on.at[k]}
            disabled={disabled}
            onCommit={(value) =>
              change({ ...on, at: on.at.map((v, i) => (i === k ? value : v)) as never }, `Set ${axis}`)
            }
          />
        ))}
      {on.kind === 'along' && <DrawLine layer={layer} disabled={disabled} />}
      {on.kind === 'along' && on.line.by === 'cut' && <CutFields on={on} disabled={disabled} change={change} />}
      {PROJECTORS[on.kind].rows.map((row, i) => {
        const fields = row.map(({ key, label, ...more }) => number(key, label, values[key], more));
        return row.length > 1 ? <Pair key={i}>{fields}</Pair> : fields;
      })}
      {on.kind === 'flat' && (
        <>
          <Choice<View | 'own'>
            label="seen from"
            value={viewOf(on) ?? 'own'}
            disabled={disabled}
            options={[
              { value: 'own', label: 'its own side' },
              ...Object.keys(VIEWS).map((view) => ({ value: view as View, label: view })),
            ]}
            onChange={(view) => view !== 'own' && change(seenFrom(on, VIEWS[view], template), 'Set side')}
          />
          <Tick
            label="Goes through to what is behind"
            checked={on.through ?? false}
            disabled={disabled}
            onChange={(through) => {
              const { through: _through, ...rest } = on;
              change(through ? { ...rest, through } : rest, 'Set depth');
            }}
          />
        </>
      )}
      {(on.kind === 'flat' || on.kind === 'folded') && (
        <Button size="small" disabled={disabled} onClick={() => change(levelled(on), 'Level')}>
          Stand upright
        </Button>
      )}
      {plane && (
        <Choice
          label="other side"
          value={!on.partner ? 'none' : on.partner.readable ? 'readable' : 'mirrored'}
          disabled={disabled}
          options={[
            { value: 'none', label: 'bare' },
            { value: 'readable', label: 'the same, to be read' },
            { value: 'mirrored', label: 'mirrored' },
          ]}
          onChange={(how) => {
            const { partner: _partner, ...alone } = on;
            const partner = how === 'none' ? undefined : partnerOver(plane, how === 'readable');
            change((partner ? { ...alone, partner } : alone) as Projector, 'Other side');
          }}
        />
      )}
      <SomeOf
        label="leaves out"
        options={painted}
        chosen={on.not ?? []}
        shown={painted.flatMap(({ value, label }) => (on.not?.includes(value) ? [label] : [])).join(', ') || 'no part'}
        disabled={disabled}
        onChange={(not) => {
          const { not: _not, ...all } = on;
          change((not.length > 0 ? { ...all, not } : all) as Projector, 'Leave parts out');
        }}
      />
      <Button size="small" disabled={disabled} onClick={() => takeToSheet(doc, layer.id)}>
        Take to the sheet
      </Button>
      <Quiet as="p">One layer for all sheets. Drag it on the turntable; its lengths are metres.</Quiet>
    </Section>
  );
}

/** A line of the painter's own, from place to place on the model. */
function DrawLine({ layer, disabled }: Pick<FieldsProps<Layer>, 'layer' | 'disabled'>) {
  const { doc } = useEasel();
  const { drawing, many } = useLineDrawing(
    useShallow((s) => ({ drawing: s.layer === layer.id, many: s.places.length })),
  );
  if (!drawing)
    return (
      <Button size="small" disabled={disabled} onClick={() => beginLine(layer.id)}>
        Draw the line on the model
      </Button>
    );
  return (
    <>
      <Pair>
        <Button size="small" disabled={many < 2} onClick={() => endLine(doc, true)}>
          Keep the line
        </Button>
        <Button size="small" onClick={() => endLine(doc, false)}>
          Leave it
        </Button>
      </Pair>
      <Quiet as="p">
        {many === 0 ? 'Press on the model where the line begins.' : `${count(many, 'place')}; press on to the next.`}
      </Quiet>
    </>
  );
}

/** Cuts that have names: across which of the model's directions, and how far along it. */
const CUTS = { waterline: [0, 1, 0], frame: [1, 0, 0], 'centre line': [0, 0, 1] } as const;

function CutFields({
  on,
  disabled,
  change,
}: {
  on: Extract<Projector, { kind: 'along' }>;
  disabled: boolean;
  change(next: Projector, label: string): void;
}) {
  if (on.line.by !== 'cut') return null;
  const { normal, offset } = on.line;
  const named = (Object.keys(CUTS) as (keyof typeof CUTS)[]).find((key) =>
    CUTS[key].every((v, k) => Math.abs(v - normal[k]) < 1e-4),
  );
  return (
    <>
      <Choice
        label="cut"
        value={named ?? 'slanting'}
        disabled={disabled}
        options={[
          ...(named ? [] : [{ value: 'slanting', label: 'slanting' }]),
          ...Object.keys(CUTS).map((value) => ({ value, label: capital(value).toLowerCase() })),
        ]}
        onChange={(key) => {
          if (key === 'slanting') return;
          const next = CUTS[key as keyof typeof CUTS];
          change({ ...on, line: { by: 'cut', normal: [...next], offset: key === 'centre line' ? 0 : offset } }, 'Cut');
        }}
      />
      <Metre
        label="at"
        value={offset}
        disabled={disabled}
        onCommit={(value) => change({ ...on, line: { by: 'cut', normal, offset: value } }, 'Move the cut')}
      />
    </>
  );
}
