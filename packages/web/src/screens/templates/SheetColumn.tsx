import { Button } from '@mui/material';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { Choice } from '../../parts/Choice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { Pair, Section } from '../../parts/Section.tsx';
import { BoxFields } from './BoxFields.tsx';
import type { Box } from './FlatLayout.tsx';
import { FollowerFields } from './FollowerFields.tsx';
import { MapFields } from './MapFields.tsx';
import { OutlineFields } from './OutlineFields.tsx';
import { PlateFields } from './PlateFields.tsx';
import { RunFields } from './RunFields.tsx';
import { useLooking } from './useLooking.ts';

/** What a painter settles about a sheet: its axis, its cells, what follows it, which of its pixels are settings. */
export function SheetColumn({ sheet, onDraw }: { sheet: TemplateSheet; onDraw(done: (box: Box) => void): void }) {
  const { change } = useLooking();
  const set = (values: Partial<Pick<TemplateSheet, 'axis'>> & { cells?: TemplateSheet['cells'] | null }) =>
    void change({ do: 'set-sheet', sheet: sheet.key, set: values });
  const { axis, cells } = sheet;
  return (
    <>
      <Section title="Symmetry axis">
        <Choice
          label="lies"
          value={axis?.kind ?? 'none'}
          options={[
            { value: 'none', label: 'nowhere' },
            { value: 'vertical', label: 'upright' },
            { value: 'horizontal', label: 'level' },
          ]}
          onChange={(kind) =>
            set({
              axis: kind === 'none' ? null : { kind, at: (kind === 'vertical' ? sheet.width : sheet.height) / 2 },
            })
          }
        />
        {axis && (
          <NumberField
            label={axis.kind === 'vertical' ? 'x' : 'y'}
            value={axis.at}
            min={0}
            max={axis.kind === 'vertical' ? sheet.width : sheet.height}
            step={0.5}
            onCommit={(at) => set({ axis: { ...axis, at } })}
          />
        )}
      </Section>
      <Section title="Atlas cells">
        {cells ? (
          <>
            <Pair>
              <NumberField
                label="columns"
                value={cells.columns}
                digits={0}
                min={1}
                max={64}
                onCommit={(columns) => set({ cells: { columns, rows: cells.rows } })}
              />
              <NumberField
                label="rows"
                value={cells.rows}
                digits={0}
                min={1}
                max={64}
                onCommit={(rows) => set({ cells: { columns: cells.columns, rows } })}
              />
            </Pair>
            <Button size="small" onClick={() => set({ cells: null })}>
              It is no atlas
            </Button>
          </>
        ) : (
          <Button size="small" onClick={() => set({ cells: { columns: 4, rows: 4 } })}>
            It is an atlas
          </Button>
        )}
      </Section>
      <PlateFields sheet={sheet} />
      <MapFields sheet={sheet} />
      <FollowerFields sheet={sheet} />
      <BoxFields sheet={sheet} onDraw={onDraw} />
      <OutlineFields sheet={sheet} onDraw={onDraw} />
      <RunFields sheet={sheet} />
    </>
  );
}
