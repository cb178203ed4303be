import { Button } from '@mui/material';
import useSWR from 'swr';
import type { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import type { IntakeFile, TemplateCard } from '@wet-lacquer/sync/answers.ts';
import { Column, Grow } from '../../parts/layout.tsx';
import { Heading, Quiet } from '../../parts/text.tsx';
import { count } from '../../lib/words.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { BesideList } from './BesideList.tsx';
import { DraftSheetFields } from './DraftSheetFields.tsx';
import { NONE, pick, type Draft } from './draft.ts';
import { StanceFields } from './StanceFields.tsx';

interface Props {
  intake: string;
  files: readonly IntakeFile[];
  draft: Draft;
  problem: string | null;
  /** The template is being made. */
  busy: boolean;
  /** Files are still being read. */
  waiting: boolean;
  onSet(values: Partial<Draft>): void;
  onMake(): void;
  onDiscard(): void;
}

/** What the template will be: its name, its model, and which file goes on which sheet. */
export function MakeColumn({ intake, files, draft, problem, busy, waiting, onSet, onMake, onDiscard }: Props) {
  const { data: templates } = useSWR<TemplateCard[]>('/templates');
  const of = (kind: string) => files.filter((file) => file.understood?.kind === kind).map((file) => file.name);
  const models = of('model');
  const model = files.find(({ name }) => name === draft.model);
  const uvSets = model?.understood?.kind === 'model' ? (model.understood.uvSets ?? {}) : {};
  const setSheet = (index: number, values: Partial<Draft['sheets'][number]>) =>
    onSet({ sheets: draft.sheets.map((sheet, i) => (i === index ? { ...sheet, ...values } : sheet)) });
  /** A file that follows a sheet is no sheet of its own. */
  const follow = (index: number, name: string) =>
    onSet({
      sheets: draft.sheets.flatMap((sheet, i) => {
        if (i === index) return [{ ...sheet, followers: [...sheet.followers, name] }];
        if (sheet.colour !== name) return [{ ...sheet, maps: sheet.maps.filter(({ file }) => file !== name) }];
        return sheet.layered ? [{ ...sheet, colour: null }] : [];
      }),
    });
  const missing =
    draft.name.trim() === ''
      ? 'a name'
      : draft.game.trim() === ''
        ? 'the game'
        : draft.sheets.length === 0
          ? 'a sheet'
          : null;
  return (
    <Column aria-label="The template" as="section" gap={8} grow>
      <Heading as="h2">The template</Heading>
      <TextEntry label="subject" value={draft.name} maxLength={80} onCommit={(name) => onSet({ name })} />
      <TextEntry label="game" value={draft.game} maxLength={80} onCommit={(game) => onSet({ game })} />
      {templates && templates.length > 0 && (
        <Choice
          label="replaces"
          value={draft.replaces ?? NONE}
          options={[
            { value: NONE, label: 'nothing: it is new' },
            ...templates.map(({ hash, name, gameName }) => ({ value: hash, label: `${name}, ${gameName}` })),
          ]}
          onChange={(hash) => onSet({ replaces: hash === NONE ? null : (hash as Sha256) })}
        />
      )}
      <Choice
        label="model"
        value={draft.model ?? NONE}
        options={pick(models, 'none: flat boards')}
        onChange={(name) =>
          onSet({ model: name === NONE ? null : name, sheets: undefined, stance: undefined } as Partial<Draft>)
        }
      />
      {model && (
        <StanceFields
          intake={intake}
          file={model}
          stance={draft.stance}
          onSet={(stance) => onSet({ stance: { ...draft.stance, ...stance } })}
        />
      )}
      <h3 style={{ fontSize: 13, margin: '8px 0 0' }}>{count(draft.sheets.length, 'sheet')}</h3>
      {draft.sheets.map((sheet, i) => (
        <DraftSheetFields
          key={sheet.material}
          sheet={sheet}
          textures={of('texture')}
          layered={of('layered')}
          uvSets={
            uvSets[sheet.material] && {
              sets: uvSets[sheet.material].sets,
              taken: draft.stance.uvSets[sheet.material] ?? uvSets[sheet.material].taken,
            }
          }
          onSheet={(values) => setSheet(i, values)}
          onFollow={(name) => follow(i, name)}
          onUvSets={(chosen) => onSet({ stance: { ...draft.stance, uvSets: { ...draft.stance.uvSets, ...chosen } } })}
          onLeaveOut={
            draft.sheets.length > 1 ? () => onSet({ sheets: draft.sheets.filter((_, k) => k !== i) }) : undefined
          }
        />
      ))}
      <BesideList files={files} decisions={draft} onCompanions={(companions) => onSet({ companions })} />
      <Grow />
      {problem && <Notice level="error">{problem}</Notice>}
      <Quiet as="p" small>
        A delivery is the original with the paint in it: what nobody painted keeps its bytes, and names and folders
        stay. The files themselves stay untouched.
      </Quiet>
      <Button variant="contained" color="primary" disabled={busy || waiting || missing !== null} onClick={onMake}>
        {busy ? 'Making the template' : waiting ? 'Still reading' : missing ? `Needs ${missing}` : 'Make the template'}
      </Button>
      <Button onClick={onDiscard}>Let go of these files</Button>
    </Column>
  );
}
