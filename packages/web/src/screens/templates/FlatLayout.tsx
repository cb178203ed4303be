import { useMemo } from 'react';
import type { Template, TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import type { LayoutIsland } from '@wet-lacquer/core/surface/templateLayout.ts';
import { GUIDE_CASING, GUIDE_LINE } from '../../easel/flat/guides.ts';
import { CONDENSED, INK } from '../../theme.ts';
import { labelSize, pathOf } from '../../parts/islandPaths.ts';

/** What is drawn over a sheet. */
export interface Showing {
  locator: boolean;
  wire: boolean;
  art: boolean;
}

interface Props {
  hash: string;
  template: Template;
  sheet: TemplateSheet;
  islands: readonly LayoutIsland[];
  chosen: readonly number[];
  showing: Showing;
  onChoose(number: number | null): void;
}

/** A sheet with its islands: coloured and numbered, with their wire, over what a new livery begins with. */
export function FlatLayout({ hash, template, sheet, islands, chosen, showing, onChoose }: Props) {
  const mine = useMemo(
    () =>
      islands
        .filter((island) => island.sheet === sheet.key)
        .map((island) => ({ island, path: pathOf(template, sheet, island) })),
    [islands, sheet, template],
  );
  const begins = (template.begin?.[sheet.key] ?? []).length > 0;
  const thin = Math.max(sheet.width, sheet.height) / 1400;
  return (
    <svg
      viewBox={`0 0 ${sheet.width} ${sheet.height}`}
      role="group"
      aria-label={`Islands of ${sheet.name}`}
      onClick={() => onChoose(null)}
      style={{ flex: 1, minHeight: 0, width: '100%', background: '#777', padding: 12, boxSizing: 'border-box' }}
    >
      <rect width={sheet.width} height={sheet.height} fill={INK.room} />
      {showing.art && begins && (
        <image href={`/api/templates/${hash}/sheets/${sheet.key}`} width={sheet.width} height={sheet.height} />
      )}
      {mine.map(({ island, path }) => {
        const on = chosen.includes(island.number);
        const dim = chosen.length > 0 && !on;
        return (
          <g
            key={island.number}
            role="button"
            tabIndex={0}
            aria-label={`Island ${island.number}`}
            aria-pressed={on}
            onClick={(event) => {
              event.stopPropagation();
              onChoose(island.number);
            }}
            onKeyDown={(event) => {
              if (event.key === 'Enter' || event.key === ' ') onChoose(island.number);
            }}
            style={{ cursor: 'pointer', outlineColor: INK.accent }}
          >
            <path
              d={path}
              fill={showing.locator ? island.colour : '#000'}
              fillOpacity={showing.locator ? (dim ? 0.2 : begins && showing.art ? 0.7 : 1) : 0}
              pointerEvents="all"
            />
            {showing.wire && (
              <>
                <path d={path} fill="none" stroke={GUIDE_CASING} strokeWidth={thin * 1.8} opacity={dim ? 0.3 : 1} />
                <path d={path} fill="none" stroke={GUIDE_LINE} strokeWidth={thin * 0.6} opacity={dim ? 0.3 : 1} />
              </>
            )}
            {on && <path d={path} fill="none" stroke={INK.accent} strokeWidth={thin * 3} />}
          </g>
        );
      })}
      {showing.locator &&
        mine.map(({ island }) => (
          <text
            key={island.number}
            x={island.label.x}
            y={island.label.y}
            fontSize={labelSize(island, sheet)}
            fill={island.ink}
            stroke={island.ink === '#000000' ? '#fff' : '#000'}
            strokeWidth={thin * 3}
            paintOrder="stroke"
            textAnchor="middle"
            dominantBaseline="central"
            fontFamily={CONDENSED}
            fontWeight={600}
            pointerEvents="none"
            opacity={chosen.length > 0 && !chosen.includes(island.number) ? 0.35 : 1}
          >
            {island.number}
          </text>
        ))}
    </svg>
  );
}
