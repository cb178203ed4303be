import { Button } from '@mui/material';
import { lastOf } from '@wet-lacquer/core/held.ts';
import { FOLLOWED_IN, SpecFile, ZONE_MAP, type DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import { Row, Stack } from '../../parts/layout.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { INK } from '../../theme.ts';
import { AlongFields } from './AlongFields.tsx';
import { OverFields } from './OverFields.tsx';
import { PackedFields } from './PackedFields.tsx';
import { PlateSpecFields } from './PlateSpecFields.tsx';
import { ZoneFields } from './ZoneFields.tsx';
import { SpecExtras } from './SpecExtras.tsx';

const options = <T extends string>(values: readonly T[]) => values.map((value) => ({ value, label: value }));

const HEADERS = [
  { value: 'legacy', label: 'legacy' },
  { value: 'dx10', label: 'DX10' },
] as const;
const SPACES = [
  { value: 'srgb', label: 'sRGB' },
  { value: 'linear', label: 'linear' },
  { value: 'normal', label: 'normals' },
  { value: 'ids', label: 'identities' },
] as const;
const ALPHA = [
  { value: 'keep', label: 'goes along' },
  { value: 'opaque', label: 'everything opaque' },
  { value: 'needed', label: 'must be there' },
  { value: 'forbidden', label: 'must not be there' },
] as const;
const SCALES = ['1/8', '1/4', '1/2', '1', '2', '4'] as const;
const SCALE_OF = { '1/8': 0.125, '1/4': 0.25, '1/2': 0.5, '1': undefined, '2': 2, '4': 4 } as const;

const MIP_COUNTS = Array.from({ length: 15 }, (_, i) => i + 1);

/** Levels that are files of their own need names of their own. */
const levelsAs = (levels: string, { name, mips }: SpecFile): Partial<SpecFile> =>
  levels === 'files'
    ? {
        levels: 'files',
        name: name.includes('{file.level}') ? name : name.replace(/(\.[^.]*)?$/, '_{file.level}$1'),
        mips: mips === 'none' ? 'full' : mips,
      }
    : { levels: undefined, name: name.replace('_{file.level}', '') };

interface Props {
  spec: DeliverySpec;
  readOnly: boolean;
  onChange(spec: DeliverySpec): void;
}

/** A spec as fields; the text beside them holds what is rarely changed. */
export function SpecForm({ spec, readOnly, onChange }: Props) {
  const set = (change: Partial<DeliverySpec>) => onChange({ ...spec, ...change });
  const setFile = (index: number, change: Partial<SpecFile>) =>
    set({ files: spec.files.map((file, i) => (i === index ? { ...file, ...change } : file)) });
  return (
    <fieldset disabled={readOnly} style={{ border: 'none', margin: 0, padding: 0, display: 'grid', gap: 8 }}>
      <TextEntry label="game" value={spec.gameName} onCommit={(gameName) => set({ gameName })} />
      <TextEntry label="folder" value={spec.folder} onCommit={(folder) => set({ folder })} />
      {spec.files.map((file, i) => (
        <section
          key={i}
          aria-label={`Rule ${i + 1}`}
          style={{ border: `1px solid ${INK.line}`, borderRadius: 2, padding: 10, display: 'grid', gap: 6 }}
        >
          <Row>
            <strong style={{ flex: 1 }}>
              {file.map} of {file.sheets ? file.sheets.join(', ') : 'every sheet'}
            </strong>
            {spec.files.length > 1 && !readOnly && (
              <Button size="small" onClick={() => set({ files: spec.files.toSpliced(i, 1) })}>
                Remove
              </Button>
            )}
          </Row>
          <TextEntry label="name" value={file.name} onCommit={(name) => setFile(i, { name })} />
          <Stack columns="1fr 1fr" gap={6}>
            <Choice
              label="kind"
              value={file.container}
              options={options(SpecFile.shape.container.options)}
              disabled={readOnly}
              onChange={(container) =>
                setFile(i, { container, ...(file.over && { over: { follow: [...FOLLOWED_IN[container]] } }) })
              }
            />
            <Choice
              label="format"
              value={file.format}
              options={options(SpecFile.shape.format.options)}
              disabled={readOnly || file.container !== 'dds'}
              onChange={(format) => setFile(i, { format })}
            />
            <Choice
              label="header"
              value={file.header}
              options={HEADERS}
              disabled={readOnly || file.container !== 'dds'}
              onChange={(header) => setFile(i, { header })}
            />
            <Choice
              label="values"
              value={file.colourSpace}
              options={SPACES}
              disabled={readOnly}
              onChange={(colourSpace) => setFile(i, { colourSpace })}
            />
            <Choice
              label="mips"
              value={String(file.mips)}
              options={[
                { value: 'full', label: 'full' },
                { value: 'none', label: 'none' },
                ...MIP_COUNTS.map((n) => ({ value: String(n), label: `the first ${n}` })),
              ]}
              disabled={readOnly || (file.container !== 'dds' && !file.levels)}
              onChange={(mips) => setFile(i, { mips: mips === 'full' || mips === 'none' ? mips : Number(mips) })}
            />
            <Choice
              label="levels"
              value={file.levels ?? 'one'}
              options={[
                { value: 'one', label: 'in one file' },
                { value: 'files', label: 'a file each' },
              ]}
              disabled={readOnly || file.inPlace}
              onChange={(levels) => setFile(i, levelsAs(levels, file))}
            />
            <Choice
              label="size"
              value={SCALES.find((scale) => SCALE_OF[scale] === file.scale) ?? '1'}
              options={options(SCALES)}
              disabled={readOnly}
              onChange={(scale) => setFile(i, { scale: SCALE_OF[scale] })}
            />
            <Choice
              label="stored"
              value={file.flip ? 'over' : 'up'}
              options={[
                { value: 'up', label: 'as painted' },
                { value: 'over', label: 'upside down' },
              ]}
              disabled={readOnly}
              onChange={(way) => setFile(i, { flip: way === 'over' })}
            />
            <Choice
              label="alpha"
              value={file.alpha}
              options={ALPHA}
              disabled={readOnly}
              onChange={(alpha) => setFile(i, { alpha })}
            />
          </Stack>
          {file.map !== ZONE_MAP && (
            <PackedFields file={file} readOnly={readOnly} onSet={(change) => setFile(i, change)} />
          )}
          <OverFields file={file} readOnly={readOnly} onSet={(change) => setFile(i, change)} />
        </section>
      ))}
      {!readOnly && (
        <div>
          <Button size="small" onClick={() => set({ files: [...spec.files, lastOf(spec.files)] })}>
            Add a rule like the last
          </Button>
        </div>
      )}
      <Tick
        label="Leave out sheets that nobody painted"
        checked={!!spec.unpainted}
        disabled={readOnly}
        onChange={(leave) => set({ unpainted: leave ? 'leave' : undefined })}
      />
      <ZoneFields spec={spec} readOnly={readOnly} onChange={set} />
      <PlateSpecFields spec={spec} readOnly={readOnly} onChange={set} />
      <AlongFields spec={spec} readOnly={readOnly} onChange={set} />
      <SpecExtras spec={spec} readOnly={readOnly} onChange={set} />
    </fieldset>
  );
}
