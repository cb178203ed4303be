import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { layersOf } from '@wet-lacquer/core/livery/livery.ts';
import { FIRST_LIT, FIRST_NIGHT, MOST_SPREAD, type Lit, type NightLook } from '@wet-lacquer/core/livery/night.ts';
import { MAIN_MAP, sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import { groupsAround } from '@wet-lacquer/core/livery/tree.ts';
import { ColourInput } from '../../parts/ColourInput.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { Row } from '../../parts/layout.tsx';
import { Pair, Section } from '../../parts/Section.tsx';
import { Slide } from '../../parts/Slide.tsx';
import { Quiet } from '../../parts/text.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { useEasel, useLivery, useTemplate } from '../context.ts';
import { nightOf } from '../shows.ts';
import { useSessionOf } from '../session.ts';
import { PaintPicker } from './PaintPicker.tsx';
import type { FieldsProps } from './PlaceFields.tsx';

/** What of a layer gives light at night. */
export function LitFields({ layer, disabled, set }: FieldsProps<Layer>) {
  const livery = useLivery();
  const template = useTemplate();
  const { sheet, map } = useSessionOf('sheet', 'map');
  const dark = template.sheets.some((one) => nightOf(one));
  if (map !== MAIN_MAP || layer.kind === 'adjust' || !dark) return null;
  const { lit } = layer;
  const around = groupsAround(layersOf(livery, sheet, map), layer).find((group) => group.lit);
  const put = (values: Partial<Lit>, label: string) => set({ lit: { ...lit!, ...values } }, label);
  const without = (key: 'paint' | 'flicker' | 'only', label: string) => {
    const { [key]: _gone, ...rest } = lit!;
    set({ lit: rest }, label);
  };
  return (
    <Section title="At night">
      <Tick
        label="Lit"
        checked={lit !== undefined}
        disabled={disabled}
        onChange={(on) => set({ lit: on ? FIRST_LIT : null }, on ? `Light ${layer.name}` : `Put ${layer.name} out`)}
      />
      {!lit && around && <Quiet as="p">Its group “{around.name}” lights it.</Quiet>}
      {lit && (
        <>
          <Tick
            label="In its own colours"
            checked={lit.paint === undefined}
            disabled={disabled}
            onChange={(own) =>
              own
                ? without('paint', `Light ${layer.name} in its own colours`)
                : put({ paint: { hex: '#ffd9a0' } }, `Colour the light of ${layer.name}`)
            }
          />
          {lit.paint && (
            <PaintPicker
              label="light"
              paint={lit.paint}
              disabled={disabled}
              onChange={(paint) => put({ paint }, `Colour the light of ${layer.name}`)}
            />
          )}
          <Slide
            label="strength"
            unit="%"
            value={lit.strength}
            min={0}
            max={100}
            disabled={disabled}
            onCommit={(strength) => put({ strength }, `Strength of the light of ${layer.name}`)}
          />
          {!template.boards && (
            <NumberField
              label="shines as far as"
              unit="m"
              value={lit.spread}
              min={0}
              max={MOST_SPREAD}
              step={0.05}
              digits={2}
              disabled={disabled}
              onCommit={(spread) => put({ spread }, `How far ${layer.name} shines`)}
            />
          )}
          <Tick
            label="Some of its pieces are dark"
            checked={lit.flicker !== undefined}
            disabled={disabled}
            onChange={(on) =>
              on
                ? put({ flicker: { dark: 30, seed: 1 } }, `Put some of ${layer.name} out`)
                : without('flicker', `Light all of ${layer.name}`)
            }
          />
          {lit.flicker && (
            <Pair>
              <NumberField
                label="dark"
                unit="%"
                value={lit.flicker.dark}
                min={0}
                max={100}
                disabled={disabled}
                onCommit={(share) => put({ flicker: { ...lit.flicker!, dark: share } }, `Dark pieces of ${layer.name}`)}
              />
              <NumberField
                label="which"
                value={lit.flicker.seed}
                min={0}
                max={9999}
                disabled={disabled}
                onCommit={(seed) => put({ flicker: { ...lit.flicker!, seed } }, `Other pieces of ${layer.name} dark`)}
              />
            </Pair>
          )}
          <Tick
            label="At night alone: by day it is not there"
            checked={lit.only ?? false}
            disabled={disabled}
            onChange={(only) =>
              only ? put({ only }, `${layer.name} at night alone`) : without('only', `${layer.name} by day, too`)
            }
          />
        </>
      )}
      {!livery.night && lit && <Quiet as="p">The night does not follow the day: say so on the sheet.</Quiet>}
    </Section>
  );
}

/** What the maps that hold light make of the day, on a sheet that has one. */
export function NightSection({ sheet }: { sheet: string }) {
  const { doc } = useEasel();
  const { night } = useLivery();
  const map = nightOf(sheetNamed(useTemplate(), sheet));
  if (!map) return null;
  const put = (look: NightLook | null, label: string) => doc.commit({ do: 'set-night', night: look }, label);
  return (
    <Section title="At night">
      <Tick
        label="Follows the day"
        checked={night !== undefined}
        onChange={(on) => put(on ? FIRST_NIGHT : null, on ? 'Let the night follow the day' : 'Paint the night by hand')}
      />
      {night ? (
        <>
          <Slide
            label="light left"
            unit="%"
            value={night.light}
            min={0}
            max={100}
            onCommit={(light) => put({ ...night, light }, 'Light of the night')}
          />
          <Slide
            label="colour left"
            unit="%"
            value={night.colour}
            min={0}
            max={100}
            onCommit={(colour) => put({ ...night, colour }, 'Colour of the night')}
          />
          <Row gap={8}>
            <ColourInput
              label="Tint of the night"
              value={night.tint}
              onCommit={(tint) => put({ ...night, tint }, 'Tint of the night')}
            />
            <Quiet>tint</Quiet>
          </Row>
          <Quiet as="p">For all sheets. What is painted on {map.name} itself lies above it.</Quiet>
        </>
      ) : (
        <Quiet as="p">{map.name} is painted by hand.</Quiet>
      )}
    </Section>
  );
}
