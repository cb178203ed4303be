import { Button, LinearProgress } from '@mui/material';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import useSWR from 'swr';
import { fillIn } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { OpenLivery, TemplateCard } from '@wet-lacquer/sync/answers.ts';
import { sentenceOf } from '../../lib/api.ts';
import { useRouteParam } from '../../lib/useRouteParam.ts';
import { Column } from '../../parts/layout.tsx';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { Heading, Quiet } from '../../parts/text.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { Trail } from '../../shell/Trail.tsx';
import { SubjectCard } from '../start/SubjectCard.tsx';
import { Onto } from './Onto.tsx';

/** A livery goes onto another model: which, how both lie over each other, what of it fits, and what became of each layer. */
export function OntoScreen() {
  const id = useRouteParam('id');
  const [search, setSearch] = useSearchParams();
  const to = search.get('to');
  const still = { revalidateOnFocus: false, shouldRetryOnError: false };
  const { data: open, error } = useSWR<OpenLivery>(`/liveries/${id}`, still);
  const { data: templates } = useSWR<TemplateCard[]>('/templates');
  const from = open?.livery.pins.template ?? null;
  const { data: old, error: noOld } = useSWR<Template>(from && `/templates/${from}`, still);
  const { data: now, error: noNow } = useSWR<Template>(to && `/templates/${to}`, still);
  const [chosen, setChosen] = useState<string | null>(null);
  const others = templates?.filter(({ hash }) => hash !== from);
  const pattern = open?.livery.particulars.name ?? '';
  const name = open ? fillIn(pattern, open.livery.particulars) : '';
  const failed = error ?? noOld ?? noNow;
  return (
    <Column full>
      <TopBar
        trail={
          <Trail to={`/liveries/${id}`} of={name || 'Livery'}>
            Onto another model
          </Trail>
        }
      />
      {failed && <Notice level="error">{sentenceOf(failed)}</Notice>}
      {!failed && to && open && old && now && (
        <Onto key={to} id={id} name={name} pattern={pattern} from={from!} to={to} old={old} now={now} />
      )}
      {!failed && to && !(open && old && now) && <LinearProgress aria-label="Reading the models" />}
      {!failed && !to && (
        <main style={{ flex: 1, overflow: 'auto', padding: '20px 24px' }}>
          <Heading as="h1" size={18}>
            Take {name || 'a livery'} onto another model
          </Heading>
          <Quiet as="p">
            A sister, last year’s model, another game’s version: what lies on a part goes to the same place of it. A new
            livery is made; this one stays as it is.
          </Quiet>
          {!others && <LinearProgress aria-label="Reading the subjects" />}
          {others?.length === 0 && (
            <Nothing title="There is no other subject">Bring in the model that it goes onto first.</Nothing>
          )}
          <div
            role="radiogroup"
            aria-label="Model"
            style={{
              display: 'grid',
              gridTemplateColumns: 'repeat(auto-fill, minmax(190px, 1fr))',
              gap: 12,
              margin: '16px 0',
            }}
          >
            {others?.map((template) => (
              <SubjectCard
                key={template.hash}
                template={template}
                on={template.hash === chosen}
                onChoose={() => setChosen(template.hash)}
              />
            ))}
          </div>
          <Button variant="contained" disabled={!chosen} onClick={() => chosen && setSearch({ to: chosen })}>
            Lay them over each other
          </Button>
        </main>
      )}
    </Column>
  );
}
