import { MenuItem, Select } from '@mui/material';
import { FILE_ROLES, type FileRole } from '@wet-lacquer/core/intake/fileRoles.ts';
import type { IntakeFile } from '@wet-lacquer/sync/answers.ts';
import { PlainList } from '../../parts/layout.tsx';
import { Mono } from '../../parts/text.tsx';
import { count } from '../../lib/words.ts';
import { CONDENSED, INK, MONO } from '../../theme.ts';
import { AlertCircleOutline } from '../../parts/icons.tsx';

interface Props {
  files: readonly IntakeFile[];
  chosen: string | null;
  /** Roles that the painter gave. */
  roles: Readonly<Record<string, FileRole>>;
  onChoose(name: string): void;
  onRole(name: string, role: FileRole): void;
}

/** Every file with its picture, what it was taken for, and why. */
export function FilesColumn({ files, chosen, roles, onChoose, onRole }: Props) {
  return (
    <section
      aria-label="Files"
      style={{ overflow: 'auto', background: INK.panel, borderRight: `1px solid ${INK.line}` }}
    >
      <h2 style={{ fontSize: 13, margin: 0, padding: '12px 14px 6px' }}>{count(files.length, 'file')}</h2>
      <PlainList>
        {files.map((file) => (
          <li
            key={file.name}
            style={{
              display: 'flex',
              gap: 10,
              padding: '8px 14px',
              background: file.name === chosen ? INK.raised : undefined,
              borderTop: `1px solid ${file.name === chosen ? INK.edge : 'transparent'}`,
            }}
          >
            <button
              type="button"
              aria-pressed={file.name === chosen}
              aria-label={`Look at ${file.name}`}
              onClick={() => onChoose(file.name)}
              style={{
                border: 0,
                padding: 0,
                background: INK.room,
                width: 56,
                height: 56,
                flex: 'none',
                cursor: 'pointer',
                color: INK.quiet,
                font: `600 12px ${CONDENSED}`,
              }}
            >
              {file.preview ? (
                <img
                  src={`/api/blobs/${file.preview}`}
                  alt=""
                  style={{ width: 56, height: 56, objectFit: 'contain', display: 'block' }}
                />
              ) : file.state === 'failed' ? (
                <AlertCircleOutline sx={{ color: INK.red }} />
              ) : (
                WHAT[file.understood?.kind ?? 'waiting']
              )}
            </button>
            {/* The picture is the button; the words beside it are a larger target for the pointer. */}
            <div style={{ minWidth: 0, flex: 1, cursor: 'pointer' }} onClick={() => onChoose(file.name)}>
              <div style={{ fontFamily: MONO, fontSize: 12, overflowWrap: 'anywhere' }}>{file.name}</div>
              <About file={file} role={roles[file.name]} onRole={(role) => onRole(file.name, role)} />
            </div>
          </li>
        ))}
      </PlainList>
    </section>
  );
}

const WHAT = { texture: 'texture', layered: 'layered', model: 'model', other: 'other', waiting: '...' } as const;

function About({ file, role, onRole }: { file: IntakeFile; role?: FileRole; onRole(role: FileRole): void }) {
  const quiet = { color: INK.quiet, fontSize: 12 };
  if (file.state === 'failed') return <div style={{ color: INK.red, fontSize: 12 }}>{file.error}</div>;
  const { understood, guess } = file;
  if (!understood)
    return (
      <div style={quiet}>{file.state === 'reading' ? `reading, ${Math.round(file.progress * 100)} %` : 'waiting'}</div>
    );
  if (understood.kind === 'layered')
    return <div style={quiet}>layered file, {count(understood.layers.length, 'layer')}</div>;
  if (understood.kind === 'model') return <div style={quiet}>model, {count(understood.triangles, 'triangle')}</div>;
  if (understood.kind === 'other' || !guess)
    return <div style={quiet}>{understood.kind === 'other' ? understood.what : ''}</div>;
  return (
    <>
      <Select
        variant="standard"
        disableUnderline
        value={role ?? guess.role}
        onChange={(event) => onRole(event.target.value)}
        inputProps={{ 'aria-label': `What ${file.name} is` }}
        sx={{
          fontSize: 13,
          minHeight: 24,
          border: `1px solid ${INK.edge}`,
          borderRadius: '2px',
          '& .MuiSelect-select': { padding: '1px 24px 1px 6px !important' },
        }}
      >
        {FILE_ROLES.map((option) => (
          <MenuItem key={option} value={option}>
            {option}
          </MenuItem>
        ))}
      </Select>
      <div style={quiet}>
        {role && role !== guess.role ? `You said so; it was taken for ${guess.role}.` : guess.reason}
      </div>
      {guess.copy && (
        <div style={quiet}>
          {COPY[guess.copy.kind]} <Mono>{guess.copy.of}</Mono>
        </div>
      )}
    </>
  );
}

const COPY = {
  same: 'The same art as',
  size: 'A smaller copy of',
  mirror: 'A mirror copy of',
  light: 'In another light:',
} as const;
