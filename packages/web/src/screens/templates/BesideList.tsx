import { whatIs, type Decisions } from '@wet-lacquer/core/intake/understood.ts';
import { Tick } from '../../parts/Tick.tsx';
import type { IntakeFile } from '../../lib/types.ts';
import { INK, MONO } from '../../theme.ts';

interface Props {
  files: readonly IntakeFile[];
  decisions: Pick<Decisions, 'model' | 'sheets' | 'companions'>;
  onCompanions(names: string[]): void;
}

/** Files that are in no sheet, each with the reason; those that are ticked go along with every delivery as they came. */
export function BesideList({ files, decisions, onCompanions }: Props) {
  const { model, sheets, companions } = decisions;
  const used = new Set([
    model,
    ...sheets.flatMap((sheet) => [
      sheet.colour,
      sheet.layered,
      ...sheet.maps.map(({ file }) => file),
      ...sheet.followers,
    ]),
  ]);
  const beside = files.filter(({ name }) => !used.has(name));
  if (beside.length === 0) return null;
  return (
    <section
      aria-label="In no sheet"
      style={{ borderTop: `1px solid ${INK.line}`, paddingTop: 8, display: 'grid', gap: 6 }}
    >
      <h3 style={{ fontSize: 13, margin: 0 }}>In no sheet</h3>
      <p style={{ margin: 0, color: INK.quiet, fontSize: 12 }}>
        They are kept with the template. Tick what goes along with every delivery, byte for byte.
      </p>
      <ul style={{ listStyle: 'none', margin: 0, padding: 0, display: 'grid', gap: 6 }}>
        {beside.map((file) => (
          <li key={file.name} style={{ minWidth: 0 }}>
            <Tick
              label={file.name}
              checked={companions.includes(file.name)}
              onChange={(goes) =>
                onCompanions(goes ? [...companions, file.name] : companions.filter((name) => name !== file.name))
              }
            />
            <span style={{ display: 'block', paddingLeft: 26, color: INK.quiet, fontSize: 12, fontFamily: MONO }}>
              {whatIs(file.understood, file.error)}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
