import { Button } from '@mui/material';
import type { ReactNode } from 'react';
import type { SpecSidecar, DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import { Stack } from '../../parts/layout.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { SidecarFields } from './SidecarFields.tsx';
import { INK } from '../../theme.ts';

interface Props {
  spec: DeliverySpec;
  readOnly: boolean;
  onChange(change: Partial<DeliverySpec>): void;
}

/** What goes along with the textures: package, number, picture of the model, readme and sidecars. */
export function SpecExtras({ spec, readOnly, onChange }: Props) {
  const { package: pack, slot, thumbnail, readme } = spec;
  const setSlot = (change: Partial<NonNullable<typeof slot>>) => onChange({ slot: { ...slot!, ...change } });
  const setThumbnail = (change: Partial<NonNullable<typeof thumbnail>>) =>
    onChange({ thumbnail: { ...thumbnail!, ...change } });
  const setSidecar = (index: number, change: Partial<SpecSidecar>) =>
    onChange({ sidecars: spec.sidecars.map((one, i) => (i === index ? { ...one, ...change } : one)) });
  return (
    <>
      <Part
        label="Everything in one package"
        on={!!pack}
        disabled={readOnly}
        onSwitch={(on) => onChange({ package: on ? { name: '{livery.key}.zip' } : undefined })}
      >
        {pack && <TextEntry label="package" value={pack.name} onCommit={(name) => onChange({ package: { name } })} />}
      </Part>
      <Part
        label="A number of its own for each livery"
        on={!!slot}
        disabled={readOnly}
        onSwitch={(on) =>
          onChange({
            slot: on
              ? { from: 1, to: 99, digits: 2, called: 'slot', taken: { by: 'path', begins: `${spec.folder}{slot}` } }
              : undefined,
          })
        }
      >
        {slot && (
          <>
            <TextEntry label="called" value={slot.called} required onCommit={(called) => setSlot({ called })} />
            <div style={ROW}>
              <NumberField label="from" value={slot.from} min={0} digits={0} onCommit={(from) => setSlot({ from })} />
              <NumberField label="to" value={slot.to} min={0} digits={0} onCommit={(to) => setSlot({ to })} />
              <NumberField
                label="digits"
                value={slot.digits}
                min={1}
                max={8}
                digits={0}
                onCommit={(digits) => setSlot({ digits })}
              />
            </div>
            {slot.taken.by === 'path' ? (
              <TextEntry
                label="taken where a path begins"
                value={slot.taken.begins}
                mono
                required
                onCommit={(begins) => setSlot({ taken: { by: 'path', begins } })}
              />
            ) : (
              <p style={NOTE}>
                Taken where {slot.taken.file} in a package (*{slot.taken.ending}) says so at “{slot.taken.value}”.
              </p>
            )}
          </>
        )}
      </Part>
      <Part
        label="A picture of the model"
        on={!!thumbnail}
        disabled={readOnly}
        onSwitch={(on) =>
          onChange({
            thumbnail: on
              ? { name: 'thumbnail.jpg', container: 'jpg', width: 320, height: 180, heading: 35, elevation: 18 }
              : undefined,
          })
        }
      >
        {thumbnail && (
          <>
            <TextEntry
              label="picture"
              value={thumbnail.name}
              mono
              required
              onCommit={(name) => setThumbnail({ name })}
            />
            <div style={ROW}>
              <Choice
                label="kind"
                value={thumbnail.container}
                options={(['png', 'jpg'] as const).map((value) => ({ value, label: value }))}
                disabled={readOnly}
                onChange={(container) => setThumbnail({ container })}
              />
              <NumberField
                label="width"
                value={thumbnail.width}
                min={16}
                max={2048}
                digits={0}
                onCommit={(width) => setThumbnail({ width })}
              />
              <NumberField
                label="height"
                value={thumbnail.height}
                min={16}
                max={2048}
                digits={0}
                onCommit={(height) => setThumbnail({ height })}
              />
              <NumberField
                label="round"
                value={thumbnail.heading}
                unit="°"
                min={-360}
                max={360}
                digits={0}
                onCommit={(heading) => setThumbnail({ heading })}
              />
              <NumberField
                label="up"
                value={thumbnail.elevation}
                unit="°"
                min={-90}
                max={90}
                digits={0}
                onCommit={(elevation) => setThumbnail({ elevation })}
              />
            </div>
          </>
        )}
      </Part>
      <Part
        label="A readme with origin and licence of what was borrowed"
        on={!!readme}
        disabled={readOnly}
        onSwitch={(on) => onChange({ readme: on ? { name: 'readme.txt' } : undefined })}
      >
        {readme && (
          <TextEntry
            label="readme"
            value={readme.name}
            mono
            required
            onCommit={(name) => onChange({ readme: { name } })}
          />
        )}
      </Part>
      {spec.sidecars.map((sidecar, i) => (
        <SidecarFields
          key={i}
          sidecar={sidecar}
          called={`Sidecar ${i + 1}`}
          readOnly={readOnly}
          onChange={(change) => setSidecar(i, change)}
          onRemove={() => onChange({ sidecars: spec.sidecars.toSpliced(i, 1) })}
        />
      ))}
      {!readOnly && (
        <div>
          <Button
            size="small"
            onClick={() =>
              onChange({
                sidecars: [
                  ...spec.sidecars,
                  {
                    name: '{livery.key}.json',
                    language: 'json',
                    making: { kind: 'template', text: '{ "name": {{particulars.name}} }\n' },
                  },
                ],
              })
            }
          >
            Add a sidecar
          </Button>
        </div>
      )}
    </>
  );
}

interface PartProps {
  label: string;
  on: boolean;
  disabled: boolean;
  onSwitch(on: boolean): void;
  children: ReactNode;
}

/** Something that a game wants or not, with its fields where it does. */
const Part = ({ label, on, disabled, onSwitch, children }: PartProps) => (
  <Stack gap={6}>
    <Tick label={label} checked={on} disabled={disabled} onChange={onSwitch} />
    {children}
  </Stack>
);

const ROW = { display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(130px, 1fr))', gap: 6 } as const;
const NOTE = { margin: 0, color: INK.quiet } as const;
