import { FINISH_VALUES, type Flake, type LiveryFinish } from '@wet-lacquer/core/livery/finish.ts';
import { ColourInput } from '../../parts/ColourInput.tsx';
import { Grow, Row } from '../../parts/layout.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { Pair } from '../../parts/Section.tsx';
import { Tick } from '../../parts/Tick.tsx';

interface Props {
  finish: LiveryFinish;
  set(values: { flake: Flake | null }, label: string): void;
}

/** The flakes of a finish, or that it has none. */
export function FlakeFields({ finish, set }: Props) {
  const { flake } = finish;
  const setFlake = (values: Partial<Flake>) => set({ flake: { ...flake!, ...values } }, `Flakes of ${finish.name}`);
  return (
    <>
      <Tick
        label="Flakes in it"
        checked={flake !== undefined}
        onChange={(on) =>
          set(
            { flake: on ? FINISH_VALUES.metallic.flake! : null },
            on ? `Flakes into ${finish.name}` : `No flakes in ${finish.name}`,
          )
        }
      />
      {flake && (
        <>
          <Row as="label" gap={8}>
            <Grow as="span">their tint</Grow>
            <ColourInput
              label={`Tint of the flakes of ${finish.name}`}
              value={flake.tint}
              onCommit={(tint) => setFlake({ tint })}
            />
          </Row>
          <NumberField
            label="size"
            unit="mm"
            digits={2}
            step={0.05}
            value={flake.size}
            min={0.01}
            max={10}
            onCommit={(size) => setFlake({ size })}
          />
          <Pair>
            <NumberField
              label="density"
              unit="%"
              value={flake.density}
              min={0}
              max={100}
              onCommit={(density) => setFlake({ density })}
            />
            <NumberField
              label="strength"
              unit="%"
              value={flake.strength}
              min={0}
              max={100}
              onCommit={(strength) => setFlake({ strength })}
            />
          </Pair>
        </>
      )}
    </>
  );
}
