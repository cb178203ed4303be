import { Button } from '@mui/material';
import { MAIN_MAP, originalKey, type Follower, type TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { freeKey } from '@wet-lacquer/core/surface/reviseTemplate.ts';
import { Quiet } from '../../parts/text.tsx';
import { BesideMaster } from '../../parts/BesideMaster.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { Slide } from '../../parts/Slide.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { INK } from '../../theme.ts';
import { Pair, Section } from '../../parts/Section.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { useLooking } from './useLooking.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';

/** Files that carry the same art as a sheet: each delivered with it, at its own size and hand. */
export function FollowerFields({ sheet }: { sheet: TemplateSheet }) {
  const { hash, template, change } = useLooking();
  const followers = sheet.followers ?? [];
  const put = (next: Follower[]) => void change({ do: 'set-sheet', sheet: sheet.key, set: { followers: next } });
  const set = (at: number, values: Partial<Follower>) => put(followers.with(at, { ...followers[at], ...values }));
  const add = () => {
    const taken = template.sheets.flatMap((s) => [s.key, ...(s.followers ?? []).map((f) => f.key)]);
    const key = freeKey(`${sheet.key}-copy`, new Set(taken));
    const { width, height } = sheet;
    put([...followers, { key, name: cutTo(`${sheet.name} copy`, 60), width, height, mirror: 'none', stem: null }]);
  };
  return (
    <Section title="Followers">
      {followers.length === 0 && (
        <Quiet as="p">Mirror, wet, worn or smaller copies that must carry the same art are delivered with it.</Quiet>
      )}
      {followers.map((follower, i) => (
        <fieldset
          key={follower.key}
          style={{ border: `1px solid ${INK.line}`, margin: 0, padding: 6, display: 'grid', gap: 6 }}
        >
          <TextEntry label="name" value={follower.name} required maxLength={60} onCommit={(name) => set(i, { name })} />
          <Pair>
            <NumberField
              label="w"
              value={follower.width}
              digits={0}
              min={1}
              max={16384}
              onCommit={(width) => set(i, { width })}
            />
            <NumberField
              label="h"
              value={follower.height}
              digits={0}
              min={1}
              max={16384}
              onCommit={(height) => set(i, { height })}
            />
          </Pair>
          <Choice
            label="mirrored"
            value={follower.mirror}
            options={[
              { value: 'none', label: 'no' },
              { value: 'across', label: 'left and right' },
              { value: 'down', label: 'top and bottom' },
            ]}
            onChange={(mirror) => set(i, { mirror })}
          />
          <Tick
            label="In its own light, as its original is"
            checked={follower.light !== undefined}
            onChange={(own) => set(i, { light: own ? 100 : undefined })}
          />
          {template.originals?.[originalKey(sheet.key, MAIN_MAP, follower.key)] && (
            <BesideMaster
              of={{ path: `/templates/${hash}`, state: hash, painted: false }}
              sheet={sheet.key}
              follower={follower.key}
              name={follower.name}
            />
          )}
          {follower.light !== undefined && (
            <Slide
              label="strength"
              value={follower.light}
              min={0}
              max={100}
              unit="%"
              onCommit={(light) => set(i, { light })}
            />
          )}
          <TextEntry
            label="file"
            value={follower.stem ?? ''}
            mono
            onCommit={(stem) => set(i, { stem: stem.trim() === '' ? null : stem.trim() })}
          />
          <Button size="small" onClick={() => put(followers.filter((_, k) => k !== i))}>
            It follows no more
          </Button>
        </fieldset>
      ))}
      <Button size="small" onClick={add}>
        Add a follower
      </Button>
    </Section>
  );
}
