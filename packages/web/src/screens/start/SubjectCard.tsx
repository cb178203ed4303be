import type { TemplateCard } from '@wet-lacquer/sync/answers.ts';
import { sidesOf } from '../../lib/words.ts';
import { Quiet } from '../../parts/text.tsx';
import { INK } from '../../theme.ts';
import './start.css';

/** A subject by its picture: one of a group of which one is chosen. */
export function SubjectCard({ template, on, onChoose }: { template: TemplateCard; on: boolean; onChoose(): void }) {
  const { hash, name, gameName, sheets } = template;
  return (
    <label
      className="subject"
      style={{
        background: on ? INK.raised : INK.panel,
        border: `1px solid ${on ? INK.accent : INK.line}`,
        boxShadow: on ? `inset 0 1px 0 ${INK.text}` : 'none',
      }}
    >
      <input type="radio" name="subject" value={hash} checked={on} onChange={onChoose} aria-label={name} />
      <img src={`/api/templates/${hash}/picture`} alt="" width={560} height={360} loading="lazy" />
      <span style={{ fontWeight: 600, padding: '6px 10px 0' }}>{name}</span>
      <span style={{ padding: '0 10px' }}>
        <Quiet>for {gameName}</Quiet>
      </span>
      <span style={{ padding: '0 10px 8px', fontSize: 12 }}>
        {sheets.map((sheet) => `${sheet.name} ${sidesOf(sheet)}`).join(', ')}
      </span>
    </label>
  );
}
