import { Button } from '@mui/material';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useParams } from 'react-router';
import type { ProofFinding, Remedy } from '@wet-lacquer/core/delivery/proof/finding.ts';
import { specFor } from '@wet-lacquer/core/delivery/specs.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { fileFor } from '@wet-lacquer/core/livery/spec.ts';
import { fillIn } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { FORMATS, TRIED, type FormatKey } from '@wet-lacquer/core/texture/formats/index.ts';
import { useShallow } from 'zustand/react/shallow';
import { openDocument, type EaselDocument } from '../../easel/document.ts';
import { fit } from '../../easel/flat/view.ts';
import { withSpec } from '../../lib/specs.ts';
import { get, sentenceOf } from '../../lib/api.ts';
import type { OpenLivery } from '../../lib/types.ts';
import { useOpened } from '../../lib/useOpened.ts';
import { Choice } from '../../parts/Choice.tsx';
import { liveryTabs, Opening } from '../../shell/Opening.tsx';
import { LiveryTrail } from '../../shell/LiveryTrail.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { INK, MONO } from '../../theme.ts';
import type { ProofNews } from '../../workers/proofMessages.ts';
import { WorkerClient } from '../../workers/workerClient.ts';
import { Cells, type ProofClient } from './cells.ts';
import { Charts } from './Charts.tsx';
import { FindingsColumn } from './FindingsColumn.tsx';
import { heat, SCALE } from './heat.ts';
import { Ladder } from './Ladder.tsx';
import { OnModel } from './OnModel.tsx';
import { Pane } from './Pane.tsx';
import { trialsOf, useProof, type Measure } from './proofState.ts';

/** Formats that a painter may try; those of one or two channels are for maps of data, and the proof is of the colour. */
const tried = (format: FormatKey): FormatKey => TRIED.find((key) => key === format) ?? 'bc7';

function deliveredAs(livery: Livery, template: Template, sheet: string): FormatKey {
  const spec = specFor(livery, template);
  return (fileFor(spec, sheet) ?? spec.files[0]).format;
}

const EFFORTS = [
  { value: 'fast', label: 'fast' },
  { value: 'normal', label: 'normal', note: 'as delivered' },
  { value: 'best', label: 'best' },
] as const;

interface Opened {
  id: string;
  doc: EaselDocument;
  template: Template;
  client: ProofClient;
}

/** Painted against encoded, level by level, before anything is delivered. */
export function ProofScreen() {
  const { id } = useParams();
  const [attempt, setAttempt] = useState(0);
  return <Open key={`${id} ${attempt}`} id={id!} onRetry={() => setAttempt(attempt + 1)} />;
}

function Open({ id, onRetry }: { id: string; onRetry(): void }) {
  const { opened, problem } = useOpened(id, open, closeAll);
  return opened ? <Proof {...opened} /> : <Opening problem={problem} onRetry={onRetry} />;
}

async function open(id: string): Promise<Opened> {
  const livery = await get<OpenLivery>(`/liveries/${id}`);
  const template = withSpec(await get<Template>(`/templates/${livery.livery.pins.template}`), livery.spec);
  const start = () => new Worker(new URL('../../workers/proof.worker.ts', import.meta.url), { type: 'module' });
  const client: ProofClient = new WorkerClient(start, (news: ProofNews) => useProof.setState({ news }));
  const { sheet } = useProof.getState();
  const wanted = new URLSearchParams(location.search).get('sheet') ?? sheet;
  const there = template.sheets.find((s) => s.key === wanted) ?? template.sheets[0];
  useProof.setState({
    sheet: there.key,
    level: 0,
    news: null,
    format: tried(deliveredAs(livery.livery, template, there.key)),
    beside: null,
    view: { ...useProof.getState().view, zoom: 0 },
  });
  await client.ask('template', { template });
  return { id, doc: openDocument(livery, template), template, client };
}

function closeAll({ doc, client }: Opened): void {
  doc.close();
  client.close();
}

function Proof({ id, doc, template, client }: Opened) {
  const livery = doc.use((s) => s.livery);
  const { sheet, level, format, effort, beside, measure, smooth, onModel, view } = useProof(
    useShallow(({ news: _news, ...rest }) => rest),
  );
  const [tick, setTick] = useState(0);
  const cells = useMemo(() => new Cells(client, () => setTick((n) => n + 1)), [client]);
  const trials = useMemo(() => trialsOf({ format, effort, beside }), [format, effort, beside]);
  const panes = useRef<HTMLDivElement>(null);
  const delivered = deliveredAs(livery, template, sheet);
  const size = template.sheets.find((s) => s.key === sheet)!;
  const count = trials.length + 2;

  useEffect(() => void client.ask('livery', { livery }).catch(() => {}), [client, livery]);
  useEffect(() => {
    const { x, y } = useProof.getState().view;
    void client.ask('look', { sheet, trials, level, x, y }).catch(() => {});
  }, [client, sheet, trials, level]);
  // What is in view comes first in what remains, too; asked a moment after the view rests.
  useEffect(() => {
    const timer = setTimeout(
      () => void client.ask('look', { sheet, trials, level, x: view.x, y: view.y }).catch(() => {}),
      120,
    );
    return () => clearTimeout(timer);
  }, [client, sheet, trials, level, view.x, view.y]);
  const [width, setWidth] = useState(800);
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => {
      setWidth(entry.contentRect.width);
      const old = useProof.getState().view;
      const next = { ...old, width: entry.contentRect.width / count, height: entry.contentRect.height - 36 };
      useProof.setState({ view: old.zoom === 0 ? fit({ ...next, height: next.height + 56 }, size) : next });
    });
    watch.observe(panes.current!);
    return () => watch.disconnect();
  }, [count, size]);

  const show = (finding: ProofFinding) => {
    const { left, top, right, bottom } = finding.show!;
    const zoom = Math.min(view.width / (right - left), view.height / (bottom - top));
    useProof.setState({
      level: 0,
      onModel: false,
      view: { ...view, zoom: Math.min(16, zoom), x: (left + right) / 2, y: (top + bottom) / 2 },
    });
  };
  const [said, setSaid] = useState<string | null>(null);
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return;
      event.preventDefault();
      if (event.shiftKey) doc.redo();
      else doc.undo();
      setSaid(null);
    };
    window.addEventListener('keydown', keys);
    return () => window.removeEventListener('keydown', keys);
  }, [doc]);
  const fix = ({ title }: ProofFinding, remedy: Remedy) => {
    setSaid(null);
    if ('format' in remedy) useProof.setState({ beside: remedy.format });
    else if ('edit' in remedy) {
      doc.commit(remedy.edit, title);
      setSaid('Done; Ctrl Z takes it back.');
    } else {
      setSaid('Looking for a better place …');
      client
        .ask('nudge', { layer: remedy.nudge, format })
        .then((nudge) => {
          if (!nudge) return setSaid('It sits as well as anywhere within two texels.');
          doc.commit(nudge.edit, 'Nudge to the block grid');
          const less = Math.round((1 - nudge.after / nudge.before) * 100);
          setSaid(`Moved by ${nudge.x}, ${nudge.y} texels: ${less} % less error about it. Ctrl Z takes it back.`);
        })
        .catch((error: unknown) => setSaid(sentenceOf(error)));
    }
  };
  const name = fillIn(livery.particulars.name ?? '', livery.particulars);
  return (
    <div style={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
      <TopBar trail={<LiveryTrail name={name} />} tabs={liveryTabs(id)} />
      <NotSaved doc={doc} />
      <main style={{ flex: 1, minHeight: 0, display: 'flex' }}>
        <Ladder />
        <div style={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column' }}>
          <div
            role="toolbar"
            aria-label="What is proofed"
            style={{
              display: 'flex',
              gap: 6,
              padding: 6,
              background: INK.room,
              borderBottom: `1px solid ${INK.line}`,
              alignItems: 'center',
            }}
          >
            <div style={{ width: 168 }}>
              <Choice
                label="Sheet"
                value={sheet}
                options={template.sheets.map((s) => ({ value: s.key, label: s.name }))}
                onChange={(next) =>
                  useProof.setState({ sheet: next, level: 0, news: null, view: { ...view, zoom: 0 } })
                }
              />
            </div>
            <div style={{ width: 196 }}>
              <Choice
                label="Effort"
                value={effort}
                options={EFFORTS}
                onChange={(next) => useProof.setState({ effort: next })}
              />
            </div>
            <div style={{ width: 176 }}>
              <Choice
                label="Beside it"
                value={beside ?? 'none'}
                options={[
                  { value: 'none', label: 'nothing' },
                  ...TRIED.filter((f) => f !== format).map((f) => ({ value: f, label: FORMATS[f].name })),
                ]}
                onChange={(next) => useProof.setState({ beside: next === 'none' ? null : (next as FormatKey) })}
              />
            </div>
            <Button
              aria-pressed={smooth}
              sx={{ background: smooth ? INK.accentDeep : undefined }}
              onClick={() => useProof.setState({ smooth: !smooth })}
            >
              As the game magnifies
            </Button>
            <Button
              aria-pressed={onModel}
              sx={{ background: onModel ? INK.accentDeep : undefined }}
              onClick={() => useProof.setState({ onModel: !onModel })}
            >
              On the model
            </Button>
            <output aria-label="Zoom" style={{ marginLeft: 'auto', fontFamily: MONO, fontSize: 12, color: INK.quiet }}>
              {Math.round(view.zoom * 100)} %
            </output>
          </div>
          <div
            ref={panes}
            style={{ flex: 1, minHeight: 0, display: 'grid', gridTemplateColumns: `repeat(${count}, minmax(0, 1fr))` }}
          >
            <Pane
              name="Painted"
              head={<strong>Painted</strong>}
              what="painted"
              trial={trials[0]}
              cells={cells}
              tick={tick}
            />
            {trials.map((trial, t) => (
              <Pane
                key={trial.format}
                name={t === 0 ? 'Encoded' : `Beside it, ${FORMATS[trial.format].name}`}
                head={
                  t === 0 ? (
                    <>
                      <strong>Encoded</strong>
                      <div style={{ flex: 1, minWidth: 0 }}>
                        <Choice
                          label="as"
                          value={format}
                          options={TRIED.map((f) => ({
                            value: f,
                            label: FORMATS[f].name,
                            note: f === delivered ? 'as delivered' : undefined,
                          }))}
                          onChange={(next) =>
                            useProof.setState({ format: next, beside: next === beside ? null : beside })
                          }
                        />
                      </div>
                    </>
                  ) : (
                    <strong>{FORMATS[trial.format].name}</strong>
                  )
                }
                what="encoded"
                trial={trial}
                cells={cells}
                tick={tick}
              />
            ))}
            {onModel ? (
              <OnModel template={template} client={client} trial={trials[0]} />
            ) : (
              <Pane
                name="Difference"
                head={
                  <>
                    <strong>Difference</strong>
                    <div style={{ flex: 1, minWidth: 0 }}>
                      <Choice<Measure>
                        label="in"
                        value={measure}
                        options={[
                          { value: 'deltaE', label: 'CIEDE2000' },
                          { value: 'psnr', label: 'PSNR' },
                        ]}
                        onChange={(next) => useProof.setState({ measure: next })}
                      />
                    </div>
                  </>
                }
                foot={<Scale measure={measure} />}
                what={measure}
                trial={trials[0]}
                cells={cells}
                tick={tick}
              />
            )}
          </div>
          <Charts width={width} />
        </div>
        <FindingsColumn asDelivered={FORMATS[delivered].name} onShow={show} onFix={fix} said={said} />
      </main>
    </div>
  );
}

/** What the greys and colours of the difference mean. */
function Scale({ measure }: { measure: Measure }) {
  const { visible, worst, says } = SCALE[measure];
  const best = measure === 'deltaE' ? 0 : 54;
  const steps = Array.from({ length: 24 }, (_, i) => {
    const t = i / 23;
    return t < 0.5 ? best + (visible - best) * t * 2 : visible + (worst - visible) * (t - 0.5) * 2;
  });
  return (
    <div style={{ padding: '4px 8px', background: INK.panel, fontSize: 11, color: INK.quiet }}>
      <div aria-hidden style={{ display: 'flex', height: 6 }}>
        {steps.map((value, i) => (
          <span key={i} style={{ flex: 1, background: `rgb(${heat(value, measure).join(',')})` }} />
        ))}
      </div>
      <div style={{ display: 'flex', justifyContent: 'space-between' }}>
        {says.map((word) => (
          <span key={word}>{word}</span>
        ))}
      </div>
    </div>
  );
}

/** Steps that the server does not have are in what is proofed, and in no delivery. */
function NotSaved({ doc }: { doc: EaselDocument }) {
  const unsent = doc.use((s) => s.unsent);
  const trouble = doc.use((s) => s.trouble);
  if (!trouble || unsent === 0) return null;
  return (
    <div style={{ padding: 6 }}>
      <Notice level="warning">
        <strong>
          {unsent} {unsent === 1 ? 'step is' : 'steps are'} not saved yet.
        </strong>{' '}
        The proof shows {unsent === 1 ? 'it' : 'them'}; a delivery would lack {unsent === 1 ? 'it' : 'them'}. {trouble}
      </Notice>
    </div>
  );
}
