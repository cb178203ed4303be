import { LinearProgress } from '@mui/material';
import useSWR from 'swr';
import { fillIn } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { KeptTexts, OpenLivery } from '@wet-lacquer/sync/answers.ts';
import { Column } from '../../../parts/layout.tsx';
import { useRouteParam } from '../../../lib/useRouteParam.ts';
import { sentenceOf } from '../../../lib/api.ts';
import { Nothing, Notice } from '../../../parts/Notice.tsx';
import { liveryTabs } from '../../../shell/Opening.tsx';
import { LiveryTrail } from '../../../shell/LiveryTrail.tsx';
import { TopBar } from '../../../shell/TopBar.tsx';
import { NewNameForm } from './NewNameForm.tsx';

/** A skin put out under a new name: which words and paths become what, in which files, with every line that changes. */
export function NewNameScreen() {
  const id = useRouteParam('id');
  const stay = { revalidateOnFocus: false };
  const { data: open, error } = useSWR<OpenLivery>(`/liveries/${id}`, stay);
  const pins = open?.livery.pins;
  const { data: template, error: noTemplate } = useSWR<Template>(pins && `/templates/${pins.template}`, stay);
  const spec = open?.spec;
  const { data: kept, error: noTexts } = useSWR<KeptTexts>(pins && `/templates/${pins.template}/texts`, stay);
  const failure: unknown =
    error ?? noTemplate ?? noTexts ?? (spec === null ? new Error('Its delivery spec is not here.') : undefined);
  return (
    <Column full>
      <TopBar
        trail={
          <LiveryTrail name={open && fillIn(open.livery.particulars.name ?? '', open.livery.particulars)}>
            under a new name
          </LiveryTrail>
        }
        tabs={liveryTabs(id)}
      />
      {failure !== undefined && (
        <Nothing title="This could not be opened">
          <Notice level="error">{sentenceOf(failure)}</Notice>
        </Nothing>
      )}
      {!failure && !(open && template && spec && kept) && <LinearProgress aria-label="Reading the texts" />}
      {open && template && spec && kept && <NewNameForm open={open} template={template} spec={spec} kept={kept} />}
    </Column>
  );
}
