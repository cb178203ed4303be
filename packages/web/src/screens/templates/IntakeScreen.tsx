import { Button, LinearProgress } from '@mui/material';
import { useMemo, useState } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import useSWR from 'swr';
import { capital } from '@wet-lacquer/core/capital.ts';
import { proposeSheets } from '@wet-lacquer/core/intake/settle.ts';
import type { Decisions } from '@wet-lacquer/core/intake/understood.ts';
import type { Intake, IntakeFile } from '@wet-lacquer/sync/answers.ts';
import { Column, Stack } from '../../parts/layout.tsx';
import { useRouteParam } from '../../lib/useRouteParam.ts';
import { send, sentenceOf } from '../../lib/api.ts';
import { count } from '../../lib/words.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { INK } from '../../theme.ts';
import { sendAll, stopSending, useSending } from './bring.ts';
import { BringIn } from './BringIn.tsx';
import { FileLook } from './FileLook.tsx';
import { FilesColumn } from './FilesColumn.tsx';
import type { Draft } from './draft.ts';
import { MakeColumn } from './MakeColumn.tsx';
import { StartOver } from './StartOver.tsx';
import { TakeSpec } from './TakeSpec.tsx';
import { Trail } from './Trail.tsx';
import { Hidden } from '../../parts/text.tsx';

/** What the files become. */
type Want = 'template' | 'livery' | 'spec';

const POLL_MS = 600;
const busy = (files: readonly IntakeFile[]) =>
  files.some((file) => file.state === 'waiting' || file.state === 'reading');

/** What was brought, what was understood of it, and what is to be made of it. */
export function IntakeScreen() {
  const id = useRouteParam('id');
  const navigate = useNavigate();
  const sending = useSending();
  const mine = sending.intake === id;
  const { data, error } = useSWR<Intake>(`/intakes/${id}`, {
    refreshInterval: (now) => (now && !busy(now.files) && !(mine && sending.done < sending.of) ? 0 : POLL_MS),
  });
  const [looked, setLooked] = useState<string | null>(null);
  const [draft, setDraft] = useState<Partial<Draft>>({});
  const [problem, setProblem] = useState<string | null>(null);
  const asked = useLocation().state as { want?: Want; subject?: string } | null;
  const [want, setWant] = useState<Want>(asked?.want ?? 'template');
  const [subject, setSubject] = useState(asked?.subject ?? null);
  const [making, setMaking] = useState(false);
  const files = useMemo(() => data?.files ?? [], [data]);
  const models = files.filter((file) => file.understood?.kind === 'model');
  const model = draft.model === undefined ? (models[0]?.name ?? null) : draft.model;
  const proposed = useMemo(() => {
    const chosen = files.find((file) => file.name === model)?.understood;
    const withRoles = files.map((file) => {
      const role = draft.files?.[file.name];
      return role && file.guess ? { ...file, guess: { ...file.guess, role } } : file;
    });
    return proposeSheets(withRoles, chosen?.kind === 'model' ? { ...chosen, name: model! } : null);
  }, [files, model, draft.files]);

  if (error && !data)
    return (
      <div style={{ height: '100%' }}>
        <TopBar trail="Templates" />
        <Nothing title="These files are not here">
          <p>{sentenceOf(error)}</p>
          <Link to="/templates" style={{ color: INK.text }}>
            Templates
          </Link>
        </Nothing>
      </div>
    );

  const settled: Draft = {
    name: draft.name ?? (data ? plain(data.name) : ''),
    game: draft.game ?? '',
    model,
    stance: draft.stance ?? stanceOf(files.find((file) => file.name === model)),
    sheets: draft.sheets ?? proposed,
    roles: draft.roles ?? {},
    companions: draft.companions ?? [],
    replaces: draft.replaces ?? null,
    files: draft.files ?? {},
  };
  const set = (values: Partial<Draft>) => setDraft((before) => ({ ...before, ...values }));
  const setRole = (file: string, layer: number, role: Decisions['roles'][string][string]) =>
    set({ roles: { ...settled.roles, [file]: { ...settled.roles[file], [layer]: role } } });
  const make = async () => {
    setMaking(true);
    setProblem(null);
    try {
      const { files: _files, ...decisions } = settled;
      const made = await send<{ hash: string; remarks: string[] }>('POST', `/intakes/${id}/template`, decisions);
      await navigate(`/templates/${made.hash}`, { state: { remarks: made.remarks } });
    } catch (failure) {
      setProblem(sentenceOf(failure));
      setMaking(false);
    }
  };
  const discard = async () => {
    stopSending();
    await send('DELETE', `/intakes/${id}`).catch(() => null);
    await navigate('/templates');
  };
  const shown = files.find((file) => file.name === looked) ?? files.find((file) => file.preview) ?? files[0];
  const read = files.filter((file) => file.state === 'read' || file.state === 'failed').length;
  return (
    <Column full>
      <TopBar trail={<Trail here={data?.name ?? 'files'} />} />
      {(busy(files) || (mine && sending.done < sending.of)) && (
        <div
          role="status"
          style={{ padding: '6px 16px', background: INK.raised, display: 'flex', gap: 12, alignItems: 'center' }}
        >
          <span style={{ whiteSpace: 'nowrap' }}>
            {mine && sending.done < sending.of
              ? `Sent ${sending.done} of ${count(sending.of, 'file')}`
              : `Read ${read} of ${count(files.length, 'file')}`}
          </span>
          <LinearProgress
            variant="determinate"
            value={
              (100 * (read + files.reduce((sum, f) => sum + (f.state === 'reading' ? f.progress : 0), 0))) /
              Math.max(1, files.length, mine ? sending.of : 0)
            }
            sx={{ flex: 1 }}
          />
          <Button onClick={() => void discard()}>Let go of them</Button>
        </div>
      )}
      {mine && sending.refused.length > 0 && (
        <div style={{ padding: '6px 16px' }}>
          <Notice level="error">{sending.refused.join(' ')}</Notice>
        </div>
      )}
      <Stack as="main" columns="340px 1fr 300px" grow shrink>
        <Hidden as="h1">{data?.name ?? 'Files'}</Hidden>
        <FilesColumn
          files={files}
          chosen={shown?.name ?? null}
          roles={settled.files}
          onChoose={setLooked}
          onRole={(name, role) => set({ files: { ...settled.files, [name]: role } })}
        />
        <section aria-label="The chosen file" style={{ overflow: 'auto', padding: '12px 16px' }}>
          {shown ? (
            <FileLook
              file={shown}
              roles={settled.roles[shown.name] ?? {}}
              onRole={(layer, role) => setRole(shown.name, layer, role)}
            />
          ) : (
            <Nothing title={data ? 'Nothing here yet' : 'Reading'}>
              Bring in a model, textures or layered files.
            </Nothing>
          )}
          <div style={{ marginTop: 16 }}>
            <BringIn onFiles={(more) => sendAll(id, more)}>Something missing? Drop it here.</BringIn>
          </div>
        </section>
        <aside
          aria-label="What becomes of them"
          style={{
            overflow: 'auto',
            background: INK.panel,
            borderLeft: `1px solid ${INK.line}`,
            padding: '12px 14px',
            display: 'flex',
            flexDirection: 'column',
            gap: 12,
          }}
        >
          <Choice<Want>
            label="becomes"
            value={want}
            options={[
              { value: 'template', label: 'a template to paint' },
              { value: 'livery', label: 'a livery over a finished skin' },
              { value: 'spec', label: 'a delivery spec' },
            ]}
            onChange={(next) => setWant(next)}
          />
          {want === 'livery' ? (
            <StartOver
              intake={id}
              key={subject}
              subject={subject}
              waiting={busy(files)}
              files={files.map(({ name, state }) => `${name} ${state}`).join('\n')}
              onDiscard={() => void discard()}
            />
          ) : want === 'spec' ? (
            <TakeSpec
              intake={id}
              waiting={busy(files)}
              roles={settled.files}
              onDiscard={() => void discard()}
              onLivery={(of) => {
                setSubject(of);
                setWant('livery');
              }}
            />
          ) : (
            <MakeColumn
              intake={id}
              files={files}
              draft={settled}
              problem={problem}
              busy={making}
              waiting={busy(files)}
              onSet={set}
              onMake={() => void make()}
              onDiscard={() => void discard()}
            />
          )}
        </aside>
      </Stack>
    </Column>
  );
}

/** A model as it is taken when nothing is said. */
function stanceOf(file: IntakeFile | undefined): Decisions['stance'] {
  const up = file?.understood?.kind === 'model' ? file.understood.up?.up : undefined;
  return { up: up ?? 'y', unit: 1, mirrored: false, divide: true, uvSets: {} };
}

/** "wharf-pack.zip" to "Wharf pack". */
function plain(name: string): string {
  const words = name
    .replace(/\.[a-z0-9]{2,5}$/i, '')
    .replace(/[_-]+/g, ' ')
    .trim();
  return capital(words);
}
