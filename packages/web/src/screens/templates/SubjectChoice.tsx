import type { TemplateCard } from '@wet-lacquer/sync/answers.ts';
import { Choice } from '../../parts/Choice.tsx';

/** Whose skin it is. */
export function SubjectChoice({
  templates,
  value,
  onChange,
}: {
  templates: readonly TemplateCard[];
  /** Hash of the template; empty: none is chosen. */
  value: string;
  onChange(hash: string): void;
}) {
  return (
    <Choice
      label="skin of"
      value={value}
      options={[
        { value: '', label: 'a subject' },
        ...templates.map(({ hash, name, gameName }) => ({ value: hash, label: name, note: gameName })),
      ]}
      onChange={onChange}
    />
  );
}
