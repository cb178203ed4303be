import { MAIN_MAP } from '@wet-lacquer/core/livery/template.ts';
import { FOLLOWED_IN, type Followed, type SpecFile } from '@wet-lacquer/core/livery/spec.ts';
import { Stack } from '../../parts/layout.tsx';
import { Quiet } from '../../parts/text.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';

/** What each thing that can be followed is called, by the kind of file. */
const CALLED: Readonly<Record<SpecFile['container'], Partial<Record<Followed, string>>>> = {
  dds: { header: 'header, flags', mips: 'levels', alpha: 'kind of alpha' },
  tga: { runs: 'run lengths', bits: 'bits a texel', rows: 'order of rows', alpha: 'alpha bits', extras: 'id, footer' },
  png: { bits: 'kind, depth', extras: 'profile, gamma' },
  jpg: { quality: 'quality', extras: 'segments' },
  webp: { quality: 'quality' },
};
type Onto = 'nothing' | 'original' | 'cells';
const SAMPLING = ['4:4:4', '4:2:2', '4:2:0'] as const;

interface Props {
  file: SpecFile;
  readOnly: boolean;
  onSet(change: Partial<SpecFile>): void;
}

/** How a file follows the game's own, and how it is written where it does not. */
export function OverFields({ file, readOnly, onSet }: Props) {
  const { over, container, way = {} } = file;
  const follows = (what: Followed) => over?.follow.includes(what) ?? false;
  const setWay = (change: NonNullable<SpecFile['way']>) => onSet({ way: { ...way, ...change } });
  const set = (what: Followed, as: string) =>
    onSet({
      over: { follow: as === 'original' ? [...over!.follow, what] : over!.follow.filter((one) => one !== what) },
    });
  return (
    <Stack gap={6}>
      <Choice<Onto>
        label="goes over"
        value={file.inPlace ? 'cells' : over ? 'original' : 'nothing'}
        disabled={readOnly || file.packed !== undefined}
        options={[
          { value: 'nothing', label: 'nothing: the whole sheet is written' },
          { value: 'original', label: 'the original: what nobody painted keeps its bytes' },
          ...(container === 'dds'
            ? [{ value: 'cells' as const, label: 'the game’s own atlas: only painted cells are put in' }]
            : []),
        ]}
        onChange={(onto) =>
          onSet({
            over: onto === 'original' ? { follow: [...FOLLOWED_IN[container]] } : undefined,
            inPlace: onto === 'cells' ? true : undefined,
            ...(onto !== 'nothing' && { padding: 0 }),
          })
        }
      />
      <Stack columns="1fr 1fr" gap={6}>
        {over &&
          FOLLOWED_IN[container].map((what) => (
            <Choice
              key={what}
              label={CALLED[container][what] ?? what}
              value={follows(what) ? 'original' : 'spec'}
              options={[
                { value: 'original', label: 'as the original' },
                { value: 'spec', label: 'by this spec' },
              ]}
              disabled={readOnly}
              onChange={(as) => set(what, as)}
            />
          ))}
        <NumberField
          label="edges"
          unit="texels"
          value={file.padding}
          digits={0}
          min={0}
          max={256}
          disabled={readOnly}
          onCommit={(padding) => onSet({ padding })}
        />
        {container === 'tga' && !follows('runs') && (
          <Choice
            label="texels"
            value={(way.runs ?? true) ? 'runs' : 'raw'}
            options={[
              { value: 'runs', label: 'run lengths' },
              { value: 'raw', label: 'raw' },
            ]}
            disabled={readOnly}
            onChange={(as) => setWay({ runs: as === 'runs' })}
          />
        )}
        {container === 'tga' && !follows('rows') && (
          <Choice
            label="rows"
            value={way.bottomUp ? 'up' : 'down'}
            options={[
              { value: 'down', label: 'from the top' },
              { value: 'up', label: 'from the bottom' },
            ]}
            disabled={readOnly}
            onChange={(as) => setWay({ bottomUp: as === 'up' })}
          />
        )}
        {container === 'jpg' && !follows('quality') && (
          <>
            <NumberField
              label="quality"
              value={way.quality ?? 92}
              digits={0}
              min={1}
              max={100}
              disabled={readOnly}
              onCommit={(quality) => setWay({ quality })}
            />
            <Choice
              label="colour"
              value={way.sampling ?? '4:4:4'}
              options={SAMPLING.map((value) => ({ value, label: value }))}
              disabled={readOnly}
              onChange={(sampling) => setWay({ sampling })}
            />
          </>
        )}
      </Stack>
      <Quiet as="p" small>
        {file.inPlace
          ? 'The atlas is taken from the game’s folder, else from the files that came with the template. Cells fill whole blocks of 4 x 4.'
          : over
            ? 'Edges are carried on beside painted texels alone, colour and never alpha.'
            : 'Art is carried past the islands by so many texels.'}
      </Quiet>
      {file.map !== MAIN_MAP && over && (
        <Tick
          label="Send it along when nobody painted it"
          checked={file.untouched === 'send'}
          disabled={readOnly}
          onChange={(send) => onSet({ untouched: send ? 'send' : undefined })}
        />
      )}
    </Stack>
  );
}
