import { mapsOf, type TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { INK } from '../../theme.ts';
import { choose, useSession } from '../session.ts';

/** The maps of a sheet that has more than colour; one of them is worked on. */
export function MapTabs({ sheet }: { sheet: TemplateSheet }) {
  const map = useSession((s) => s.map);
  const maps = mapsOf(sheet);
  if (maps.length < 2) return null;
  return (
    <div
      role="radiogroup"
      aria-label={`Maps of ${sheet.name}`}
      style={{ position: 'absolute', left: 8, top: 8, display: 'flex', background: INK.panel }}
    >
      {maps.map(({ key, name }) => (
        <button
          key={key}
          type="button"
          role="radio"
          aria-checked={key === map}
          onClick={() => choose(null, sheet.key, key)}
          style={{
            minHeight: 26,
            padding: '0 10px',
            border: `1px solid ${key === map ? INK.accent : INK.edge}`,
            background: key === map ? INK.accentDeep : INK.panel,
            color: INK.text,
            font: 'inherit',
            cursor: 'pointer',
          }}
        >
          {name}
        </button>
      ))}
    </div>
  );
}
