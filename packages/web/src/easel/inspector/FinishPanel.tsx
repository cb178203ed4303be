import { Button } from '@mui/material';
import { useState } from 'react';
import {
  FINISH_KINDS,
  FINISH_VALUES,
  finishesOf,
  newFinish,
  type FinishKind,
  type LiveryFinish,
} from '@wet-lacquer/core/livery/finish.ts';
import { newFinishId } from '@wet-lacquer/core/livery/ids.ts';
import { MOST } from '@wet-lacquer/core/livery/limits.ts';
import { layersIn, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import { capital } from '@wet-lacquer/core/capital.ts';
import { PlainList, Row, Stack } from '../../parts/layout.tsx';
import { Heading, Quiet } from '../../parts/text.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { Slide } from '../../parts/Slide.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { INK } from '../../theme.ts';
import { useEasel, useLivery } from '../context.ts';
import { FlakeFields } from './FlakeFields.tsx';
import { FINISH_NUMBERS } from '../../parts/finishNumbers.ts';
import { FinishChip } from '../FinishChip.tsx';

/** What wears a finish: layers, and sheets where no layer says otherwise. */
const wearersOf = (livery: Livery, id: string): number =>
  layersIn(livery).filter(({ finish }) => finish === id).length +
  livery.sheets.filter(({ finish }) => finish === id).length;

/** The livery's finishes: named surfaces; change one, and every map of every sheet follows. */
export function FinishPanel() {
  const { doc } = useEasel();
  const livery = useLivery();
  const finishes = finishesOf(livery);
  return (
    <section aria-label="Finishes" style={{ marginTop: 22 }}>
      <Heading as="h2" size={15}>
        <span id="finishes" tabIndex={-1}>
          Finishes
        </span>
      </Heading>
      <p style={{ margin: '2px 0 10px', color: INK.quiet }}>
        What a surface is, whatever its colour. Layers wear them; zones and maps of gloss and metal follow.
      </p>
      <PlainList gap={6}>
        {finishes.map((finish) => (
          <Finish key={finish.id} finish={finish} livery={livery} only={finishes.length === 1} />
        ))}
      </PlainList>
      <Button
        size="small"
        sx={{ mt: 1.5 }}
        disabled={finishes.length >= MOST.finishes}
        onClick={() => {
          const finish = newFinish('own', newFinishId(), `Finish ${finishes.length + 1}`);
          doc.commit({ do: 'add-finish', finish, index: finishes.length }, 'Add a finish');
        }}
      >
        Add a finish
      </Button>
    </section>
  );
}

function Finish({ finish, livery, only }: { finish: LiveryFinish; livery: Livery; only: boolean }) {
  const { doc } = useEasel();
  const [open, setOpen] = useState(false);
  const worn = wearersOf(livery, finish.id);
  return (
    <li style={{ border: `1px solid ${open ? INK.edge : INK.line}`, borderRadius: 2, padding: open ? 8 : 0 }}>
      <button
        type="button"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        style={{
          ...{ display: 'flex', alignItems: 'center', gap: 8, width: '100%', minHeight: 30, padding: '0 8px' },
          ...{ background: 'transparent', border: 0, color: INK.text, font: 'inherit', cursor: 'pointer' },
          textAlign: 'left',
        }}
      >
        <FinishChip livery={livery} finish={finish} width={20} />
        <span style={{ flex: 1, fontWeight: open ? 600 : 400 }}>{finish.name}</span>
        <Quiet small>{worn === 0 ? 'not worn' : worn === 1 ? 'worn once' : `worn ${worn} times`}</Quiet>
      </button>
      {open && <FinishValues finish={finish} />}
      {open && (
        <Row gap={6} above={8}>
          <Button
            size="small"
            disabled={only || worn > 0}
            aria-label={`Take ${finish.name} out`}
            onClick={() => doc.commit({ do: 'remove-finish', finish: finish.id })}
          >
            Take out
          </Button>
        </Row>
      )}
    </li>
  );
}

function FinishValues({ finish }: { finish: LiveryFinish }) {
  const { doc } = useEasel();
  const edit = (set: Partial<Omit<LiveryFinish, 'id' | 'flake'>> & { flake?: LiveryFinish['flake'] | null }) =>
    ({ do: 'set-finish', finish: finish.id, set }) as const;
  const set = (values: Parameters<typeof edit>[0], label: string) => doc.commit(edit(values), label);
  return (
    <Stack gap={6} above={6}>
      <TextEntry
        label="name"
        value={finish.name}
        required
        maxLength={60}
        onCommit={(name) => set({ name }, `Call ${finish.name} ${name}`)}
      />
      <Choice<FinishKind>
        label="kind"
        value={finish.kind}
        options={FINISH_KINDS.map((value) => ({ value, label: value }))}
        onChange={(kind) =>
          set({ kind, ...FINISH_VALUES[kind], flake: FINISH_VALUES[kind].flake ?? null }, `Make ${finish.name} ${kind}`)
        }
      />
      {FINISH_NUMBERS.map(([key, label]) => (
        <Slide
          key={key}
          label={label}
          unit="%"
          value={finish[key]}
          min={0}
          max={100}
          onShow={(value) => doc.show(value === null ? null : edit({ [key]: value }))}
          onCommit={(value) => set({ [key]: value }, `${capital(label)} of ${finish.name}`)}
        />
      ))}
      <FlakeFields finish={finish} set={set} />
    </Stack>
  );
}
