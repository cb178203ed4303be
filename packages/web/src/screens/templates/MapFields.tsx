import { CHANNELS } from '@wet-lacquer/core/livery/layer.ts';
import { holdsOf, type MapHolds, type TemplateMap, type TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { Choice } from '../../parts/Choice.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { Section } from '../../parts/Section.tsx';
import { useLooking } from './useLooking.ts';

const HOLDS: readonly { value: MapHolds; label: string; note: string }[] = [
  { value: 'colour', label: 'colours', note: 'stored as sRGB, edges carried on' },
  { value: 'emissive', label: 'light of its own', note: 'colours that glow' },
  { value: 'normal', label: 'directions', note: 'kept at length one' },
  { value: 'packed', label: 'a value in each channel', note: 'no colours' },
  { value: 'ids', label: 'identities', note: 'exact, never mixed' },
  { value: 'data', label: 'other values', note: 'plain numbers' },
];

/** What the maps beside the colour hold: it says how they are painted, filtered and stored. */
export function MapFields({ sheet }: { sheet: TemplateSheet }) {
  const { change } = useLooking();
  const { maps = [] } = sheet;
  if (maps.length === 0) return null;
  const put = (at: number, next: TemplateMap) =>
    void change({ do: 'set-sheet', sheet: sheet.key, set: { maps: maps.with(at, next) } });
  return (
    <Section title="Maps">
      {maps.map((map, i) => (
        <fieldset key={map.key} aria-label={`Map ${map.name}`} style={FIELDSET}>
          <TextEntry
            label="map"
            value={map.name}
            required
            maxLength={60}
            onCommit={(name) => put(i, { ...map, name })}
          />
          <Choice<MapHolds>
            label="holds"
            value={holdsOf(map)}
            options={HOLDS}
            onChange={(holds) =>
              put(i, { ...map, holds, channels: hasChannels(holds) ? map.channels : undefined, green: undefined })
            }
          />
          {holdsOf(map) === 'normal' && (
            <Choice<'up' | 'down'>
              label="green grows"
              value={map.green ?? 'up'}
              options={[
                { value: 'up', label: 'towards the head', note: 'as in glTF' },
                { value: 'down', label: 'towards the foot' },
              ]}
              onChange={(green) => put(i, { ...map, green: green === 'down' ? green : undefined })}
            />
          )}
          {hasChannels(holdsOf(map)) &&
            CHANNELS.map((channel) => (
              <TextEntry
                key={channel}
                label={`${channel} means`}
                value={map.channels?.[channel] ?? ''}
                maxLength={40}
                onCommit={(means) => {
                  const { [channel]: _before, ...rest } = map.channels ?? {};
                  put(i, { ...map, channels: means.trim() ? { ...rest, [channel]: means.trim() } : rest });
                }}
              />
            ))}
        </fieldset>
      ))}
    </Section>
  );
}

/** Maps whose channels are values of their own. */
const hasChannels = (holds: MapHolds) => holds === 'packed' || holds === 'data';
const FIELDSET = { border: 0, margin: '0 0 8px', padding: 0, display: 'grid', gap: 6 } as const;
