import { Button } from '@mui/material';
import { useState } from 'react';
import type { SelectHow } from '@wet-lacquer/core/raster/selection.ts';
import { Quiet } from '../../parts/text.tsx';
import { Row } from '../../parts/layout.tsx';
import { sentenceOf } from '../../lib/api.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { Slide } from '../../parts/Slide.tsx';
import type { SelectAsk } from '../../workers/messages.ts';
import { useEasel, useLivery, useTemplate } from '../context.ts';
import { keepTapedOff, tapeOff } from '../flat/tape.tsx';
import { useHand, type TapeKind } from '../hand.ts';
import { useSessionOf } from '../session.ts';
import { Tick } from '../../parts/Tick.tsx';
import { Pair, Section } from '../../parts/Section.tsx';

const KINDS: readonly { value: TapeKind; label: string; note: string }[] = [
  { value: 'box', label: 'box', note: 'drag' },
  { value: 'ellipse', label: 'ellipse', note: 'drag' },
  { value: 'lasso', label: 'freehand', note: 'drag' },
  { value: 'corners', label: 'corners', note: 'press for each, twice to close' },
  { value: 'colour', label: 'like a colour', note: 'press on it' },
  { value: 'island', label: 'an island', note: 'press on it' },
  { value: 'part', label: 'a part', note: 'press on it' },
  { value: 'cell', label: 'a cell', note: 'press on it' },
];
const HOW: readonly { value: SelectHow; label: string }[] = [
  { value: 'new', label: 'anew' },
  { value: 'add', label: 'added' },
  { value: 'take away', label: 'taken away' },
  { value: 'intersect', label: 'only where both are' },
];

/** The tape in hand: what a press makes, and what can be done with the region. */
export function TapePanel() {
  const { doc, flat } = useEasel();
  const livery = useLivery();
  const template = useTemplate();
  const { sheet, map, chosen } = useSessionOf('sheet', 'map', 'chosen');
  const { tape, how, tolerance, connected, selections } = useHand();
  const [by, setBy] = useState(4);
  const [problem, setProblem] = useState<string | null>(null);
  const there = selections.find((one) => one.sheet === sheet) ?? null;
  const any = selections.length > 0;
  const off = (what: SelectAsk) => {
    setProblem(null);
    void tapeOff(flat, sheet, map, what).catch((error) => setProblem(sentenceOf(error)));
  };
  const keep = async () => {
    const region = await keepTapedOff(flat, sheet);
    if (!region) return;
    const count = (livery.selections ?? []).length + 1;
    doc.commit(
      {
        do: 'add-selection',
        selection: { id: crypto.randomUUID(), name: `Region ${count}`, sheet, ...region },
      },
      `Keep Region ${count}`,
    );
  };
  const named = (livery.selections ?? []).filter((one) => one.sheet === sheet);
  const atlas = template.sheets.find(({ key }) => key === sheet)?.cells !== undefined;
  // A sheet without a model has neither islands nor parts.
  const kinds = KINDS.filter(({ value }) =>
    value === 'cell' ? atlas : !template.boards || (value !== 'island' && value !== 'part'),
  );
  return (
    <Section title="Tape off">
      <Choice label="by" value={tape} options={kinds} onChange={(next) => useHand.setState({ tape: next })} />
      <Choice label="goes" value={how} options={HOW} onChange={(next) => useHand.setState({ how: next })} />
      {tape === 'colour' && (
        <>
          <Slide
            label="tolerance"
            value={tolerance}
            min={0}
            max={60}
            onCommit={(next) => useHand.setState({ tolerance: next })}
          />
          <Tick
            label="Only what hangs together"
            checked={connected}
            onChange={(on) => useHand.setState({ connected: on })}
          />
        </>
      )}
      <Quiet as="p" small>
        {there
          ? `${there.box.right - there.box.left} x ${there.box.bottom - there.box.top} texels are open; the rest is hatched.`
          : any
            ? `Only ${selections.map((one) => one.sheet).join(', ')} ${selections.length > 1 ? 'have' : 'has'} something open.`
            : 'Nothing is taped off: everything can be worked on.'}{' '}
        Shift adds, Alt takes away.
        {!template.boards && ' On the model it opens what is seen; the middle button turns it.'}
      </Quiet>
      <Pair>
        <Button size="small" onClick={() => off({ kind: 'invert' })}>
          Turn round
        </Button>
        <Button size="small" disabled={!any} onClick={() => off({ kind: 'none' })}>
          Take the tape off
        </Button>
        <NumberField label="by" unit="px" value={by} min={0.5} max={256} onCommit={setBy} />
        <Button size="small" disabled={!any} onClick={() => off({ kind: 'feather', sigma: by })}>
          Soften
        </Button>
        <Button size="small" disabled={!any} onClick={() => off({ kind: 'grow', by })}>
          Grow
        </Button>
        <Button size="small" disabled={!any} onClick={() => off({ kind: 'grow', by: -by })}>
          Shrink
        </Button>
      </Pair>
      {chosen && (
        <Button size="small" onClick={() => off({ kind: 'layer', how, layer: chosen })}>
          Open where the chosen layer is
        </Button>
      )}
      <Button size="small" disabled={!there} onClick={() => void keep().catch((e) => setProblem(sentenceOf(e)))}>
        Keep this region
      </Button>
      {named.map(({ id, name, blob, tiles }) => (
        <Row key={id} gap={4}>
          <Button
            size="small"
            sx={{ flex: 1, justifyContent: 'start' }}
            onClick={() => off({ kind: 'stored', how, blob, tiles })}
          >
            {name}
          </Button>
          <Button
            size="small"
            aria-label={`Let ${name} go`}
            onClick={() => doc.commit({ do: 'remove-selection', selection: id })}
          >
            Let go
          </Button>
        </Row>
      ))}
      {problem && <Notice level="error">{problem}</Notice>}
    </Section>
  );
}
