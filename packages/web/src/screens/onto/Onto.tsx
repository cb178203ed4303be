import { Button, InputBase, LinearProgress } from '@mui/material';
import { useState } from 'react';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { overlayOf } from '@wet-lacquer/core/transfer/fit.ts';
import type { PlacePair } from '@wet-lacquer/core/transfer/laidOver.ts';
import { inverseOf, onNew } from '@wet-lacquer/core/transfer/overlay.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Columns } from '../../parts/Columns.tsx';
import { FIELD, FIELD_NAME } from '../../parts/field.ts';
import { Stack } from '../../parts/layout.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Section } from '../../parts/Section.tsx';
import type { ModelSpot } from '../../parts/stage.ts';
import { Heading, Quiet } from '../../parts/text.tsx';
import { INK } from '../../theme.ts';
import { Carried } from './Carried.tsx';
import type { View } from './OntoStage.tsx';
import { OntoView } from './OntoView.tsx';
import { OverlayFields } from './OverlayFields.tsx';
import { PairTable } from './PairTable.tsx';
import { useFit, useTransfer } from './useOnto.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';

interface Props {
  id: string;
  /** As it reads, and with its particulars still to be filled in. */
  name: string;
  pattern: string;
  from: string;
  to: string;
  old: Template;
  now: Template;
}

/** Two models that are known: how they lie, what fits, and the way over. */
export function Onto({ id, name: before, pattern, from, to, old, now }: Props) {
  const { answer, busy, problem, change, back, again } = useFit(from, to);
  const transfer = useTransfer();
  const [name, setName] = useState(cutTo(`${pattern}, ${now.name}`, 80));
  const [view, setView] = useState<View>('both');
  const [pairing, setPairing] = useState(false);
  const [pairs, setPairs] = useState<Partial<PlacePair>[]>([]);
  if (transfer.made) return <Carried made={transfer.made} name={name.trim()} old={old} onAgain={transfer.again} />;
  const fit = answer?.fit;
  const running = transfer.done !== null;

  const spot = (side: 'old' | 'now', { position }: ModelSpot) => {
    if (!fit) return;
    const place = side === 'old' ? onNew(inverseOf(overlayOf(fit)), position) : position;
    const last = pairs.at(-1);
    const open = last && !(last.old && last.now) ? last : null;
    setPairs([...(open ? pairs.slice(0, -1) : pairs), { ...open, [side]: place }]);
    // What is looked for next lies on the other one.
    if (view !== 'both') setView(side === 'old' ? 'now' : 'old');
  };
  return (
    <Columns sizes={['minmax(0, 1fr)', '360px']} heights={['60vh']}>
      <OntoView
        title={`${before} onto ${now.name}`}
        {...{ old, now, answer, busy, view }}
        onView={setView}
        onSpot={pairing ? spot : null}
      />
      <aside
        aria-label="How it goes over"
        style={{ overflow: 'auto', padding: '12px 14px', background: INK.panel, minWidth: 0 }}
      >
        <Heading as="h2" size={14}>
          Onto {now.name}
        </Heading>
        {problem && (
          <Notice
            level="error"
            action={
              <Button size="small" onClick={again}>
                Try again
              </Button>
            }
          >
            {problem}
          </Notice>
        )}
        {transfer.problem && <Notice level="error">{transfer.problem}</Notice>}
        {!fit && !problem && <Quiet as="p">Their axes, places and sizes are being found.</Quiet>}
        {fit && (
          <>
            <Stack gap={6} above={8}>
              <label style={FIELD}>
                <span style={FIELD_NAME}>name</span>
                <InputBase
                  value={name}
                  onChange={(event) => setName(event.target.value)}
                  inputProps={{ maxLength: 80, 'aria-label': 'Name of the new livery' }}
                  sx={{ flex: 1, ml: 1 }}
                />
              </label>
              {running ? (
                <>
                  <LinearProgress
                    variant="determinate"
                    value={100 * (transfer.done ?? 0)}
                    aria-label="Taking it over"
                  />
                  <Button onClick={transfer.cancel}>Cancel</Button>
                </>
              ) : (
                <Button
                  variant="contained"
                  disabled={busy || name.trim() === ''}
                  onClick={() => void transfer.start(id, to, fit, name.trim())}
                >
                  Take it over
                </Button>
              )}
            </Stack>
            <Section title="What lies on a part">
              <Choice
                label="is"
                value={fit.size}
                disabled={busy || running}
                options={[
                  { value: 'fitting', label: 'sized with the part' },
                  { value: 'true', label: 'as large as it was, in metres' },
                ]}
                onChange={(size) => change({ ...fit, size })}
              />
              <Choice
                label="gaps"
                value={fit.gaps}
                disabled={busy || running}
                options={[
                  { value: 'open', label: 'stay open' },
                  { value: 'mirrored', label: 'are filled from the other side' },
                ]}
                onChange={(gaps) => change({ ...fit, gaps })}
              />
            </Section>
            <OverlayFields
              {...{ fit, pairs, pairing, disabled: busy || running, onFit: change }}
              onPairing={(on) => {
                setPairing(on);
                if (on && view === 'fit') setView('both');
              }}
              onClear={() => setPairs([])}
            />
            {back && (
              <Button size="small" sx={{ mt: 1 }} disabled={busy || running} onClick={back}>
                Take the last change back
              </Button>
            )}
            <Section title="Part by part">
              <PairTable
                {...{ old, now, answer, disabled: busy || running }}
                onPair={(part, own) => change({ ...fit, pairs: { ...fit.pairs, [part]: own } })}
              />
            </Section>
          </>
        )}
      </aside>
    </Columns>
  );
}
