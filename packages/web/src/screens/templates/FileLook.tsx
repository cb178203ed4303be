import { MenuItem, Select } from '@mui/material';
import { useState } from 'react';
import type { Decisions, LayeredFacts } from '@wet-lacquer/core/intake/understood.ts';
import type { IntakeFile } from '@wet-lacquer/sync/answers.ts';
import { Quiet } from '../../parts/text.tsx';
import { count, size } from '../../lib/words.ts';
import { Notice } from '../../parts/Notice.tsx';
import { LayoutNotes } from '../../parts/LayoutNotes.tsx';
import { INK, MONO } from '../../theme.ts';

type Roles = Decisions['roles'][string];
type Role = Roles[string];

/** One file: its picture, the facts, and for a layered one what each layer is taken for. */
export function FileLook({
  file,
  roles,
  onRole,
}: {
  file: IntakeFile;
  roles: Roles;
  onRole(layer: number, role: Role): void;
}) {
  const [difference, setDifference] = useState(false);
  const picture = difference && file.difference ? file.difference : file.preview;
  const { understood } = file;
  return (
    <>
      <h2 style={{ fontFamily: MONO, fontSize: 13, fontWeight: 400, margin: '0 0 8px', overflowWrap: 'anywhere' }}>
        {file.name}
      </h2>
      {file.error && <Notice level="error">{file.error}</Notice>}
      {picture && (
        <img
          src={`/api/blobs/${picture}`}
          alt={difference ? 'Where our picture differs from the file’s own' : 'What it looks like'}
          style={{
            maxWidth: '100%',
            maxHeight: 300,
            display: 'block',
            background: 'repeating-conic-gradient(#6a6a6a 0 25%, #777 0 50%) 0 0 / 16px 16px',
          }}
        />
      )}
      {understood && <Facts of={factsOf(file)} />}
      {understood?.kind === 'layered' && understood.agreement && (
        <p style={{ margin: '6px 0' }}>
          {understood.agreement.apart === 0
            ? 'Our picture of it is the file’s own.'
            : `Our picture of it is ${understood.agreement.psnr.toFixed(1)} dB from the file’s own; ${share(understood.agreement.apart)} of the texels differ visibly.`}{' '}
          {file.difference && (
            <button
              type="button"
              onClick={() => setDifference(!difference)}
              style={{
                background: 'none',
                border: 0,
                padding: 2,
                color: INK.text,
                textDecoration: 'underline',
                cursor: 'pointer',
                font: 'inherit',
              }}
            >
              {difference ? 'Show the picture' : 'Show where'}
            </button>
          )}
        </p>
      )}
      {understood?.kind === 'layered' && understood.losses.length > 0 && (
        <Notice level="warning">
          {count(understood.losses.length, 'thing')} cannot be kept:
          <ul style={{ margin: '4px 0 0', paddingLeft: 18 }}>
            {understood.losses.map(({ layer, what }, i) => (
              <li key={i}>
                “{layer}”: {what}
              </li>
            ))}
          </ul>
        </Notice>
      )}
      {understood?.kind === 'layered' && <Layers facts={understood} roles={roles} onRole={onRole} />}
      {understood?.kind === 'model' && (understood.said ?? []).length > 0 && (
        <Notice level="warning">
          <ul style={{ margin: 0, paddingLeft: 16 }}>
            {understood.said!.map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
        </Notice>
      )}
      {understood?.kind === 'model' && <LayoutNotes notes={understood.notes} />}
    </>
  );
}

/** Names, each once, as many as can be read at a glance. */
function some(names: readonly string[]): string {
  const once = [...new Set(names)];
  return once.length > 14 ? `${once.slice(0, 12).join(', ')} and ${once.length - 12} more` : once.join(', ');
}

const share = (part: number) => (part < 0.001 ? 'under 0.1 %' : `${(part * 100).toFixed(1)} %`);

function Facts({ of }: { of: [string, string][] }) {
  return (
    <dl style={{ display: 'grid', gridTemplateColumns: 'max-content 1fr', gap: '2px 14px', margin: '10px 0' }}>
      {of.map(([name, value]) => (
        <div key={name} style={{ display: 'contents' }}>
          <Quiet as="dt">{name}</Quiet>
          <dd style={{ margin: 0, fontFamily: MONO, fontSize: 12, paddingTop: 1 }}>{value}</dd>
        </div>
      ))}
    </dl>
  );
}

/** "upside down for hull": what the layouts of the models say. */
function wayOf(ways: IntakeFile['ways']): [string, string][] {
  const told = Object.entries(ways).map(
    ([material, way]) => `${way === 'upright' ? way : 'upside down'} for ${material || 'the model'}`,
  );
  return told.length > 0 ? [['which way up', told.join(', ')]] : [];
}

function factsOf({ understood, bytes, ways }: IntakeFile): [string, string][] {
  switch (understood?.kind) {
    case 'texture':
      return [
        ['size', `${understood.width} x ${understood.height}, ${size(bytes)}`],
        [
          'kind',
          `${understood.container.toUpperCase()}, ${understood.compression}${understood.header ? `, ${understood.header} header` : ''}`,
        ],
        ['colour space', understood.colourSpace],
        ['mips', understood.mips === 1 ? 'none' : `${understood.mips} of ${understood.mipsExpected}`],
        ['alpha', { none: 'carries nothing', cutout: 'cut-out: 0 and 255 only', soft: 'soft' }[understood.alpha]],
        ...wayOf(ways),
      ];
    case 'layered':
      return [
        ['size', `${understood.width} x ${understood.height}, ${size(bytes)}`],
        ['kind', `${understood.format.toUpperCase()}, ${understood.depth} bits`],
      ];
    case 'model':
      return [
        ['mesh', `${understood.triangles} triangles, ${understood.vertices} vertices`],
        ['materials', some(understood.groups.map((g) => g.material))],
        ['parts', some(understood.groups.map((g) => g.name))],
        ...((understood.needs ?? []).length > 0 ? [['not here', some(understood.needs!)] as [string, string]] : []),
      ];
    default:
      return [['size', size(bytes)]];
  }
}

const ROLES: readonly { value: Role; label: string }[] = [
  { value: 'art', label: 'art' },
  { value: 'guide', label: 'guide, never delivered' },
  { value: 'data', label: 'data the game reads' },
  { value: 'map', label: 'part of another map' },
];

/** Layers as they lie in the file, topmost first, each with its proposed role. */
function Layers({
  facts,
  roles,
  onRole,
}: {
  facts: LayeredFacts;
  roles: Roles;
  onRole(layer: number, role: Role): void;
}) {
  const rows = facts.layers
    .map((row, i) => ({ row, i }))
    .filter(({ row }) => row.kind === 'layer')
    .reverse();
  return (
    <table style={{ width: '100%', borderCollapse: 'collapse', marginTop: 12 }}>
      <thead>
        <tr style={{ textAlign: 'left', color: INK.quiet }}>
          <th style={{ fontWeight: 400, padding: '4px 8px 4px 0' }}>layer, topmost first</th>
          <th style={{ fontWeight: 400 }}>is</th>
          <th style={{ fontWeight: 400 }}>because</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ row, i }) => {
          const role = roles[i] ?? row.role;
          return (
            <tr key={i} style={{ borderTop: `1px solid ${INK.line}`, verticalAlign: 'top' }}>
              <td style={{ padding: '6px 8px 6px 0', color: row.hidden ? INK.quiet : undefined }}>
                {row.path.length > 0 && <Quiet>{row.path.join(' / ')} / </Quiet>}
                {row.name}
                {row.hidden && ' (hidden)'}
              </td>
              <td style={{ padding: '4px 8px 4px 0' }}>
                <Select
                  variant="standard"
                  disableUnderline
                  value={role}
                  onChange={(event) => onRole(i, event.target.value)}
                  inputProps={{ 'aria-label': `What ${row.name} is` }}
                  renderValue={(value) => value}
                  sx={{
                    fontSize: 13,
                    minWidth: 76,
                    minHeight: 24,
                    border: `1px solid ${INK.edge}`,
                    borderRadius: '2px',
                    '& .MuiSelect-select': { padding: '1px 24px 1px 6px !important' },
                  }}
                >
                  {ROLES.map(({ value, label }) => (
                    <MenuItem key={value} value={value}>
                      {label}
                    </MenuItem>
                  ))}
                </Select>
              </td>
              <td style={{ padding: '6px 0', color: INK.quiet }}>
                {role === row.role ? row.reason : 'You said so.'}
                {role === row.role && !row.sure && (
                  <strong style={{ color: INK.amber, fontWeight: 600 }}> Not certain.</strong>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
