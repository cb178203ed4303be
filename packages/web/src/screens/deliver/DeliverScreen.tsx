import { LinearProgress } from '@mui/material';
import { useEffect, useState } from 'react';
import useSWR from 'swr';
import { deliveredBy, fillIn } from '@wet-lacquer/core/livery/livery.ts';
import type { DeliveryCard, OpenLivery, PlanAnswer, PreflightAnswer } from '@wet-lacquer/sync/answers.ts';
import { Column } from '../../parts/layout.tsx';
import { Columns } from '../../parts/Columns.tsx';
import { useRouteParam } from '../../lib/useRouteParam.ts';
import { get, sentenceOf } from '../../lib/api.ts';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { liveryTabs } from '../../shell/Opening.tsx';
import { LiveryTrail } from '../../shell/LiveryTrail.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { INK } from '../../theme.ts';
import { useUnsent } from '../../easel/unsent.ts';
import { FileDetails } from './FileDetails.tsx';
import { FileTree } from './FileTree.tsx';
import { PendingTree } from './PendingTree.tsx';
import { PreflightColumn } from './PreflightColumn.tsx';
import { Run } from './Run.tsx';
import { SpecChoice } from './SpecChoice.tsx';
import { isUnderWay } from './underWay.ts';
import { UnsentBar } from './UnsentBar.tsx';
import { useNewestStep } from './useNewestStep.ts';

/** Preflight, what will be written, and the delivery itself. */
export function DeliverScreen() {
  const id = useRouteParam('id');
  const unsent = useUnsent(id);
  const [without, setWithout] = useState(false);
  const [overruled, setOverruled] = useState<ReadonlySet<string>>(new Set());
  // The last stroke first: nothing is looked at before the server has it, or cannot have it.
  const { data: open, mutate: reopen } = useSWR<OpenLivery>(unsent.state === 'sending' ? null : `/liveries/${id}`);
  const [asked, setAsked] = useState<string | null>(null);
  const keys = open ? deliveredBy(open.livery).map(({ key }) => key) : null;
  const {
    data: answers,
    error,
    mutate,
  } = useSWR(
    keys && ['preflight', id, open!.revision, ...keys],
    () =>
      Promise.all(
        keys!.map((key) =>
          get<PreflightAnswer>(
            `/liveries/${id}/preflight?${new URLSearchParams({ spec: key, revision: String(open!.revision) })}`,
          ),
        ),
      ),
    { keepPreviousData: true },
  );
  // What was asked for is shown at once, by its names alone, until it has been looked through.
  const known = !asked || answers?.some(({ spec }) => spec.key === asked);
  const { data: plan } = useSWR<PlanAnswer>(known ? null : `/liveries/${id}/plan?spec=${encodeURIComponent(asked)}`);
  const answer = answers?.find(({ spec }) => spec.key === asked) ?? answers?.[0];
  const { data: deliveries, mutate: look } = useSWR<DeliveryCard[]>(`/liveries/${id}/deliveries`, {
    refreshInterval: (all) => (all?.some(isUnderWay) ? 300 : 0),
  });
  const newest = deliveries?.find((delivery) => delivery.state === 'done')?.id;
  // A finished delivery changes what counts as new.
  useEffect(() => void mutate(), [newest, mutate]);
  const newestStep = useNewestStep(id, open?.revision ?? 0);
  // What this screen showed the last time is no longer so: nothing is delivered before the livery was looked at again, with all its steps.
  const [fresh, setFresh] = useState(false);
  useEffect(() => {
    if (unsent.state === 'sending') return;
    const looked = () => setFresh(true);
    void reopen().then(looked, looked);
  }, [unsent.state, reopen]);
  const overrule = (name: string, on: boolean) =>
    setOverruled((before) => new Set(on ? [...before, name] : [...before].filter((one) => one !== name)));
  const [chosen, setChosen] = useState<string | null>(null);
  const refresh = async () => {
    await Promise.all([reopen(), mutate(), look()]);
  };
  const name = open ? fillIn(open.livery.particulars.name ?? '', open.livery.particulars) : '';
  const file = answer?.files.find((f) => f.name === chosen) ?? answer?.files[0];
  return (
    <Column full>
      <TopBar
        trail={<LiveryTrail name={name}>{answer && `for ${answer.spec.gameName}`}</LiveryTrail>}
        tabs={liveryTabs(id)}
      />
      {error && !answer && (
        <Nothing title="Preflight could not be done">
          <Notice level="error">{sentenceOf(error)}</Notice>
        </Nothing>
      )}
      <UnsentBar unsent={unsent} revision={open?.revision ?? null} without={without} onWithout={setWithout} />
      {!answer && !error && (
        <LinearProgress
          aria-label={unsent.state === 'sending' ? 'Sending the last steps' : 'Looking the livery through'}
        />
      )}
      {answers && answer && open && (
        <Columns sizes={['340px', 'minmax(0, 1fr)', '330px']}>
          <PreflightColumn
            problem={error ? sentenceOf(error) : null}
            answer={answer}
            liveryId={id}
            onFixed={refresh}
            overruled={overruled}
            onOverrule={overrule}
            top={<SpecChoice answers={answers} shown={answer} livery={open} onShow={setAsked} onChange={refresh} />}
          />
          {!known && <PendingTree plan={plan} name={asked} />}
          <section
            aria-label="What will be written"
            hidden={!known}
            style={{
              display: known ? 'flex' : 'none',
              flexDirection: 'column',
              minHeight: 0,
              background: INK.room,
              borderLeft: `1px solid ${INK.line}`,
              borderRight: `1px solid ${INK.line}`,
            }}
          >
            <div style={{ flex: 1, overflowY: 'auto', padding: '14px 18px' }}>
              <FileTree
                answer={answer}
                chosen={file?.name ?? null}
                onChoose={setChosen}
                deliveries={deliveries ?? []}
                onRepeated={refresh}
              />
            </div>
            <Run
              answers={answers}
              shown={answer}
              liveryId={id}
              deliveries={deliveries ?? []}
              overruled={overruled}
              newest={newestStep}
              waits={unsent.state === 'stuck' && !without}
              looking={!fresh || answer.revision !== open.revision}
              onChange={refresh}
            />
          </section>
          {file && known && (
            <FileDetails
              file={file}
              against={answer.preflight.against[file.name]}
              liveryId={id}
              revision={answer.revision}
            />
          )}
        </Columns>
      )}
    </Column>
  );
}
