import useSWR from 'swr';
import { originalKey, type Template, type TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { stemOf } from '@wet-lacquer/core/paths.ts';
import { linesNaming } from '@wet-lacquer/core/files/references.ts';
import type { KeptTexts } from '@wet-lacquer/sync/answers.ts';
import { Mono, Quiet } from '../../parts/text.tsx';

interface Props {
  hash: string;
  template: Template;
  sheet: TemplateSheet;
}

/** Where the texts that came with a folder name the file of a sheet. */
export function MentionedIn({ hash, template, sheet }: Props) {
  const original = template.originals?.[originalKey(sheet.key)];
  const stem = original && stemOf(original.name);
  const query = new URLSearchParams({ word: stem ?? '' });
  const { data } = useSWR<KeptTexts>(stem && template.beside?.length ? `/templates/${hash}/texts?${query}` : null, {
    revalidateOnFocus: false,
  });
  if (!data || !stem) return null;
  const texts = data.texts
    .map(({ name, text }) => ({ name, lines: linesNaming(text, stem) }))
    .filter(({ lines }) => lines.length > 0);
  const binary = data.binary.filter(({ times }) => times > 0);
  if (texts.length + binary.length === 0) return null;
  return (
    <section>
      <h2 style={{ fontSize: 13, margin: '0 0 4px' }}>{stem} is named in</h2>
      <ul style={{ listStyle: 'none', margin: 0, padding: 0, display: 'grid', gap: 4, fontSize: 12 }}>
        {texts.map(({ name, lines }) => (
          <li key={name} style={{ overflowWrap: 'anywhere' }}>
            <Mono>{name}</Mono>
            {lines.slice(0, 4).map(({ line, text }) => (
              <Quiet key={line} as="div" mono>
                {line}: {text}
              </Quiet>
            ))}
            {lines.length > 4 && <Quiet as="div">and {lines.length - 4} lines more</Quiet>}
          </li>
        ))}
        {binary.map(({ name }) => (
          <li key={name}>
            <Mono>{name}</Mono> <Quiet>no text</Quiet>
          </li>
        ))}
      </ul>
    </section>
  );
}
