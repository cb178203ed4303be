import { useEffect, useState } from 'react';
import useSWR from 'swr';
import type { PlanAnswer } from '@wet-lacquer/sync/answers.ts';
import { PlainList } from '../../parts/layout.tsx';
import { Heading, Mono, Quiet } from '../../parts/text.tsx';

/** Typing rests this long before the names are asked for again. */
const REST_MS = 200;
/** Shown until there is a name. */
const EXAMPLE = 'your name';

/** The files of a livery that is not there yet, as the game will get them. */
export function NamesToBe({ subject, name, team }: { subject: string; name: string; team: string }) {
  const [asked, setAsked] = useState({ name, team });
  useEffect(() => {
    const rest = setTimeout(() => setAsked({ name, team }), REST_MS);
    return () => clearTimeout(rest);
  }, [name, team]);
  const query = new URLSearchParams({ name: asked.name.trim() || EXAMPLE, team: asked.team });
  const { data } = useSWR<PlanAnswer>(`/templates/${subject}/plan?${query}`, { keepPreviousData: true });
  if (!data) return null;
  return (
    <section aria-label="Files to be">
      <Heading as="h2" size={13}>
        The files, as {data.spec.gameName} will get them
      </Heading>
      <div style={{ margin: '4px 0 6px', overflowWrap: 'anywhere' }}>
        {(data.package ?? data.folder) !== '' && (
          <>
            <Quiet>in </Quiet>
            <Mono small>{data.package ?? data.folder}</Mono>
          </>
        )}
      </div>
      <PlainList gap={2}>
        {data.files.map((file) => (
          <li key={file.name} style={{ overflowWrap: 'anywhere' }}>
            <Mono small>{file.name}</Mono>
          </li>
        ))}
      </PlainList>
      <div style={{ marginTop: 8 }}>
        <Quiet small>Only what you paint is delivered. All of this can change later.</Quiet>
      </div>
    </section>
  );
}
