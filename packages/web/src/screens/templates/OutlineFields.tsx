import { Button } from '@mui/material';
import { useState } from 'react';
import type { TemplateOutline, TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { freeKey } from '@wet-lacquer/core/surface/reviseTemplate.ts';
import { sentenceOf } from '../../lib/api.ts';
import { Choice } from '../../parts/Choice.tsx';
import { FilePick } from '../../parts/FilePick.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { INK } from '../../theme.ts';
import { Section } from '../../easel/inspector/Section.tsx';
import type { Box } from './FlatLayout.tsx';
import { ringsOfSvg } from './ringsOfSvg.ts';
import { useLooking } from './useLooking.ts';

type Role = TemplateOutline['role'];
const ROLES: readonly { value: Role; label: string }[] = [
  { value: 'frame', label: 'safe frame' },
  { value: 'collider', label: 'collider' },
];

/** Safe frames and colliders: drawn, from a drawing, or from a guide's picture. */
export function OutlineFields({ sheet, onDraw }: { sheet: TemplateSheet; onDraw(done: (box: Box) => void): void }) {
  const { template, change, outline: fromGuide } = useLooking();
  const [role, setRole] = useState<Role>('frame');
  const [problem, setProblem] = useState<string | null>(null);
  const all = template.outlines ?? [];
  const mine = all.filter((one) => one.sheet === sheet.key);
  const guides = (template.guides ?? []).filter((guide) => guide.sheet === sheet.key);
  const put = (outlines: TemplateOutline[]) => void change({ do: 'set-outlines', outlines });
  const set = (one: TemplateOutline, values: Partial<TemplateOutline>) =>
    put(all.map((other) => (other === one ? { ...one, ...values } : other)));
  const add = (rings: number[][], name: string) => {
    const key = freeKey(name, new Set(all.map((one) => one.key)));
    put([...all, { key, name: name.slice(0, 60), sheet: sheet.key, role, rings }]);
  };
  const drawn = ({ left, top, width, height }: Box) =>
    add(
      [[left, top, left + width, top, left + width, top + height, left, top + height]],
      `${role === 'frame' ? 'Frame' : 'Collider'} ${mine.length + 1}`,
    );
  const svg = async (picked: File) => {
    setProblem(null);
    try {
      add(await ringsOfSvg(await picked.text(), sheet), picked.name.replace(/\.svg$/i, '') || 'Outline');
    } catch (failure) {
      setProblem(`${picked.name}: ${sentenceOf(failure)}`);
    }
  };
  return (
    <Section title="Safe frames and colliders">
      {mine.map((one) => (
        <div key={one.key} style={{ display: 'grid', gap: 4, borderTop: `1px solid ${INK.line}`, paddingTop: 6 }}>
          <TextEntry label="name" value={one.name} required maxLength={60} onCommit={(name) => set(one, { name })} />
          <Choice label="is a" value={one.role} options={ROLES} onChange={(next) => set(one, { role: next })} />
          <Button size="small" onClick={() => put(all.filter((other) => other !== one))}>
            Take {one.name} out
          </Button>
        </div>
      ))}
      <Choice<Role> label="a new one is a" value={role} options={ROLES} onChange={(next) => setRole(next)} />
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 6 }}>
        <Button size="small" onClick={() => onDraw(drawn)}>
          Draw it
        </Button>
        <FilePick size="small" label="Drawing with outlines" accept=".svg" onFile={(picked) => void svg(picked)}>
          From an SVG
        </FilePick>
      </div>
      {guides.map((guide) => (
        <Button key={guide.key} size="small" onClick={() => void fromGuide(guide.key, role)}>
          From the guide {guide.name}
        </Button>
      ))}
      {problem && <Notice level="error">{problem}</Notice>}
    </Section>
  );
}
