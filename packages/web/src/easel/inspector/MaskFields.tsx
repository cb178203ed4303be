import { Button } from '@mui/material';
import { useState } from 'react';
import { sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { FieldName, newMask, type Mask, type MaskFrom } from '@wet-lacquer/core/livery/paint.ts';
import { layersOf } from '@wet-lacquer/core/livery/livery.ts';
import { FIELDS } from '@wet-lacquer/core/surface/baked/index.ts';
import { placesOf } from '@wet-lacquer/core/surface/places.ts';
import { Quiet } from '../../parts/text.tsx';
import { sentenceOf } from '../../lib/api.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Slide } from '../../parts/Slide.tsx';
import { useEasel, useLivery, useTemplate } from '../context.ts';
import { keepTapedOff } from '../flat/tape.tsx';
import { takeInHand, useHand } from '../hand.ts';
import { useSession, useSessionOf } from '../session.ts';
import { Tick } from '../../parts/Tick.tsx';
import { type FieldsProps } from './PlaceFields.tsx';
import { Pair, Section } from '../../parts/Section.tsx';

type Start = 'none' | 'all' | 'region' | 'parts' | 'fade' | 'layer' | FieldName;

const WORDS: Record<MaskFrom['kind'], string> = {
  all: 'everything',
  parts: 'parts',
  fade: 'a fade',
  layer: 'another layer',
  coverage: 'a region',
  field: 'the model’s own shape',
};

/** What masks by a field of the model begin with: shares of it. */
const FIELD_BEGINS: Readonly<Record<FieldName, { from: number; to: number }>> = {
  height: { from: 0.5, to: 0.1 },
  hollows: { from: 0.2, to: 0.6 },
  edges: { from: 0.25, to: 0.6 },
};
const FIELD_CHOICES = FieldName.options.map((value) => ({ value, label: FIELDS[value].shows }));

/** Between which values of a field the layer comes in. */
function FieldRange({
  layer,
  from,
  disabled,
}: {
  layer: Layer;
  from: Extract<MaskFrom, { kind: 'field' }>;
  disabled: boolean;
}) {
  const { doc } = useEasel();
  const edit = (values: Partial<typeof from>) =>
    ({ do: 'set-mask', layer: layer.id, set: { from: { ...from, ...values } } }) as const;
  return (
    <>
      <Choice
        label="shows"
        value={from.field}
        disabled={disabled}
        options={FIELD_CHOICES}
        onChange={(field) =>
          doc.commit(edit({ field, ...FIELD_BEGINS[field] }), `Mask ${layer.name} ${FIELDS[field].shows}`)
        }
      />
      {(['from', 'to'] as const).map((key) => (
        <Slide
          key={key}
          label={key === 'from' ? 'nothing at' : 'full at'}
          unit="%"
          value={Math.round(from[key] * 100)}
          min={0}
          max={100}
          disabled={disabled}
          onShow={(value) => doc.show(value === null ? null : edit({ [key]: value / 100 }))}
          onCommit={(value) => doc.commit(edit({ [key]: value / 100 }), `Mask of ${layer.name}`)}
        />
      ))}
    </>
  );
}

/** Where the layer shows: a mask, what it begins with, and what is done with it. */
export function MaskFields({ layer, disabled, set }: FieldsProps<Layer>) {
  const { doc, flat } = useEasel();
  const livery = useLivery();
  const template = useTemplate();
  const { sheet: sheetKey, map, maskAlone } = useSessionOf('sheet', 'map', 'maskAlone');
  const { onMask, selections } = useHand();
  const [problem, setProblem] = useState<string | null>(null);
  const { mask } = layer;
  const sheet = sheetNamed(template, sheetKey);
  const others = layersOf(livery, sheetKey, map).filter((one) => one.id !== layer.id);
  const places = placesOf(template, sheetKey);

  const begin = async (start: Start): Promise<MaskFrom | null> => {
    switch (start) {
      case 'all':
        return { kind: 'all' };
      case 'parts':
        return { kind: 'parts', parts: [...places[0].keys] };
      case 'fade':
        return {
          kind: 'fade',
          shape: 'linear',
          x: sheet.width / 3,
          y: sheet.height / 2,
          length: sheet.width / 3,
          angle: 0,
        };
      case 'layer':
        return { kind: 'layer', layer: others[0].id };
      case 'region': {
        const region = await keepTapedOff(flat, sheetKey);
        return region && { kind: 'coverage', ...region };
      }
      case 'none':
        return null;
      case 'height':
      case 'hollows':
      case 'edges':
        return { kind: 'field', field: start, ...FIELD_BEGINS[start] };
    }
  };
  const add = (start: Start) =>
    void begin(start)
      .then((from) => {
        if (from) set({ mask: newMask(from) }, `Mask ${layer.name}`);
      })
      .catch((error) => setProblem(sentenceOf(error)));
  const setMask = (values: Partial<Omit<Mask, 'strokes'>>, label: string) =>
    doc.commit({ do: 'set-mask', layer: layer.id, set: values }, label);

  if (!mask)
    return (
      <Section title="Mask">
        <Choice<Start>
          label="shows"
          value="none"
          disabled={disabled}
          options={[
            { value: 'none', label: 'everywhere' },
            { value: 'all', label: 'where it is not rubbed out' },
            ...(selections.some((one) => one.sheet === sheetKey)
              ? [{ value: 'region' as const, label: 'in the taped-off region' }]
              : []),
            ...(places.length > 0
              ? [{ value: 'parts' as const, label: template.boards ? 'in a cell' : 'on some parts' }]
              : []),
            { value: 'fade', label: 'along a fade' },
            ...(template.boards ? [] : FIELD_CHOICES),
            ...(others.length > 0 ? [{ value: 'layer' as const, label: 'where another layer is' }] : []),
          ]}
          onChange={add}
        />
        {problem && <Notice level="error">{problem}</Notice>}
      </Section>
    );
  const { from } = mask;
  return (
    <Section title="Mask">
      <Quiet as="p">
        Shows by {WORDS[from.kind]}
        {mask.strokes.length > 0 && `, painted on ${mask.strokes.length} times`}
        {mask.off && '; switched off'}
      </Quiet>
      {from.kind === 'parts' && (
        <Choice
          label="part"
          value={from.parts[0]}
          disabled={disabled}
          options={places.map(({ keys, name }) => ({ value: keys[0], label: name }))}
          onChange={(key) => {
            const { keys, kind } = places.find((place) => place.keys[0] === key)!;
            setMask({ from: { kind: 'parts', parts: [...keys] } }, `Mask ${layer.name} by a ${kind}`);
          }}
        />
      )}
      {from.kind === 'layer' && (
        <Choice
          label="layer"
          value={others.some(({ id }) => id === from.layer) ? from.layer : ''}
          disabled={disabled}
          options={others.map(({ id, name }) => ({ value: id as string, label: name }))}
          onChange={(id) =>
            setMask({ from: { kind: 'layer', layer: id as typeof from.layer } }, `Mask ${layer.name} by a layer`)
          }
        />
      )}
      {from.kind === 'field' && <FieldRange layer={layer} from={from} disabled={disabled} />}
      {from.kind === 'fade' && (
        <>
          {(['x', 'y', 'length', 'angle'] as const).map((key) => (
            <Slide
              key={key}
              label={key === 'angle' || key === 'length' ? key : `begins at ${key}`}
              value={from[key]}
              min={key === 'angle' ? -180 : key === 'length' ? 1 : 0}
              max={key === 'angle' ? 180 : Math.max(sheet.width, sheet.height)}
              unit={key === 'angle' ? '°' : 'px'}
              disabled={disabled}
              onShow={(value) =>
                doc.show(
                  value === null ? null : { do: 'set-mask', layer: layer.id, set: { from: { ...from, [key]: value } } },
                )
              }
              onCommit={(value) => setMask({ from: { ...from, [key]: value } }, `Mask of ${layer.name}`)}
            />
          ))}
        </>
      )}
      <Slide
        label="soften"
        unit="px"
        value={mask.feather}
        min={0}
        max={128}
        disabled={disabled}
        onShow={(value) =>
          doc.show(value === null ? null : { do: 'set-mask', layer: layer.id, set: { feather: value } })
        }
        onCommit={(feather) => setMask({ feather }, `Soften the mask of ${layer.name}`)}
      />
      <Tick
        label="Turned round"
        checked={mask.inverted}
        disabled={disabled}
        onChange={(inverted) => setMask({ inverted }, `Turn the mask of ${layer.name} round`)}
      />
      {'x' in layer && (
        <Tick
          label="Moves with the layer"
          checked={mask.linked !== null}
          disabled={disabled}
          onChange={(on) =>
            setMask({ linked: on ? { x: layer.x, y: layer.y } : null }, `Link the mask of ${layer.name}`)
          }
        />
      )}
      <Tick
        label="Switched off"
        checked={mask.off}
        disabled={disabled}
        onChange={(off) => setMask({ off }, `Switch the mask of ${layer.name}`)}
      />
      <Tick label="Seen alone" checked={maskAlone} onChange={(on) => useSession.setState({ maskAlone: on })} />
      <Pair>
        <Button
          size="small"
          disabled={disabled}
          aria-pressed={onMask}
          onClick={() => {
            useHand.setState({ onMask: !onMask });
            if (!onMask) takeInHand('rub');
          }}
        >
          {onMask ? 'Paint the layer' : 'Paint the mask'}
        </Button>
        <Button
          size="small"
          disabled={disabled}
          onClick={() => {
            useHand.setState({ onMask: false });
            useSession.setState({ maskAlone: false });
            set({ mask: null }, `Take the mask off ${layer.name}`);
          }}
        >
          Take it off
        </Button>
      </Pair>
      {problem && <Notice level="error">{problem}</Notice>}
    </Section>
  );
}
