import { Button } from '@mui/material';
import { FINISH_KINDS } from '@wet-lacquer/core/livery/finish.ts';
import { ZONE_MAP, type DeliverySpec, type SpecFile, type SpecZone } from '@wet-lacquer/core/livery/spec.ts';
import { Grow, PlainList, Row, Stack } from '../../parts/layout.tsx';
import { ColourInput } from '../../parts/ColourInput.tsx';
import { SomeOf } from '../../parts/SomeOf.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { Quiet } from '../../parts/text.tsx';
import { INK } from '../../theme.ts';

interface Props {
  spec: DeliverySpec;
  readOnly: boolean;
  onChange(change: Partial<DeliverySpec>): void;
}

/** What a zone map is where nobody has said it yet: plain texels, exact colours. */
const ZONE_FILE: SpecFile = {
  map: ZONE_MAP,
  name: '{livery.key}_{sheet.key}_zones.dds',
  container: 'dds',
  format: 'bgra8',
  header: 'legacy',
  colourSpace: 'ids',
  mips: 'full',
  mipFilter: 'box',
  flip: false,
  alpha: 'opaque',
  freeClear: false,
  padding: 16,
};

/** The game's finish zones: the colours of its zone map, and which finishes it takes in each. */
export function ZoneFields({ spec, readOnly, onChange }: Props) {
  const zones = spec.zones ?? [];
  const setZone = (at: number, change: Partial<SpecZone>) => {
    const next = zones.map((zone, i) => (i === at ? { ...zone, ...change } : zone));
    const clash = next.some((zone, i) =>
      next.some((other, j) => i !== j && (zone.hex === other.hex || zone.key === other.key)),
    );
    if (!clash) onChange({ zones: next });
  };
  const freeHex = () => {
    for (let n = 1; ; n++) {
      const hex = `#${((n * 0x3355aa) % 0x1000000).toString(16).padStart(6, '0')}`;
      if (!zones.some((zone) => zone.hex === hex)) return hex;
    }
  };
  const add = (): SpecZone => {
    let n = zones.length + 1;
    while (zones.some(({ key }) => key === `zone-${n}`)) n++;
    return { key: `zone-${n}`, name: `Zone ${n}`, hex: freeHex() };
  };
  return (
    <section aria-label="Finish zones" style={{ marginTop: 10 }}>
      <Tick
        label="It has zones of finish"
        checked={spec.zones !== undefined}
        disabled={readOnly}
        onChange={(on) =>
          onChange(
            on
              ? { zones: [add()], files: [...spec.files, ZONE_FILE] }
              : { zones: undefined, files: spec.files.filter(({ map }) => map !== ZONE_MAP) },
          )
        }
      />
      {spec.zones && (
        <>
          <Quiet as="p">
            Each finish of a livery gets a zone that takes it. The map “{ZONE_MAP}” of a sheet is drawn in these
            colours, exactly; texts can list them as {'{{#zones}}'}.
          </Quiet>
          <PlainList gap={6}>
            {zones.map((zone, i) => (
              <li key={i} style={{ border: `1px solid ${INK.line}`, borderRadius: 2, padding: 8 }}>
                <Stack gap={6} columns="1fr 1fr">
                  <TextEntry
                    label="key"
                    value={zone.key}
                    mono
                    required
                    disabled={readOnly}
                    onCommit={(key) =>
                      setZone(i, { key: key.replace(/[^a-zA-Z0-9_-]+/g, '-').slice(0, 40) || zone.key })
                    }
                  />
                  <TextEntry
                    label="name"
                    value={zone.name}
                    required
                    disabled={readOnly}
                    onCommit={(name) => setZone(i, { name })}
                  />
                  <Row as="label" gap={8}>
                    <Grow as="span">colour</Grow>
                    {zone.hex}
                    <ColourInput
                      label={`Colour of ${zone.name}`}
                      value={zone.hex}
                      disabled={readOnly}
                      onCommit={(hex) => setZone(i, { hex })}
                    />
                  </Row>
                  <SomeOf
                    label="takes"
                    options={FINISH_KINDS.map((value) => ({ value, label: value }))}
                    chosen={zone.kinds ?? []}
                    shown={zone.kinds?.join(', ') ?? 'every finish'}
                    disabled={readOnly}
                    onChange={(kinds) => setZone(i, { kinds: kinds.length > 0 ? kinds : undefined })}
                  />
                </Stack>
                {!readOnly && zones.length > 1 && (
                  <Button
                    size="small"
                    sx={{ mt: 1 }}
                    aria-label={`Remove ${zone.name}`}
                    onClick={() => onChange({ zones: zones.toSpliced(i, 1) })}
                  >
                    Remove
                  </Button>
                )}
              </li>
            ))}
          </PlainList>
          {!readOnly && (
            <Button
              size="small"
              sx={{ mt: 1 }}
              disabled={zones.length >= 64}
              onClick={() => onChange({ zones: [...zones, add()] })}
            >
              Add a zone
            </Button>
          )}
        </>
      )}
    </section>
  );
}
