import { Button, LinearProgress } from '@mui/material';
import { useState, type MouseEvent } from 'react';
import { useParams } from 'react-router';
import { endingsOf } from '@wet-lacquer/core/kinds/index.ts';
import { editsOf, type ReturnedPlan } from '@wet-lacquer/core/layered/returned.ts';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { Row } from '../../parts/layout.tsx';
import { Quiet } from '../../parts/text.tsx';
import { sendFile, sentenceOf } from '../../lib/api.ts';
import { count } from '../../lib/words.ts';
import { FilePick } from '../../parts/FilePick.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { useEasel } from '../context.ts';

/** Out to another editor as a layered file, and back: what was painted on there becomes pixels, everything else stays what it is. */
export function OtherEditor({ sheet }: { sheet: TemplateSheet }) {
  const { id } = useParams();
  const { doc } = useEasel();
  const [busy, setBusy] = useState(false);
  const [said, setSaid] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const back = async (chosen: File) => {
    setBusy(true);
    setProblem(null);
    setSaid(null);
    try {
      const plan = await sendFile<ReturnedPlan>(`/liveries/${id}/sheets/${sheet.key}/layered`, chosen);
      const edits = editsOf(doc.use.getState().livery, sheet.key, plan);
      if (edits.length > 0) doc.commit({ do: 'together', edits }, `Bring back ${sheet.name}`);
      setSaid(sentence(plan));
    } catch (failure) {
      setProblem(`${chosen.name}: ${sentenceOf(failure)}`);
    } finally {
      setBusy(false);
    }
  };
  /** The file holds what the server has: the last stroke goes there first. */
  const out = (event: MouseEvent, as: 'psd' | 'ora') => {
    event.preventDefault();
    void takeOut(as);
  };
  const takeOut = async (as: 'psd' | 'ora') => {
    setProblem(null);
    const left = await doc.saved();
    if (left === 0) location.assign(`${where}/${as}`);
    else
      setProblem(
        `${count(left, 'step')} not saved yet: the file would lack ${left === 1 ? 'it' : 'them'}. Try again in a moment.`,
      );
  };
  const where = `/api/liveries/${id}/sheets/${sheet.key}/layered`;
  return (
    <>
      <Row align="stretch" gap={6} wrap>
        <Button component="a" href={`${where}/psd`} size="small" onClick={(event) => out(event, 'psd')}>
          Take out as PSD
        </Button>
        <Button component="a" href={`${where}/ora`} size="small" onClick={(event) => out(event, 'ora')}>
          As OpenRaster
        </Button>
        <FilePick
          size="small"
          disabled={busy}
          label="Layered file to bring back"
          accept={endingsOf('layered')}
          onFile={(chosen) => void back(chosen)}
        >
          Bring back
        </FilePick>
      </Row>
      {busy && <LinearProgress aria-label="Bringing back" />}
      {said && (
        <Quiet role="status" as="p">
          {said}
        </Quiet>
      )}
      {problem && <Notice level="error">{problem}</Notice>}
    </>
  );
}

/** "2 layers became pixels, 1 is new, 40 are as they were." */
function sentence({ same, settings, repainted, added, gone }: ReturnedPlan): string {
  const parts = [
    repainted.length > 0 ? `${count(repainted.length, 'layer')} became pixels` : '',
    settings.length > 0 ? `${count(settings.length, 'layer')} changed in settings` : '',
    added.length > 0 ? `${added.length} ${added.length === 1 ? 'is' : 'are'} new` : '',
    `${same - settings.length} ${same - settings.length === 1 ? 'is as it was' : 'are as they were'}`,
  ].filter(Boolean);
  const missing = gone.length > 0 ? ` Not in the file, and kept here: ${gone.join(', ')}.` : '';
  return `${parts.join(', ')}.${missing}`;
}
