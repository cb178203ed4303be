import { Button } from '@mui/material';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import useSWR from 'swr';
import type { FileRole } from '@wet-lacquer/core/intake/fileRoles.ts';
import type { TemplateCard } from '@wet-lacquer/sync/answers.ts';
import { Stack } from '../../parts/layout.tsx';
import { Quiet } from '../../parts/text.tsx';
import { send, sentenceOf } from '../../lib/api.ts';
import { Notice } from '../../parts/Notice.tsx';
import { SubjectChoice } from './SubjectChoice.tsx';

interface Props {
  intake: string;
  /** Files are still being read. */
  waiting: boolean;
  /** Roles that the painter gave to files. */
  roles: Readonly<Record<string, FileRole>>;
  onDiscard(): void;
  /** The spec is there: now a livery over the files, of this subject. */
  onLivery(subject: string): void;
}

/** The files are a skin of a subject that is here: they become a delivery spec that makes its like. */
export function TakeSpec({ intake, waiting, roles, onDiscard, onLivery }: Props) {
  const { data: templates = [] } = useSWR<TemplateCard[]>('/templates');
  const [chosen, setChosen] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const navigate = useNavigate();
  const take = async (then: 'spec' | 'livery') => {
    setProblem(null);
    try {
      const made = await send<{ key: string; remarks: string[] }>('POST', `/intakes/${intake}/spec`, {
        template: chosen,
        roles,
      });
      if (then === 'livery') return onLivery(chosen);
      await navigate(`/specs/${made.key}`, { state: { remarks: made.remarks } });
    } catch (failure) {
      setProblem(sentenceOf(failure));
    }
  };
  return (
    <Stack aria-label="A delivery spec" as="section" gap={8}>
      <Quiet as="p">
        A finished skin of a subject that is here: its formats, names and tree become a spec that makes its like. What
        the files do not say is guessed, and marked until it is confirmed.
      </Quiet>
      <SubjectChoice templates={templates} value={chosen} onChange={setChosen} />
      {problem && <Notice level="error">{problem}</Notice>}
      <Button variant="contained" color="primary" disabled={waiting || chosen === ''} onClick={() => void take('spec')}>
        {waiting ? 'Still reading' : chosen === '' ? 'Needs the subject' : 'Take the spec from them'}
      </Button>
      <Button disabled={waiting || chosen === ''} onClick={() => void take('livery')}>
        Take it, and start a livery over them
      </Button>
      <Button onClick={onDiscard}>Let go of these files</Button>
    </Stack>
  );
}
