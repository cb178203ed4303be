import { Button } from '@mui/material';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import useSWR from 'swr';
import { newSheet } from '@wet-lacquer/core/livery/newLivery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { NewerTemplate as Newer } from '@wet-lacquer/sync/answers.ts';
import { get, sentenceOf } from '../lib/api.ts';
import { useRouteParam } from '../lib/useRouteParam.ts';
import { count } from '../lib/words.ts';
import { Notice } from '../parts/Notice.tsx';
import { useEasel, useLivery } from './context.ts';

/** Says that the game's template has a newer version and what it changes; the livery takes it over only when told to. */
export function NewerTemplate() {
  const { doc } = useEasel();
  const id = useRouteParam('id');
  const livery = useLivery();
  const pinned = livery.pins.template;
  const [opened] = useState(pinned);
  const [later, setLater] = useState(false);
  const [listed, setListed] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const { data: newer } = useSWR<Newer | null>(`/templates/${pinned}/newer`, { revalidateOnFocus: false });
  const saving = doc.use((s) => s.saving);
  // Everything here was opened for one version; the page opens anew for another, whoever took it over or back.
  useEffect(() => {
    if (pinned !== opened && saving === 'saved') location.reload();
  }, [pinned, opened, saving]);
  if (!newer || later) return null;
  const take = async () => {
    try {
      const template = await get<Template>(`/templates/${newer.hash}`);
      const sheets = template.sheets.map((sheet) => newSheet(template, sheet));
      doc.commit(
        { do: 'take-template', template: newer.hash, spec: newer.spec, sheets },
        'Take the newer template over',
      );
    } catch (failure) {
      setProblem(sentenceOf(failure));
    }
  };
  return (
    <div style={{ padding: '6px 12px' }}>
      <Notice
        level={problem ? 'error' : 'warning'}
        action={
          <>
            <Button size="small" aria-expanded={listed} onClick={() => setListed(!listed)}>
              {count(newer.differences.length, 'difference')}
            </Button>
            <Button size="small" onClick={() => void take()}>
              Take it over
            </Button>
            <Button
              size="small"
              component={Link}
              to={`/liveries/${id}/onto?to=${newer.hash}`}
              title="Where islands moved: as a livery of its own, each layer at its place on the model"
            >
              By position
            </Button>
            <Button size="small" onClick={() => setLater(true)}>
              Later
            </Button>
          </>
        }
      >
        {problem ?? 'The template of this livery has a newer version.'}
        {listed && (
          <ul style={{ margin: '4px 0 0', paddingLeft: 16, maxHeight: 160, overflow: 'auto' }}>
            {newer.differences.map(({ text, means }) => (
              <li key={text}>
                {text} {means}
              </li>
            ))}
          </ul>
        )}
      </Notice>
    </div>
  );
}
