import { Button } from '@mui/material';
import type { FileRole } from '@wet-lacquer/core/intake/fileRoles.ts';
import type { Decisions } from '@wet-lacquer/core/intake/understood.ts';
import type { IntakeFile } from '../../lib/types.ts';
import { count } from '../../lib/words.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { INK } from '../../theme.ts';

export interface Draft extends Decisions {
  /** Roles that the painter gave to files. */
  files: Record<string, FileRole>;
}

interface Props {
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
const short = (name: string) => name.slice(name.lastIndexOf('/') + 1);

/** What the template will be: its name, its model, and which file goes on which sheet. */
export function MakeColumn({ files, draft, problem, busy, waiting, onSet, onMake, onDiscard }: Props) {
  const of = (kind: string) => files.filter((file) => file.understood?.kind === kind).map((file) => file.name);
  const pick = (names: readonly string[], none: string) => [
    { value: NONE, label: none },
    ...names.map((name) => ({ value: name, label: short(name) })),
  ];
  const models = of('model');
  const setSheet = (index: number, values: Partial<Draft['sheets'][number]>) =>
    onSet({ sheets: draft.sheets.map((sheet, i) => (i === index ? { ...sheet, ...values } : sheet)) });
  const missing =
    draft.name.trim() === ''
      ? 'a name'
      : draft.game.trim() === ''
        ? 'the game'
        : draft.sheets.length === 0
          ? 'a sheet'
          : null;
  return (
    <section
      aria-label="The template"
      style={{
        overflow: 'auto',
        background: INK.panel,
        borderLeft: `1px solid ${INK.line}`,
        padding: '12px 14px',
        display: 'flex',
        flexDirection: 'column',
        gap: 8,
      }}
    >
      <h2 style={{ fontSize: 13, margin: 0 }}>The template</h2>
      <TextEntry label="subject" value={draft.name} maxLength={80} onCommit={(name) => onSet({ name })} />
      <TextEntry label="game" value={draft.game} maxLength={80} onCommit={(game) => onSet({ game })} />
      <Choice
        label="model"
        value={draft.model ?? NONE}
        options={pick(models, 'none: flat boards')}
        onChange={(name) => onSet({ model: name === NONE ? null : name, sheets: undefined })}
      />
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
      <div style={{ flex: 1 }} />
      {problem && <Notice level="error">{problem}</Notice>}
      <p style={{ margin: 0, color: INK.quiet, fontSize: 12 }}>
        The delivery follows each original: its format, header, mips and name. The files themselves stay untouched.
      </p>
      <Button variant="contained" color="primary" disabled={busy || waiting || missing !== null} onClick={onMake}>
        {busy ? 'Making the template' : waiting ? 'Still reading' : missing ? `Needs ${missing}` : 'Make the template'}
      </Button>
      <Button onClick={onDiscard}>Let go of these files</Button>
    </section>
  );
}
