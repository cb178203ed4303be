import { mapsOf, type TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { Row } from '../../parts/layout.tsx';
import { INK } from '../../theme.ts';
import { useTemplate } from '../context.ts';
import { choose, useSession, useSessionOf } from '../session.ts';

const tab = (on: boolean) => ({
  minHeight: 24,
  padding: '0 10px',
  border: `1px solid ${on ? INK.accent : INK.edge}`,
  background: on ? INK.accentDeep : INK.panel,
  color: INK.text,
  font: 'inherit',
  cursor: 'pointer',
});

/** The maps of a sheet that has more than colour; one of them is worked on. And the surfaces that it is a piece of. */
export function MapTabs({ sheet }: { sheet: TemplateSheet }) {
  const { map, run } = useSessionOf('map', 'run');
  const template = useTemplate();
  const maps = mapsOf(sheet);
  const runs = (template.runs ?? []).filter(({ pieces }) => pieces.some((piece) => piece.sheet === sheet.key));
  if (maps.length < 2 && runs.length === 0) return null;
  return (
    <Row align="stretch" gap={8}>
      {maps.length > 1 && (
        <Row role="radiogroup" aria-label={`Maps of ${sheet.name}`} align="stretch">
          {maps.map(({ key, name }) => (
            <button
              key={key}
              type="button"
              role="radio"
              aria-checked={key === map}
              onClick={() => choose(null, sheet.key, key)}
              style={tab(key === map)}
            >
              {name}
            </button>
          ))}
        </Row>
      )}
      {runs.map(({ key, name }) => (
        <button
          key={key}
          type="button"
          aria-pressed={run === key}
          title="Sheets that lie together are painted as one surface"
          onClick={() => useSession.setState({ run: run === key ? null : key })}
          style={tab(run === key)}
        >
          {name} as one
        </button>
      ))}
    </Row>
  );
}
