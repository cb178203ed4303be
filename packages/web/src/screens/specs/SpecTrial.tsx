import { useEffect, useState } from 'react';
import useSWR from 'swr';
import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import type { LiveryCard } from '@wet-lacquer/sync/answers.ts';
import { Quiet } from '../../parts/text.tsx';
import { send, sentenceOf } from '../../lib/api.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { INK, MONO } from '../../theme.ts';

interface Trial {
  folder: string;
  package: string | null;
  files: { name: string; leftOut: string | null; problems: string[] }[];
}

/** Names as a livery's delivery would have them, by the spec as it is written now. */
export function SpecTrial({ spec }: { spec: DeliverySpec }) {
  const { data: liveries } = useSWR<LiveryCard[]>('/liveries');
  const [chosen, setChosen] = useState<string | null>(null);
  const [trial, setTrial] = useState<Trial | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const id = chosen ?? liveries?.find((one) => one.game === spec.gameName)?.id ?? liveries?.[0]?.id;
  useEffect(() => {
    if (!id) return;
    let wanted = true;
    const wait = setTimeout(() => {
      send<Trial>('POST', '/specs/trial', { spec, livery: id })
        .then((answer) => {
          if (!wanted) return;
          setTrial(answer);
          setProblem(null);
        })
        .catch((error: unknown) => wanted && setProblem(sentenceOf(error)));
    }, 250);
    return () => {
      wanted = false;
      clearTimeout(wait);
    };
  }, [spec, id]);
  if (!liveries || liveries.length === 0 || !id) return null;
  const written = trial?.files.filter((file) => file.leftOut === null) ?? [];
  return (
    <section aria-label="As it would be" style={{ borderTop: `1px solid ${INK.line}`, paddingTop: 10, marginTop: 12 }}>
      <Choice
        label="as it would be for"
        value={id}
        options={liveries.map((one) => ({ value: one.id, label: one.name, note: one.game }))}
        onChange={setChosen}
      />
      {problem && <Notice level="error">{problem}</Notice>}
      {trial && !problem && (
        <ul style={{ fontFamily: MONO, fontSize: 12, margin: '8px 0 0', padding: 0, listStyle: 'none' }}>
          {trial.package && <li>{trial.package}</li>}
          {written.map((file) => (
            <li key={file.name} style={{ overflowWrap: 'anywhere', paddingLeft: trial.package ? 14 : 0 }}>
              <Quiet>{trial.folder}</Quiet>
              {file.name}
              {file.problems.map((one) => (
                <div key={one} style={{ color: INK.amber, fontFamily: 'inherit' }}>
                  {one}
                </div>
              ))}
            </li>
          ))}
          {written.length === 0 && <Quiet as="li">Nothing of this livery fits these rules.</Quiet>}
        </ul>
      )}
    </section>
  );
}
