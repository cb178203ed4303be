import { whatIs, type Decisions } from '@wet-lacquer/core/intake/understood.ts';
import type { IntakeFile } from '@wet-lacquer/sync/answers.ts';
import { Heading, Quiet } from '../../parts/text.tsx';
import { PlainList } from '../../parts/layout.tsx';
import { Tick } from '../../parts/Tick.tsx';
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
      <Heading as="h3">In no sheet</Heading>
      <Quiet as="p" small>
        They are kept with the template. Tick what goes along with every delivery, byte for byte.
      </Quiet>
      <PlainList gap={6}>
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
      </PlainList>
    </section>
  );
}
