import { LinearProgress } from '@mui/material';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { FIT_COLOURS } from '@wet-lacquer/core/transfer/take.ts';
import type { FitAnswer } from '@wet-lacquer/sync/answers.ts';
import { Row } from '../../parts/layout.tsx';
import type { ModelSpot } from '../../parts/stage.ts';
import { Hidden } from '../../parts/text.tsx';
import { Toggle } from '../../parts/Toggle.tsx';
import { INK } from '../../theme.ts';
import { OntoStage, TONES, type View } from './OntoStage.tsx';

const tone = (rgb: readonly number[]) => `rgb(${rgb.join(' ')})`;

interface Props {
  title: string;
  old: Template;
  now: Template;
  /** Null: it is still being found. */
  answer: FitAnswer | null;
  busy: boolean;
  view: View;
  onView(view: View): void;
  /** A place of a model was clicked on; null: nobody asks for one. */
  onSpot: ((side: 'old' | 'now', spot: ModelSpot) => void) | null;
}

/** The models on their turntable, what of them is shown, and what the colours mean. */
export function OntoView({ title, old, now, answer, busy, view, onView, onSpot }: Props) {
  const legend: [string, string][] =
    view === 'fit'
      ? [
          [tone(FIT_COLOURS.good), 'fits'],
          [tone(FIT_COLOURS.far), 'farther off than 1 %'],
          [tone(FIT_COLOURS.stretched), 'stretched by a third'],
          [tone(FIT_COLOURS.missing), 'no counterpart'],
        ]
      : [
          ...(view !== 'now' ? [[TONES.old, old.name] as [string, string]] : []),
          ...(view !== 'old' ? [[TONES.now, now.name] as [string, string]] : []),
        ];
  return (
    <section
      aria-label="Turntable"
      style={{ position: 'relative', minWidth: 0, background: INK.room, overflow: 'hidden' }}
    >
      <Hidden as="h1">{title}</Hidden>
      {answer && (
        <OntoStage
          {...{ old, now, view, fit: answer.fit, pictures: answer.pictures }}
          onSpot={view === 'fit' ? null : onSpot}
        />
      )}
      <div style={{ position: 'absolute', left: 10, top: 10, padding: 6, background: INK.panel }}>
        <Row gap={6} wrap>
          {(
            [
              ['both', 'Both'],
              ['old', old.name],
              ['now', now.name],
              ['fit', 'How it fits'],
            ] as const
          ).map(([key, label]) => (
            <Toggle key={key} on={view === key} disabled={!answer} onChange={() => onView(key)}>
              {label}
            </Toggle>
          ))}
        </Row>
      </div>
      <ul
        aria-label="Colours"
        style={{
          ...{ position: 'absolute', left: 10, bottom: 10, margin: 0, padding: '6px 10px', background: INK.panel },
          ...{ listStyle: 'none', display: 'flex', flexWrap: 'wrap', gap: '4px 14px' },
        }}
      >
        {legend.map(([colour, what]) => (
          <li key={what} style={{ display: 'inline-flex', gap: 6, alignItems: 'center' }}>
            <span aria-hidden style={{ width: 12, height: 12, background: colour }} />
            {what}
          </li>
        ))}
      </ul>
      {busy && (
        <div style={{ position: 'absolute', left: 0, right: 0, top: 0 }}>
          <LinearProgress aria-label={answer ? 'Looking how it fits' : 'Laying the models over each other'} />
        </div>
      )}
    </section>
  );
}
