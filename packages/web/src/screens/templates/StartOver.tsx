import { Button } from '@mui/material';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import useSWR from 'swr';
import type { SkinMatch } from '@wet-lacquer/core/intake/matchSkin.ts';
import { baseOf, stemOf } from '@wet-lacquer/core/paths.ts';
import type { TemplateCard } from '@wet-lacquer/sync/answers.ts';
import { Stack } from '../../parts/layout.tsx';
import { Hidden, Quiet } from '../../parts/text.tsx';
import { get, send, sentenceOf } from '../../lib/api.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { INK } from '../../theme.ts';
import { SubjectChoice } from './SubjectChoice.tsx';

interface Props {
  intake: string;
  /** The subject that was chosen before the files were. */
  subject: string | null;
  /** Files are still being read. */
  waiting: boolean;
  /** Which files there are: with others, other ones fit. */
  files: string;
  onDiscard(): void;
}

interface Proposal {
  matches: SkinMatch[];
  files: { name: string; width: number; height: number }[];
}

const NONE = '-';

/** The files are a finished skin of a subject that is here: a livery begins over it. */
export function StartOver({ intake, subject, waiting, files, onDiscard }: Props) {
  const { data: templates = [] } = useSWR<TemplateCard[]>('/templates');
  const [chosen, setChosen] = useState(subject ?? '');
  const [name, setName] = useState<string | null>(null);
  const [settled, setSettled] = useState<Record<string, Partial<SkinMatch>>>({});
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const navigate = useNavigate();
  const card = templates.find(({ hash }) => hash === chosen);
  const { data } = useSWR(
    card && !waiting ? ([`/intakes/${intake}/over?template=${chosen}`, files] as const) : null,
    ([url]) => get<Proposal>(url),
  );
  const sheets = (data?.matches ?? []).map((match) => ({ ...match, ...settled[match.sheet] }));
  const used = sheets.filter(({ file }) => file !== null);
  const title = name ?? (used[0]?.file ? `${stemOf(used[0].file)} over` : '');
  const set = (sheet: string, values: Partial<SkinMatch>) =>
    setSettled((before) => ({ ...before, [sheet]: { ...before[sheet], ...values } }));
  const start = async () => {
    setProblem(null);
    setBusy(true);
    try {
      const { id } = await send<{ id: string }>('POST', `/intakes/${intake}/over`, {
        ...{ template: chosen, name: title },
        sheets: used.map(({ sheet, file, upsideDown }) => ({ sheet, file, upsideDown })),
      });
      await navigate(`/liveries/${id}`);
    } catch (failure) {
      setProblem(sentenceOf(failure));
      setBusy(false);
    }
  };
  const missing =
    chosen === '' ? 'the subject' : used.length === 0 ? 'a file on a sheet' : title.trim() === '' ? 'a name' : null;
  return (
    <Stack aria-label="A livery over a finished skin" as="section" gap={8}>
      <Quiet as="p">
        A finished skin of a subject that is here: you paint over it, and what nobody paints keeps its bytes. The files
        are kept with the livery, untouched.
      </Quiet>
      <SubjectChoice
        templates={templates}
        value={chosen}
        onChange={(hash) => {
          setChosen(hash);
          setSettled({});
        }}
      />
      {sheets.map(({ sheet, file, upsideDown, reason }) => {
        const size = card?.sheets.find(({ key }) => key === sheet);
        const fits = (data?.files ?? []).filter(({ width, height }) => width === size?.width && height === size.height);
        return (
          <fieldset
            key={sheet}
            style={{ border: 0, borderTop: `1px solid ${INK.line}`, margin: 0, padding: '8px 0 0' }}
          >
            <Hidden as="legend">{size?.name ?? sheet}</Hidden>
            <Choice
              label={size?.name ?? sheet}
              value={file ?? NONE}
              options={[
                { value: NONE, label: 'as the template begins' },
                ...fits.map((one) => ({ value: one.name, label: baseOf(one.name) })),
              ]}
              onChange={(one) => set(sheet, { file: one === NONE ? null : one })}
            />
            <p style={{ margin: '4px 0', fontSize: 12, color: INK.quiet }}>
              {file === null && fits.length > 0 ? 'Left as it is.' : `${size?.width} x ${size?.height}: ${reason}.`}
            </p>
            {file !== null && (
              <Tick
                label="Stored upside down by the game"
                checked={upsideDown}
                onChange={(turned) => set(sheet, { upsideDown: turned })}
              />
            )}
          </fieldset>
        );
      })}
      {chosen !== '' && <TextEntry label="name" value={title} maxLength={80} onCommit={setName} />}
      {problem && <Notice level="error">{problem}</Notice>}
      <Button
        variant="contained"
        color="primary"
        disabled={waiting || busy || missing !== null || !data}
        onClick={() => void start()}
      >
        {busy ? 'Starting' : waiting ? 'Still reading' : missing ? `Needs ${missing}` : 'Start the livery'}
      </Button>
      <Button onClick={onDiscard}>Let go of these files</Button>
    </Stack>
  );
}
