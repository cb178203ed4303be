import { Button } from '@mui/material';
import { useState } from 'react';
import { endingsOf } from '@wet-lacquer/core/kinds/index.ts';
import type { TemplateOutline, TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { freeKey } from '@wet-lacquer/core/surface/reviseTemplate.ts';
import { Quiet } from '../../parts/text.tsx';
import { Stack } from '../../parts/layout.tsx';
import { sentenceOf } from '../../lib/api.ts';
import { count } from '../../lib/words.ts';
import { Choice } from '../../parts/Choice.tsx';
import { FilePick } from '../../parts/FilePick.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { INK } from '../../theme.ts';
import { Tick } from '../../parts/Tick.tsx';
import { Section } from '../../parts/Section.tsx';
import type { Box } from './FlatLayout.tsx';
import { ringsOfSvg } from './ringsOfSvg.ts';
import { useLooking } from './useLooking.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';

type Role = TemplateOutline['role'];
const ROLES: readonly { value: Role; label: string }[] = [
  { value: 'frame', label: 'safe frame' },
  { value: 'collider', label: 'collider' },
];

/** Safe frames and colliders: drawn, from a drawing, or from layers of the template; each shape is one of its own. */
export function OutlineFields({ sheet, onDraw }: { sheet: TemplateSheet; onDraw(done: (box: Box) => void): void }) {
  const { template, change, outlined, showOutline } = useLooking();
  const [role, setRole] = useState<Role>('frame');
  const [problem, setProblem] = useState<string | null>(null);
  const all = template.outlines ?? [];
  const mine = all.filter((one) => one.sheet === sheet.key);
  const put = (outlines: TemplateOutline[]) => void change({ do: 'set-outlines', outlines });
  const set = (one: TemplateOutline, values: Partial<TemplateOutline>) =>
    put(all.map((other) => (other === one ? { ...one, ...values } : other)));
  const add = (some: readonly { name: string; rings: number[][] }[]) => {
    const keys = new Set(all.map((one) => one.key));
    const made = some.map(({ name, rings }) => {
      const key = freeKey(name, keys);
      keys.add(key);
      return { key, name: cutTo(name, 60), sheet: sheet.key, role, rings };
    });
    put([...all, ...made]);
  };
  const drawn = ({ left, top, width, height }: Box) =>
    add([
      {
        name: `${role === 'frame' ? 'Frame' : 'Collider'} ${mine.length + 1}`,
        rings: [[left, top, left + width, top, left + width, top + height, left, top + height]],
      },
    ]);
  const svg = async (picked: File) => {
    setProblem(null);
    try {
      const shapes = await ringsOfSvg(await picked.text(), sheet);
      const stem = picked.name.replace(/\.svg$/i, '') || 'Outline';
      add(
        shapes.map(({ name, rings }, i) => ({ name: name ?? (shapes.length > 1 ? `${stem} ${i + 1}` : stem), rings })),
      );
    } catch (failure) {
      setProblem(`${picked.name}: ${sentenceOf(failure)}`);
    }
  };
  return (
    <Section title="Safe frames and colliders">
      {mine.length > 0 && (
        <Quiet as="p" small>
          Press on one on the sheet to name it.
        </Quiet>
      )}
      {mine.map((one) =>
        outlined === one.key ? (
          <div key={one.key} style={{ display: 'grid', gap: 4, borderTop: `1px solid ${INK.line}`, paddingTop: 6 }}>
            <TextEntry
              label="name"
              value={one.name}
              required
              autoFocus
              maxLength={60}
              onCommit={(name) => set(one, { name })}
            />
            <Choice label="is a" value={one.role} options={ROLES} onChange={(next) => set(one, { role: next })} />
            <Button size="small" onClick={() => put(all.filter((other) => other !== one))}>
              Take {one.name} out
            </Button>
          </div>
        ) : (
          <Button
            key={one.key}
            size="small"
            variant="text"
            sx={{ justifyContent: 'space-between', gap: 1 }}
            onClick={() => showOutline(one.key)}
          >
            <span>{one.name}</span>
            <Quiet>{ROLES.find(({ value }) => value === one.role)?.label}</Quiet>
          </Button>
        ),
      )}
      <Choice<Role> label="new ones are" value={role} options={ROLES} onChange={(next) => setRole(next)} />
      <Stack columns="1fr 1fr" gap={6}>
        <Button size="small" onClick={() => onDraw(drawn)}>
          Draw one
        </Button>
        <FilePick
          size="small"
          label="Drawing with outlines"
          accept={endingsOf('drawing')}
          onFile={(picked) => void svg(picked)}
        >
          From an SVG
        </FilePick>
      </Stack>
      <FromLayers key={sheet.key} sheet={sheet} role={role} />
      {problem && <Notice level="error">{problem}</Notice>}
    </Section>
  );
}

/** Outlines of what some layers show, several in one go. */
function FromLayers({ sheet, role }: { sheet: TemplateSheet; role: Role }) {
  const { template, outline } = useLooking();
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const layers = [
    ...(template.guides ?? [])
      .filter((guide) => guide.sheet === sheet.key)
      .map(({ key, name }) => ({ key, name, guide: true })),
    ...(template.begin?.[sheet.key] ?? [])
      .filter(({ kind }) => kind === 'picture')
      .map(({ id, name }) => ({ key: id as string, name, guide: false })),
  ];
  if (layers.length === 0) return null;
  const keysOf = (guide: boolean) =>
    layers.filter((one) => one.guide === guide && chosen.includes(one.key)).map(({ key }) => key);
  return (
    <fieldset style={{ border: 0, margin: 0, padding: 0, display: 'grid', gap: 2 }}>
      <legend style={{ padding: 0, color: INK.quiet, fontSize: 12 }}>From what these layers show:</legend>
      {layers.map(({ key, name, guide }) => (
        <Tick
          key={key}
          label={guide ? `${name}, a guide` : name}
          checked={chosen.includes(key)}
          onChange={(on) => setChosen(on ? [...chosen, key] : chosen.filter((other) => other !== key))}
        />
      ))}
      <Button
        size="small"
        disabled={chosen.length === 0}
        onClick={() => void outline({ role, guides: keysOf(true), layers: keysOf(false) })}
      >
        {chosen.length === 0 ? 'Choose layers' : `Take the shapes of ${count(chosen.length, 'layer')}`}
      </Button>
    </fieldset>
  );
}
