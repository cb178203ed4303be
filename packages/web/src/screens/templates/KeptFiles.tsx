import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { size } from '../../lib/words.ts';
import { INK, MONO } from '../../theme.ts';

/** The game's own files that the template keeps as they came: those that deliveries go over, and those beside, each with the reason. */
export function KeptFiles({
  hash,
  template,
}: {
  hash: string;
  template: Pick<Template, 'originals' | 'beside' | 'ownSpec'>;
}) {
  const originals = Object.values(template.originals ?? {});
  const { beside = [], ownSpec } = template;
  if (originals.length + beside.length === 0) return null;
  const along = new Set((ownSpec?.companions ?? []).map(({ file }) => file));
  const rows = [
    ...originals.map(({ name, bytes }) => ({ name, bytes, says: 'deliveries go over it' })),
    ...beside.map(({ name, bytes, why }) => ({
      name,
      bytes,
      says: along.has(name) ? 'goes along as it came' : `in no sheet: ${why}`,
    })),
  ].toSorted((a, b) => (a.name < b.name ? -1 : 1));
  return (
    <section>
      <h2 style={{ fontSize: 13, margin: '0 0 4px' }}>Kept as they came</h2>
      <ul style={{ listStyle: 'none', margin: 0, padding: 0, display: 'grid', gap: 4 }}>
        {rows.map(({ name, bytes, says }) => (
          <li key={name} style={{ overflowWrap: 'anywhere', fontSize: 12 }}>
            <a
              href={`/api/templates/${hash}/kept?${new URLSearchParams({ name })}`}
              download
              aria-label={`Save ${name} as it came`}
              style={{ fontFamily: MONO, color: INK.text }}
            >
              {name}
            </a>{' '}
            <span style={{ color: INK.quiet }}>
              {size(bytes)}, {says}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
