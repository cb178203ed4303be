import { useEffect, useMemo, useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { specFor } from '@wet-lacquer/core/delivery/specs.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { fileFor } from '@wet-lacquer/core/livery/spec.ts';
import { fillIn } from '@wet-lacquer/core/livery/livery.ts';
import { sheetNamed, type Template } from '@wet-lacquer/core/livery/template.ts';
import { FORMATS, TRIED, type FormatKey } from '@wet-lacquer/core/texture/formats/index.ts';
import type { OpenLivery } from '@wet-lacquer/sync/answers.ts';
import { Columns } from '../../parts/Columns.tsx';
import { Column, Grow, Stack } from '../../parts/layout.tsx';
import { useNarrow } from '../../lib/useNarrow.ts';
import { noteLooked } from '../../lib/looked.ts';
import { useRouteParam } from '../../lib/useRouteParam.ts';
import { openDocument, type EaselDocument } from '../../easel/document.ts';
import { withSpec } from '../../lib/specs.ts';
import { get } from '../../lib/api.ts';
import { useOpened } from '../../lib/useOpened.ts';
import { Choice } from '../../parts/Choice.tsx';
import { liveryTabs, Opening } from '../../shell/Opening.tsx';
import { LiveryTrail } from '../../shell/LiveryTrail.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import type { ProofNews } from '../../workers/proofMessages.ts';
import { WorkerClient } from '../../workers/workerClient.ts';
import { Cells, type ProofClient } from './cells.ts';
import { Charts } from './Charts.tsx';
import { FindingsColumn } from './FindingsColumn.tsx';
import { Ladder } from './Ladder.tsx';
import { OnModel } from './OnModel.tsx';
import { NotSaved } from './NotSaved.tsx';
import { Pane } from './Pane.tsx';
import { ProofBar } from './ProofBar.tsx';
import { trialsOf, useProof, type Measure } from './proofState.ts';
import { Scale } from './Scale.tsx';
import { useAsked, usePanes, useRemedies } from './useProofing.ts';
import { Hidden } from '../../parts/text.tsx';

/** Formats that a painter may try; those of one or two channels are for maps of data, and the proof is of the colour. */
const tried = (format: FormatKey): FormatKey => TRIED.find((key) => key === format) ?? 'bc7';

function deliveredAs(livery: Livery, template: Template, sheet: string): FormatKey {
  const spec = specFor(livery, template);
  return (fileFor(spec, sheet) ?? spec.files[0]).format;
}

interface Opened {
  id: string;
  doc: EaselDocument;
  template: Template;
  client: ProofClient;
}

/** Painted against encoded, level by level, before anything is delivered. */
export function ProofScreen() {
  const id = useRouteParam('id');
  const [attempt, setAttempt] = useState(0);
  useEffect(() => noteLooked('proof', id), [id]);
  return <Open key={`${id} ${attempt}`} id={id} onRetry={() => setAttempt(attempt + 1)} />;
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
  const { sheet, format, effort, beside, measure, onModel, asStored } = useProof(
    useShallow(({ sheet, format, effort, beside, measure, onModel, asStored }) => ({
      sheet,
      format,
      effort,
      beside,
      measure,
      onModel,
      asStored,
    })),
  );
  const narrow = useNarrow();
  const [tick, setTick] = useState(0);
  const cells = useMemo(() => new Cells(client, () => setTick((n) => n + 1)), [client]);
  const trials = useMemo(() => trialsOf({ format, effort, beside }), [format, effort, beside]);
  const delivered = deliveredAs(livery, template, sheet);
  const flipped = fileFor(specFor(livery, template), sheet)?.flip ?? false;
  const turned = flipped && !asStored;
  const count = trials.length + 2;
  useAsked(client, livery, trials);
  const [panes, width] = usePanes(count, sheetNamed(template, sheet));
  const { show, fix, said } = useRemedies(doc, client);
  const name = fillIn(livery.particulars.name ?? '', livery.particulars);
  return (
    <Column full>
      <TopBar trail={<LiveryTrail name={name} />} tabs={liveryTabs(id)} />
      <NotSaved doc={doc} />
      <Columns sizes={['auto', 'minmax(0, 1fr)', 'auto']}>
        <Hidden as="h1">Proof of {name}</Hidden>
        <Ladder />
        <div style={{ display: 'flex', flexDirection: 'column', minWidth: 0, minHeight: narrow ? 620 : 0 }}>
          <ProofBar template={template} flipped={flipped} />
          <Stack ref={panes} columns={`repeat(${count}, minmax(0, 1fr))`} grow shrink>
            <Pane
              name="Painted"
              head={<strong>Painted</strong>}
              what="painted"
              trial={trials[0]}
              cells={cells}
              turned={turned}
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
                      <Grow shrink>
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
                      </Grow>
                    </>
                  ) : (
                    <strong>{FORMATS[trial.format].name}</strong>
                  )
                }
                what="encoded"
                trial={trial}
                cells={cells}
                turned={turned}
                tick={tick}
              />
            ))}
            {onModel ? (
              <OnModel template={template} plates={livery.plates} client={client} trial={trials[0]} />
            ) : (
              <Pane
                name="Difference"
                head={
                  <>
                    <strong>Difference</strong>
                    <Grow shrink>
                      <Choice<Measure>
                        label="in"
                        value={measure}
                        options={[
                          { value: 'deltaE', label: 'CIEDE2000' },
                          { value: 'psnr', label: 'PSNR' },
                        ]}
                        onChange={(next) => useProof.setState({ measure: next })}
                      />
                    </Grow>
                  </>
                }
                foot={<Scale measure={measure} />}
                what={measure}
                trial={trials[0]}
                cells={cells}
                turned={turned}
                tick={tick}
              />
            )}
          </Stack>
          <Charts width={width} />
        </div>
        <FindingsColumn asDelivered={FORMATS[delivered].name} onShow={show} onFix={fix} said={said} />
      </Columns>
    </Column>
  );
}
