import { PLATE_FORMS } from '@wet-lacquer/core/livery/plate.ts';
import { AXES, type Axis, type PlateTurn, type SpecPlates } from '@wet-lacquer/core/livery/specPlates.ts';
import type { DeliverySpec, SpecFile } from '@wet-lacquer/core/livery/spec.ts';
import { Choice } from '../../parts/Choice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { Stack } from '../../parts/layout.tsx';
import { Quiet } from '../../parts/text.tsx';
import { SomeOf } from '../../parts/SomeOf.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { Tick } from '../../parts/Tick.tsx';

interface Props {
  spec: DeliverySpec;
  readOnly: boolean;
  onChange(change: Partial<DeliverySpec>): void;
}

/** How a game takes plates where nobody has said it yet: as the model is. */
const FIRST: SpecPlates = {
  kinds: ['flat'],
  textures: 'shared',
  unit: 'm',
  axes: ['x', 'y', 'z'],
  turn: { as: 'quaternion', order: 'xyzw' },
};

const AXIS_NAMES: Readonly<Record<Axis, string>> = {
  x: 'forward',
  y: 'up',
  z: 'to starboard',
  '-x': 'aft',
  '-y': 'down',
  '-z': 'to port',
};

/** Every way in which a turn can be written. */
const TURNS: readonly { label: string; turn: PlateTurn }[] = [
  ...(['xyzw', 'wxyz'] as const).map((order) => ({
    label: `quaternion ${order}`,
    turn: { as: 'quaternion' as const, order },
  })),
  ...(['degrees', 'radians'] as const).flatMap((unit) =>
    (['xyz', 'xzy', 'yxz', 'yzx', 'zxy', 'zyx'] as const).map((order) => ({
      label: `${unit}, about ${[...order].join(', then ')}`,
      turn: { as: 'angles' as const, order, unit },
    })),
  ),
  ...(['columns', 'rows'] as const).map((order) => ({
    label: `matrix by ${order}`,
    turn: { as: 'matrix' as const, order },
  })),
];
const same = (a: PlateTurn, b: PlateTurn): boolean =>
  a.as === b.as && a.order === b.order && (a.as !== 'angles' || b.as !== 'angles' || a.unit === b.unit);

/** Whether and how the game takes plates: textures, axes, units and turns. */
export function PlateSpecFields({ spec, readOnly, onChange }: Props) {
  const { plates } = spec;
  const set = (change: Partial<SpecPlates>) => onChange({ plates: { ...plates!, ...change } });
  const named = spec.files.find((file) => file.plateName !== undefined)?.plateName ?? '';
  const nameFiles = (plateName: string | undefined): SpecFile[] =>
    spec.files.map((file) => {
      const { plateName: _before, ...rest } = file;
      return file.map === 'colour' && plateName ? { ...rest, plateName } : rest;
    });
  const setAxis = (at: number, axis: Axis) => {
    // Whoever had that axis gets the one that it takes the place of.
    const axes = plates!.axes.map((one, i) =>
      i === at ? axis : one.at(-1) === axis.at(-1) ? (plates!.axes[at].at(-1) as Axis) : one,
    );
    set({ axes: axes as SpecPlates['axes'] });
  };
  return (
    <section aria-label="Plates" style={{ display: 'grid', gap: 6 }}>
      <Tick
        label="It takes plates that stand on the model"
        checked={plates !== undefined}
        disabled={readOnly}
        onChange={(on) => onChange(on ? { plates: FIRST } : { plates: undefined, files: nameFiles(undefined) })}
      />
      {plates && (
        <>
          <Quiet as="p">
            Texts list them as {'{{#plates}}'}: name, key, file, x, y, z, turn, across, tall and more. A plate that is
            not turned lies as the model’s own axes do.
          </Quiet>
          <Stack columns="1fr 1fr" gap={6}>
            <SomeOf
              label="forms"
              options={PLATE_FORMS.map((value) => ({ value, label: value }))}
              chosen={plates.kinds}
              shown={plates.kinds.join(', ')}
              disabled={readOnly}
              onChange={(kinds) => kinds.length > 0 && set({ kinds: PLATE_FORMS.filter((one) => kinds.includes(one)) })}
            />
            <Choice
              label="textures"
              value={plates.textures}
              options={[
                { value: 'shared', label: 'one for all' },
                { value: 'own', label: 'one each' },
                { value: 'either', label: 'either' },
              ]}
              disabled={readOnly}
              onChange={(textures) =>
                onChange({
                  plates: { ...plates, textures },
                  files: nameFiles(textures === 'shared' ? undefined : named || '{livery.key}_{plate.key}.dds'),
                })
              }
            />
            <Choice
              label="lengths"
              value={plates.unit}
              options={(['m', 'cm', 'mm'] as const).map((value) => ({ value, label: value }))}
              disabled={readOnly}
              onChange={(unit) => set({ unit })}
            />
            <Choice
              label="turns"
              value={TURNS.find(({ turn }) => same(turn, plates.turn))!.label}
              options={TURNS.map(({ label }) => ({ value: label, label }))}
              disabled={readOnly}
              onChange={(label) => set({ turn: TURNS.find((one) => one.label === label)!.turn })}
            />
            {(['x', 'y', 'z'] as const).map((axis, k) => (
              <Choice
                key={axis}
                label={`its ${axis} runs`}
                value={plates.axes[k]}
                options={AXES.map((value) => ({ value, label: AXIS_NAMES[value] }))}
                disabled={readOnly}
                onChange={(to) => setAxis(k, to)}
              />
            ))}
            <Choice
              label="places in textures"
              value={plates.fromBelow ? 'below' : 'above'}
              options={[
                { value: 'above', label: 'from above' },
                { value: 'below', label: 'from below' },
              ]}
              disabled={readOnly}
              onChange={(from) => set({ fromBelow: from === 'below' || undefined })}
            />
            <NumberField
              label="at most"
              value={plates.most ?? 200}
              digits={0}
              min={1}
              max={200}
              disabled={readOnly}
              onCommit={(most) => set({ most: Math.round(most) })}
            />
          </Stack>
          {plates.textures !== 'shared' && (
            <TextEntry
              label="name of one"
              value={named}
              mono
              required
              disabled={readOnly}
              onCommit={(name) => onChange({ files: nameFiles(name) })}
            />
          )}
        </>
      )}
    </section>
  );
}
