import { Button } from '@mui/material';
import { useMemo } from 'react';
import { tallOf, type Plate, type PlateForm } from '@wet-lacquer/core/livery/plate.ts';
import { fitPlate, measureBoth } from '@wet-lacquer/core/plates/fit.ts';
import { standing } from '@wet-lacquer/core/plates/panel.ts';
import { partUnder } from '@wet-lacquer/core/plates/placement.ts';
import { angleOf, turnedUp } from '@wet-lacquer/core/plates/place.ts';
import { inBlocks } from '@wet-lacquer/core/plates/room.ts';
import { partnerOver, planeBetween } from '@wet-lacquer/core/projectors/place.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Row } from '../../parts/layout.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { Pair, Section } from '../../parts/Section.tsx';
import { Quiet } from '../../parts/text.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { INK } from '../../theme.ts';
import { useEasel, useTemplate } from '../context.ts';
import { duplicatePlate, removePlate, setPlate, showPicture, type PlateSet } from './acts.ts';

const AXES = ['forward', 'up', 'starboard'] as const;
const FORMS: readonly { value: PlateForm['kind']; label: string; note: string }[] = [
  { value: 'flat', label: 'flat', note: 'one quad' },
  { value: 'bent', label: 'bent', note: 'about one axis' },
  { value: 'laid', label: 'laid on', note: 'each corner on the surface' },
];
const PIECES = { min: 1, max: 64, digits: 0 } as const;

/** The chosen plate: what it shows, where it stands, and how well it fits. */
export function PlatePanel({ plate }: { plate: Plate }) {
  const { doc } = useEasel();
  const template = useTemplate();
  const set = (values: PlateSet, label: string) => setPlate(doc, plate, values, label);
  const sheet = template.sheets.find(({ key }) => key === plate.sheet);
  const { width, height } = sheet ?? plate;
  const part = useMemo(() => partUnder(standing(plate), template)?.name, [plate, template]);
  const plane = planeBetween(template);
  /** A number of the picture, in whole blocks of texels. */
  const texels = (key: 'left' | 'top' | 'width' | 'height', most: number) => (
    <NumberField
      label={{ left: 'left', top: 'top', width: 'wide', height: 'high' }[key]}
      value={plate[key]}
      unit="px"
      digits={0}
      step={4}
      min={key === 'width' || key === 'height' ? 4 : 0}
      max={most}
      onCommit={(value) =>
        set(
          { [key]: key === 'width' || key === 'height' ? inBlocks(value) : Math.round(value / 4) * 4 },
          `Set ${key} of`,
        )
      }
    />
  );
  return (
    <>
      <TextEntry
        label="plate"
        value={plate.name}
        maxLength={80}
        required
        onCommit={(name) => set({ name }, 'Rename')}
      />
      <div style={{ height: 8 }} />
      <Row gap={6}>
        <Button size="small" disabled={!sheet} onClick={() => showPicture(plate)}>
          Paint it
        </Button>
        <Button size="small" onClick={() => duplicatePlate(doc, plate)}>
          Duplicate
        </Button>
        <Button size="small" onClick={() => removePlate(doc, plate)}>
          Take off
        </Button>
      </Row>
      <Fit plate={plate} />
      <Section title="On the model">
        {AXES.map((axis, k) => (
          <NumberField
            key={axis}
            label={axis}
            value={plate.at[k]}
            unit="m"
            digits={3}
            step={0.01}
            min={-10_000}
            max={10_000}
            onCommit={(value) => set({ at: plate.at.map((v, i) => (i === k ? value : v)) as Plate['at'] }, 'Move')}
          />
        ))}
        <Pair>
          <NumberField
            label="width"
            value={plate.across}
            unit="m"
            digits={3}
            step={0.01}
            min={0.001}
            max={1000}
            onCommit={(across) => set({ across }, 'Scale')}
          />
          <NumberField
            label="height"
            value={tallOf(plate)}
            unit="m"
            digits={3}
            step={0.01}
            min={0.001}
            max={1000}
            onCommit={(tall) =>
              set({ across: Math.min(1000, Math.max(1e-4, (tall * plate.width) / plate.height)) }, 'Scale')
            }
          />
        </Pair>
        <Pair>
          <NumberField
            label="turn"
            value={angleOf(plate)}
            unit="°"
            min={-360}
            max={360}
            onCommit={(degrees) => set({ up: turnedUp(plate.facing, degrees) }, 'Turn')}
          />
          <NumberField
            label="off"
            value={plate.lift * 1000}
            unit="mm"
            min={0}
            max={10_000}
            onCommit={(mm) => set({ lift: Number((mm / 1000).toFixed(5)) }, 'Lift')}
          />
        </Pair>
        <FormFields plate={plate} set={set} />
        {plane && (
          <Choice
            label="other side"
            value={!plate.partner ? 'none' : plate.partner.readable ? 'readable' : 'mirrored'}
            options={[
              { value: 'none', label: 'bare' },
              { value: 'readable', label: 'the same, to be read' },
              { value: 'mirrored', label: 'mirrored' },
            ]}
            onChange={(how) =>
              set({ partner: how === 'none' ? null : partnerOver(plane, how === 'readable')! }, 'Other side of')
            }
          />
        )}
        <TextEntry
          label="listed under"
          value={plate.group ?? part ?? ''}
          maxLength={60}
          onCommit={(group) => set({ group: group.trim() === '' || group === part ? null : group.trim() }, 'List')}
        />
        <Tick
          label="Hidden"
          checked={plate.hidden ?? false}
          onChange={(on) => set({ hidden: on || null }, on ? 'Hide' : 'Show')}
        />
      </Section>
      <Section title="Picture">
        <Quiet as="p">
          {sheet ? `On ${sheet.name}` : 'Its sheet is gone from the template'},{' '}
          {(plate.width / plate.across / 1000).toFixed(2)} texels to a millimetre.
        </Quiet>
        <Pair>
          {texels('left', width - plate.width)}
          {texels('top', height - plate.height)}
        </Pair>
        <Pair>
          {texels('width', width - plate.left)}
          {texels('height', height - plate.top)}
        </Pair>
        <Tick
          label="A file of its own, where the game takes one"
          checked={plate.own ?? false}
          onChange={(own) => set({ own: own || null }, 'Set file of')}
        />
      </Section>
    </>
  );
}

function FormFields({ plate, set }: { plate: Plate; set(values: PlateSet, label: string): void }) {
  const { form } = plate;
  const begin: Record<PlateForm['kind'], PlateForm> = {
    flat: { kind: 'flat' },
    bent: { kind: 'bent', about: 'up', radius: Number((plate.across * 2).toFixed(3)), pieces: 8 },
    laid: { kind: 'laid', columns: 8, rows: 4 },
  };
  return (
    <>
      <Choice label="form" value={form.kind} options={FORMS} onChange={(kind) => set({ form: begin[kind] }, 'Form')} />
      {form.kind === 'bent' && (
        <>
          <Choice
            label="bent about"
            value={form.about}
            options={[
              { value: 'up', label: 'its upright axis' },
              { value: 'across', label: 'its level axis' },
            ]}
            onChange={(about) => set({ form: { ...form, about } }, 'Bend')}
          />
          <Pair>
            <NumberField
              label="radius"
              value={form.radius}
              unit="m"
              digits={3}
              step={0.01}
              min={-10_000}
              max={10_000}
              onCommit={(radius) => Math.abs(radius) >= 1e-3 && set({ form: { ...form, radius } }, 'Bend')}
            />
            <NumberField
              label="pieces"
              value={form.pieces}
              {...PIECES}
              onCommit={(pieces) => set({ form: { ...form, pieces: Math.round(pieces) } }, 'Bend')}
            />
          </Pair>
        </>
      )}
      {form.kind === 'laid' && (
        <Pair>
          <NumberField
            label="columns"
            value={form.columns}
            {...PIECES}
            onCommit={(columns) => set({ form: { ...form, columns: Math.round(columns) } }, 'Lay')}
          />
          <NumberField
            label="rows"
            value={form.rows}
            {...PIECES}
            onCommit={(rows) => set({ form: { ...form, rows: Math.round(rows) } }, 'Lay')}
          />
        </Pair>
      )}
    </>
  );
}

const mm = (metres: number): string => `${(metres * 1000).toFixed(1)} mm`;
const percent = (share: number): string => `${Math.round(share * 100)} %`;

/** How far it is off at the worst, and the button that mends it. */
function Fit({ plate }: { plate: Plate }) {
  const { doc } = useEasel();
  const template = useTemplate();
  const { gap, cut, hangs, hidden } = useMemo(() => measureBoth(plate, template), [plate, template]);
  return (
    <Section title="How it fits">
      <p style={{ margin: 0, color: cut > 1e-4 ? INK.red : INK.text }} data-fit={cut > 1e-4 ? 'cuts' : 'clear'}>
        {cut > 1e-4 ? `It lies up to ${mm(cut)} in the model.` : 'Nothing of it lies in the model.'}
      </p>
      <p style={{ margin: 0, color: INK.quiet }}>
        At most {mm(gap)} off the surface{hangs > 0.01 && `, ${percent(hangs)} over its edge`}
        {hidden > 0.01 && `, ${percent(hidden)} behind something`}.
      </p>
      <Button size="small" onClick={() => setPlate(doc, plate, fitPlate(plate, template), 'Fit')}>
        Fit to the surface
      </Button>
    </Section>
  );
}
