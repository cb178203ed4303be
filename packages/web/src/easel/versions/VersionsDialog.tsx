import { Button, Checkbox, Dialog, FormControlLabel, InputBase, LinearProgress } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import useSWR from 'swr';
import { heldIn } from '@wet-lacquer/core/held.ts';
import { changesBetween, type SheetChanges } from '@wet-lacquer/core/livery/changes.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { Heading, Quiet } from '../../parts/text.tsx';
import { Row, Stack } from '../../parts/layout.tsx';
import { context2d } from '../../parts/context2d.ts';
import { sentenceOf } from '../../lib/api.ts';
import { count, dateInWords } from '../../lib/words.ts';
import { Notice } from '../../parts/Notice.tsx';
import { ART, INK } from '../../theme.ts';
import type { ThumbAnswer } from '../../workers/messages.ts';
import { useEasel, useLivery, useTemplate } from '../context.ts';
import { announce, useSession } from '../session.ts';
import { returnTo } from './returnTo.ts';

const SIDE = 520;

interface State {
  key: string;
  name: string;
  note: string;
  revision: number;
  /** A version that can lose its name again. */
  version?: string;
}

/** Earlier states beside the livery as it is: named versions, what was delivered last, and how it began. */
export function VersionsDialog({ onClose }: { onClose(): void }) {
  const { doc } = useEasel();
  const livery = useLivery();
  const { id, revision, saving, lastDelivery, steps } = doc.use();
  const [chosen, setChosen] = useState<string | null>(null);
  const [name, setName] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const at = new Map(steps.flatMap((step) => ('revision' in step ? [[step.revision, step.at] as const] : [])));
  const noted = (of: number) =>
    at.has(of) ? dateInWords(heldIn(at, of)) : of === 0 ? 'how it began' : `revision ${of}`;
  const states: State[] = [
    ...(livery.versions ?? []).toReversed().map((one) => ({
      key: one.id,
      name: one.name,
      note: one.at ? dateInWords(one.at) : noted(one.revision),
      revision: one.revision,
      version: one.id,
    })),
    ...(lastDelivery
      ? [
          {
            key: 'delivery',
            name: 'Last delivery',
            note: lastDelivery.at ? dateInWords(lastDelivery.at) : 'under way',
            revision: lastDelivery.revision,
          },
        ]
      : []),
    { key: 'begin', name: 'The beginning', note: 'how it began', revision: 0 },
  ];
  const state = states.find(({ key }) => key === chosen) ?? states[0];
  const { data, error } = useSWR<{ livery: Livery }>(`/liveries/${id}/at/${state.revision}`, {
    revalidateOnFocus: false,
    revalidateIfStale: false,
  });
  const keep = () => {
    doc.commit(
      {
        do: 'add-version',
        version: { id: crypto.randomUUID(), name: name.trim(), revision, at: new Date().toISOString() },
      },
      `Name a version ${name.trim()}`,
    );
    setName('');
    announce(`${name.trim()} is kept`);
  };
  const goBack = () => {
    returnTo(doc, state.revision, state.name).then(onClose, (failure: unknown) => setProblem(sentenceOf(failure)));
  };
  return (
    <Dialog
      open
      onClose={onClose}
      maxWidth={false}
      slotProps={{ paper: { 'aria-label': 'Versions', sx: { width: 1180 } } }}
    >
      <div style={{ display: 'flex', minHeight: 560 }}>
        <div
          style={{
            width: 230,
            flex: 'none',
            borderRight: `1px solid ${INK.line}`,
            padding: 14,
            display: 'grid',
            gap: 10,
            alignContent: 'start',
          }}
        >
          <Heading as="h2" size={15}>
            Versions
          </Heading>
          <Stack
            onSubmit={(event) => {
              event.preventDefault();
              if (name.trim() && saving === 'saved') keep();
            }}
            as="form"
            gap={6}
          >
            <InputBase
              value={name}
              onChange={(event) => setName(event.target.value)}
              placeholder="Name of the livery as it is"
              inputProps={{ 'aria-label': 'Name of the livery as it is', maxLength: 80 }}
              sx={{ border: `1px solid ${INK.edge}`, borderRadius: '2px', background: INK.raised, px: 1 }}
            />
            <Button size="small" type="submit" disabled={!name.trim() || saving !== 'saved'}>
              Keep this version
            </Button>
          </Stack>
          <ul
            role="listbox"
            aria-label="Earlier states"
            style={{ margin: 0, padding: 0, listStyle: 'none', overflow: 'auto', maxHeight: 400 }}
          >
            {states.map((one) => (
              <li
                key={one.key}
                role="option"
                tabIndex={0}
                aria-selected={one.key === state.key}
                onClick={() => setChosen(one.key)}
                onKeyDown={(event) => event.key === 'Enter' && setChosen(one.key)}
                style={{
                  padding: '5px 8px',
                  cursor: 'pointer',
                  background: one.key === state.key ? INK.accentDeep : 'transparent',
                }}
              >
                {one.name}
                <Quiet as="div" small>
                  {one.note}
                </Quiet>
              </li>
            ))}
          </ul>
          {state.version && (
            <Button size="small" onClick={() => doc.commit({ do: 'remove-version', version: state.version! })}>
              Take its name off
            </Button>
          )}
        </div>
        <Stack align="start" gap={10} grow shrink pad={14}>
          {problem && <Notice level="error">{problem}</Notice>}
          {error && <Notice level="error">{sentenceOf(error)}</Notice>}
          {data ? <Beside state={state} then={data.livery} /> : !error && <LinearProgress aria-label="Opening" />}
          <Row align="stretch" gap={8} spread="flex-end">
            <Button onClick={onClose}>Close</Button>
            <Button variant="contained" color="primary" disabled={!data} onClick={goBack}>
              Return to {state.name}
            </Button>
          </Row>
        </Stack>
      </div>
    </Dialog>
  );
}

const inWords = ({ added, gone, changed, order, settings }: SheetChanges): string =>
  [
    added.length > 0 ? `added: ${added.join(', ')}` : '',
    gone.length > 0 ? `gone: ${gone.join(', ')}` : '',
    changed.length > 0 ? `changed: ${changed.join(', ')}` : '',
    order ? 'another order' : '',
    settings ? 'finish or checklist' : '',
  ]
    .filter(Boolean)
    .join('; ');

/** A state and the livery as it is, sheet by sheet. */
function Beside({ state, then }: { state: State; then: Livery }) {
  const livery = useLivery();
  const template = useTemplate();
  const [sheet, setSheet] = useState(useSession.getState().sheet);
  const [differs, setDiffers] = useState(false);
  const changes = changesBetween(then, livery);
  const mine = changes.sheets.find((one) => one.sheet === sheet);
  const colours = changes.colours.length > 0 || changes.finishes.length > 0;
  return (
    <>
      <Row role="tablist" aria-label="Sheets" align="stretch" gap={4} wrap>
        {template.sheets.map(({ key, name }) => {
          const other = changes.sheets.some((one) => one.sheet === key) || colours;
          return (
            <button
              key={key}
              type="button"
              role="tab"
              aria-selected={key === sheet}
              onClick={() => setSheet(key)}
              style={{
                minHeight: 26,
                padding: '0 10px',
                border: 0,
                borderBottom: `2px solid ${key === sheet ? INK.accent : 'transparent'}`,
                background: key === sheet ? INK.raised : 'transparent',
                color: key === sheet ? INK.text : INK.quiet,
                font: 'inherit',
                cursor: 'pointer',
              }}
            >
              {name}{' '}
              <span style={{ color: INK.quiet, marginLeft: 3, fontSize: 12 }}>{other ? 'changed' : 'the same'}</span>
            </button>
          );
        })}
        <FormControlLabel
          sx={{ ml: 'auto', mr: 0 }}
          control={<Checkbox size="small" checked={differs} onChange={() => setDiffers(!differs)} />}
          label="Only what differs"
        />
      </Row>
      <Pictures then={then} now={livery} sheet={sheet} differs={differs} name={state.name} />
      <p style={{ margin: 0, color: INK.quiet, maxHeight: 54, overflow: 'auto' }}>
        {mine ? `Since then ${inWords(mine)}.` : 'Its layers are the same.'}
        {changes.colours.length > 0 &&
          ` ${count(changes.colours.length, 'scheme colour')} changed: ${changes.colours.join(', ')}.`}
        {changes.finishes.length > 0 &&
          ` ${count(changes.finishes.length, 'finish', 'finishes')} changed: ${changes.finishes.join(', ')}.`}
        {changes.plates.length > 0 &&
          ` ${count(changes.plates.length, 'plate')} changed: ${changes.plates.join(', ')}.`}
        {changes.night && ' The night changed.'}
        {changes.particulars.length > 0 && ` Particulars changed: ${changes.particulars.join(', ')}.`}
      </p>
    </>
  );
}

/** Texels that are the same, dimmed and grey. */
function dimmed(mine: Uint8ClampedArray<ArrayBuffer>, other: Uint8ClampedArray): Uint8ClampedArray<ArrayBuffer> {
  const out = mine.slice();
  for (let i = 0; i < out.length; i += 4) {
    let apart = 0;
    for (let c = 0; c < 4; c++) apart = Math.max(apart, Math.abs(mine[i + c] - other[i + c]));
    if (apart > 2) continue;
    const grey = 40 + (0.3 * mine[i] + 0.59 * mine[i + 1] + 0.11 * mine[i + 2]) * 0.16;
    out.fill(grey, i, i + 3);
  }
  return out;
}

interface PicturesProps {
  then: Livery;
  now: Livery;
  sheet: string;
  differs: boolean;
  name: string;
}

function Pictures({ then, now, sheet, differs, name }: PicturesProps) {
  const { model } = useEasel();
  const [pair, setPair] = useState<{ sheet: string; of: [ThumbAnswer, ThumbAnswer] } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const map = useSession((s) => s.map);
  useEffect(() => {
    let wanted = true;
    const draw = (livery: Livery) => model.ask('sheetOf', { livery, sheet, map, side: SIDE });
    Promise.all([draw(then), draw(now)])
      .then((of) => wanted && setPair({ sheet, of }))
      .catch((error) => wanted && setProblem(sentenceOf(error)));
    return () => {
      wanted = false;
    };
  }, [model, then, now, sheet, map]);
  if (problem) return <Notice level="error">{problem}</Notice>;
  if (pair?.sheet !== sheet) return <LinearProgress aria-label="Drawing" />;
  return (
    <Stack columns="1fr 1fr" gap={12}>
      {[name, 'As it is now'].map((title, i) => (
        <figure key={title} style={{ margin: 0 }}>
          <figcaption style={{ marginBottom: 4, color: INK.quiet }}>{title}</figcaption>
          <Shown picture={pair.of[i]} other={differs ? pair.of[1 - i] : undefined} label={title} />
        </figure>
      ))}
    </Stack>
  );
}

function Shown({ picture, other, label }: { picture: ThumbAnswer; other?: ThumbAnswer; label: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const target = canvas.current;
    if (!target) return;
    const { width, height, pixels } = picture;
    Object.assign(target, { width, height });
    const shown = other ? dimmed(pixels, other.pixels) : pixels;
    context2d(target).putImageData(new ImageData(shown, width, height), 0, 0);
  }, [picture, other]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={label}
      style={{ display: 'block', width: '100%', maxHeight: 430, objectFit: 'contain', background: ART.ground }}
    />
  );
}
