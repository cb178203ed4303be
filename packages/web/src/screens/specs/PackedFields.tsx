import { FINISH_CHANNELS } from '@wet-lacquer/core/livery/finish.ts';
import type { Channel, PackedChannel, SpecFile } from '@wet-lacquer/core/livery/spec.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Pair } from '../../parts/Section.tsx';
import { Tick } from '../../parts/Tick.tsx';

const CHANNELS = ['red', 'green', 'blue', 'alpha'] as const satisfies readonly Channel[];

/** Occlusion open, roughness and metal as glTF 2.0 has them (5.22.3), until somebody says otherwise. */
const FIRST: NonNullable<SpecFile['packed']> = {
  red: { value: 255 },
  green: { finish: 'roughness' },
  blue: { finish: 'metal' },
  alpha: { value: 255 },
};

const textOf = (of: PackedChannel): string =>
  'value' in of ? `value ${of.value}` : 'finish' in of ? `finish ${of.finish}` : `map ${of.map} ${of.channel}`;
const WORDS: Readonly<Record<string, string>> = {
  coat: 'clear coat',
  coatRoughness: 'roughness of the coat',
  coatGloss: 'gloss of the coat',
};
const named = (of: PackedChannel): string =>
  'value' in of
    ? `${of.value} all over`
    : 'finish' in of
      ? `${WORDS[of.finish] ?? of.finish}, from the finishes`
      : `${of.channel} of ${of.map}`;

interface Props {
  file: SpecFile;
  readOnly: boolean;
  onSet(change: Partial<SpecFile>): void;
}

/** A file whose channels come from several places: values of the finishes, channels of maps, one value all over. */
export function PackedFields({ file, readOnly, onSet }: Props) {
  const { packed } = file;
  const choices: PackedChannel[] = [
    ...FINISH_CHANNELS.map((finish) => ({ finish })),
    { value: 255 },
    { value: 0 },
    ...CHANNELS.map((channel) => ({ map: file.map, channel })),
  ];
  return (
    <>
      <Tick
        label="Each channel comes from a place of its own"
        checked={packed !== undefined}
        disabled={readOnly || file.over !== undefined}
        onChange={(on) => onSet(on ? { packed: FIRST, colourSpace: 'linear' } : { packed: undefined })}
      />
      {packed && (
        <Pair>
          {CHANNELS.map((channel) => {
            const own = packed[channel];
            const all = choices.some((one) => textOf(one) === textOf(own)) ? choices : [own, ...choices];
            return (
              <Choice
                key={channel}
                label={channel}
                value={textOf(own)}
                options={all.map((one) => ({ value: textOf(one), label: named(one) }))}
                disabled={readOnly}
                onChange={(text) =>
                  onSet({ packed: { ...packed, [channel]: all.find((one) => textOf(one) === text) ?? own } })
                }
              />
            );
          })}
        </Pair>
      )}
    </>
  );
}
