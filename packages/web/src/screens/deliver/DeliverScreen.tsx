import { LinearProgress } from '@mui/material';
import { useEffect, useState } from 'react';
import { Link, useParams } from 'react-router';
import useSWR from 'swr';
import { fillIn } from '@wet-lacquer/core/livery/livery.ts';
import { sentenceOf } from '../../lib/api.ts';
import type { DeliveryCard, OpenLivery, PreflightAnswer } from '../../lib/types.ts';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { liveryTabs } from '../../shell/Opening.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { INK } from '../../theme.ts';
import { FileDetails } from './FileDetails.tsx';
import { FileTree } from './FileTree.tsx';
import { PreflightColumn } from './PreflightColumn.tsx';
import { Run } from './Run.tsx';
import { SpecChoice } from './SpecChoice.tsx';
import { isUnderWay } from './underWay.ts';

/** Preflight, what will be written, and the delivery itself. */
export function DeliverScreen() {
  const { id } = useParams();
  const { data: open } = useSWR<OpenLivery>(`/liveries/${id}`);
  const {
    data: answer,
    error,
    mutate,
  } = useSWR<PreflightAnswer>(`/liveries/${id}/preflight`, { keepPreviousData: true });
  const { data: deliveries, mutate: look } = useSWR<DeliveryCard[]>(`/liveries/${id}/deliveries`, {
    refreshInterval: (all) => (all?.some(isUnderWay) ? 300 : 0),
  });
  const newest = deliveries?.find((delivery) => delivery.state === 'done')?.id;
  // A finished delivery changes what counts as new.
  useEffect(() => void mutate(), [newest, mutate]);
  const [chosen, setChosen] = useState<string | null>(null);
  const refresh = async () => {
    await Promise.all([mutate(), look()]);
  };
  const name = open ? fillIn(open.livery.particulars.name ?? '', open.livery.particulars) : '';
  const file = answer?.files.find((f) => f.name === chosen) ?? answer?.files[0];
  return (
    <div style={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
      <TopBar
        trail={
          <>
            <Link to="/" style={{ color: 'inherit', textDecoration: 'none' }}>
              Liveries
            </Link>{' '}
            / <span style={{ color: INK.text, fontWeight: 600 }}>{name}</span> {answer && `for ${answer.spec.gameName}`}
          </>
        }
        tabs={liveryTabs(id!)}
      />
      {error && !answer && (
        <Nothing title="Preflight could not be done">
          <Notice level="error">{sentenceOf(error)}</Notice>
        </Nothing>
      )}
      {!answer && !error && <LinearProgress aria-label="Looking the livery through" />}
      {answer && (
        <main style={{ flex: 1, minHeight: 0, display: 'grid', gridTemplateColumns: '340px minmax(0, 1fr) 330px' }}>
          <PreflightColumn
            answer={answer}
            liveryId={id!}
            onFixed={refresh}
            top={<SpecChoice answer={answer} livery={open} onChange={refresh} />}
          />
          <section
            aria-label="What will be written"
            style={{
              display: 'flex',
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
            <Run answer={answer} liveryId={id!} deliveries={deliveries ?? []} onChange={refresh} />
          </section>
          {file && <FileDetails file={file} liveryId={id!} />}
        </main>
      )}
    </div>
  );
}
