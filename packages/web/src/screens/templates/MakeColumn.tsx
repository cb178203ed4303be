import { Button } from '@mui/material';
import useSWR from 'swr';
import type { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { baseOf } from '@wet-lacquer/core/paths.ts';
import type { FileRole } from '@wet-lacquer/core/intake/fileRoles.ts';
import type { Decisions } from '@wet-lacquer/core/intake/understood.ts';
import type { IntakeFile, TemplateCard } from '../../lib/types.ts';
import { count } from '../../lib/words.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { INK } from '../../theme.ts';
import { Tick } from '../../easel/inspector/PlaceFields.tsx';
import { BesideList } from './BesideList.tsx';
import { StanceFields } from './StanceFields.tsx';

export interface Draft extends Decisions {
  /** Roles that the painter gave to files. */
  files: Record<string, FileRole>;
}

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

const NONE = '-';
/** Maps that a sheet can have beside its colour. */
export const MAPS = ['normal', 'packed', 'roughness', 'metal', 'occlusion', 'specular', 'height', 'mask', 'night'];

/** What the template will be: its name, its model, and which file goes on which sheet. */
export function MakeColumn({ intake, files, draft, problem, busy, waiting, onSet, onMake, onDiscard }: Props) {
  const { data: templates } = useSWR<TemplateCard[]>('/templates');
  const of = (kind: string) => files.filter((file) => file.understood?.kind === kind).map((file) => file.name);
  const pick = (names: readonly string[], none: string) => [
    { value: NONE, label: none },
    ...names.map((name) => ({ value: name, label: baseOf(name) })),
  ];
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
    <section aria-label="The template" style={{ display: 'flex', flexDirection: 'column', gap: 8, flex: 1 }}>
      <h2 style={{ fontSize: 13, margin: 0 }}>The template</h2>
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
        <fieldset
          key={sheet.material}
          style={{
            border: 0,
            borderTop: `1px solid ${INK.line}`,
            margin: 0,
            padding: '8px 0 0',
            display: 'grid',
            gap: 6,
          }}
        >
          <legend style={{ position: 'absolute', width: 1, height: 1, overflow: 'hidden' }}>{sheet.name}</legend>
          <TextEntry
            label="sheet"
            value={sheet.name}
            required
            maxLength={60}
            onCommit={(name) => setSheet(i, { name })}
          />
          <Choice
            label="original"
            value={sheet.colour ?? NONE}
            options={pick(of('texture'), 'none')}
            onChange={(name) => setSheet(i, { colour: name === NONE ? null : name })}
          />
          <Choice
            label="layered file"
            value={sheet.layered ?? NONE}
            options={pick(of('layered'), 'none')}
            onChange={(name) => setSheet(i, { layered: name === NONE ? null : name })}
          />
          {sheet.maps.map(({ map, file }, k) => (
            <Choice
              key={map}
              label={map}
              value={file}
              options={pick(of('texture'), 'none')}
              onChange={(name) =>
                setSheet(i, {
                  maps: name === NONE ? sheet.maps.toSpliced(k, 1) : sheet.maps.with(k, { map, file: name }),
                })
              }
            />
          ))}
          {sheet.maps.length < 7 && (
            <Choice
              label="another map"
              value={NONE}
              options={pick(
                MAPS.filter((map) => !sheet.maps.some((own) => own.map === map)),
                'none',
              )}
              onChange={(map) => {
                const file = of('texture').find((name) => name !== sheet.colour);
                if (map !== NONE && file) setSheet(i, { maps: [...sheet.maps, { map, file }] });
              }}
            />
          )}
          {sheet.followers.length > 0 && (
            <div style={{ display: 'grid', gap: 4, fontSize: 12 }}>
              <span style={{ color: INK.quiet }}>Carry the same art and follow it:</span>
              {sheet.followers.map((name) => (
                <div key={name} style={{ display: 'flex', gap: 6, alignItems: 'center' }}>
                  <span style={{ flex: 1, minWidth: 0, overflowWrap: 'anywhere' }}>{baseOf(name)}</span>
                  <Button
                    size="small"
                    aria-label={`${baseOf(name)} does not follow`}
                    onClick={() => setSheet(i, { followers: sheet.followers.filter((other) => other !== name) })}
                  >
                    No
                  </Button>
                </div>
              ))}
            </div>
          )}
          {sheet.colour && (
            <Choice
              label="follower"
              value={NONE}
              options={pick(
                of('texture').filter((name) => name !== sheet.colour && !sheet.followers.includes(name)),
                'another file that carries its art',
              )}
              onChange={(name) => name !== NONE && follow(i, name)}
            />
          )}
          {uvSets[sheet.material] && (
            <Choice
              label="UVs"
              value={String(draft.stance.uvSets[sheet.material] ?? uvSets[sheet.material].taken)}
              options={Array.from({ length: uvSets[sheet.material].sets }, (_, k) => ({
                value: String(k),
                label: `set ${k + 1} of ${uvSets[sheet.material].sets}`,
              }))}
              onChange={(set) => {
                const chosen = Object.fromEntries([sheet.material, ...sheet.also].map((one) => [one, Number(set)]));
                onSet({ stance: { ...draft.stance, uvSets: { ...draft.stance.uvSets, ...chosen } } });
              }}
            />
          )}
          {(sheet.colour || sheet.layered) && (
            <Tick
              label="Stored upside down by the game"
              checked={sheet.upsideDown}
              onChange={(upsideDown) => setSheet(i, { upsideDown })}
            />
          )}
          {!sheet.colour && !sheet.layered && (
            <Choice
              label="size"
              value={String(sheet.side)}
              options={[256, 512, 1024, 2048, 4096, 8192].map((side) => ({
                value: String(side),
                label: `${side} x ${side}`,
              }))}
              onChange={(side) => setSheet(i, { side: Number(side) })}
            />
          )}
          {draft.sheets.length > 1 && (
            <Button
              size="small"
              variant="text"
              sx={{ justifySelf: 'end' }}
              onClick={() => onSet({ sheets: draft.sheets.filter((_, k) => k !== i) })}
            >
              Leave {sheet.name} out
            </Button>
          )}
        </fieldset>
      ))}
      <BesideList files={files} decisions={draft} onCompanions={(companions) => onSet({ companions })} />
      <div style={{ flex: 1 }} />
      {problem && <Notice level="error">{problem}</Notice>}
      <p style={{ margin: 0, color: INK.quiet, fontSize: 12 }}>
        A delivery is the original with the paint in it: what nobody painted keeps its bytes, and names and folders
        stay. The files themselves stay untouched.
      </p>
      <Button variant="contained" color="primary" disabled={busy || waiting || missing !== null} onClick={onMake}>
        {busy ? 'Making the template' : waiting ? 'Still reading' : missing ? `Needs ${missing}` : 'Make the template'}
      </Button>
      <Button onClick={onDiscard}>Let go of these files</Button>
    </section>
  );
}
