import { diffLines } from './diff.ts';
import type { PlannedCard } from '../../lib/types.ts';
import { INK, MONO } from '../../theme.ts';

/** The chosen file: what it is; a sidecar's text with what changes in it. */
export function FileDetails({ file, liveryId }: { file: PlannedCard; liveryId: string }) {
  const { facts } = file;
  const rows = facts && [
    ['size', `${facts.width} x ${facts.height}, ${facts.mips} mips`],
    [
      'compression',
      /\.dds$/i.test(file.name)
        ? `${file.what.split(',')[0]}, ${facts.header === 'dx10' ? 'DX10' : 'legacy'} header`
        : file.what,
    ],
    ['way up', facts.flip ? 'upside down' : 'as painted'],
    ['mips', `${facts.mipFilter === 'kaiser' ? 'Kaiser' : 'box'}, linear light`],
    ['alpha', facts.alpha === 'opaque' || facts.alpha === 'forbidden' ? 'not carried' : 'carried'],
    ['edge padding', `${facts.padding} texels`],
    ['name from', facts.pattern],
  ];
  return (
    <aside aria-label="The chosen file" style={{ overflowY: 'auto', background: INK.panel, padding: '14px 16px' }}>
      <h2 style={{ fontSize: 14, margin: 0, overflowWrap: 'anywhere', fontFamily: MONO }}>{file.name}</h2>
      <p style={{ margin: '2px 0 10px', color: INK.quiet }}>
        {file.kind === 'sheet'
          ? `${file.sheet}, ${file.map}`
          : file.kind === 'thumbnail'
            ? 'picture of the model'
            : 'sidecar'}
      </p>
      {file.kind === 'sheet' && !file.leftOut && file.map === 'colour' && (
        <img
          src={`/api/liveries/${liveryId}/sheets/${file.sheet}`}
          alt={`Sheet ${file.sheet} as painted`}
          style={{ width: '100%', background: '#777', display: 'block', marginBottom: 10 }}
        />
      )}
      {rows && (
        <dl style={{ display: 'grid', gridTemplateColumns: '96px 1fr', gap: '5px 8px', margin: 0 }}>
          {rows.map(([key, value]) => (
            <div key={key} style={{ display: 'contents' }}>
              <dt style={{ color: INK.quiet }}>{key}</dt>
              <dd
                style={{
                  margin: 0,
                  fontFamily: key === 'name from' || key === 'size' ? MONO : undefined,
                  fontSize: key === 'name from' || key === 'size' ? 12 : 13,
                  overflowWrap: 'anywhere',
                }}
              >
                {value}
              </dd>
            </div>
          ))}
        </dl>
      )}
      {file.text !== undefined && (
        <>
          <h3 style={{ fontSize: 13, margin: '6px 0' }}>
            {file.before == null ? 'What it says' : file.since === 'unchanged' ? 'Nothing changes' : 'What changes'}
          </h3>
          <pre
            tabIndex={0}
            aria-label={`Text of ${file.name}`}
            style={{
              margin: 0,
              padding: 8,
              background: INK.deep,
              border: `1px solid ${INK.line}`,
              fontFamily: MONO,
              fontSize: 12,
              overflowX: 'auto',
            }}
          >
            {diffLines(file.before ?? file.text, file.text).map((line, i) => (
              <div
                key={i}
                style={{ background: line.kind === 'out' ? '#4a2724' : line.kind === 'in' ? '#1d4640' : undefined }}
              >
                {line.kind === 'out' ? '- ' : line.kind === 'in' ? '+ ' : '  '}
                {line.text}
              </div>
            ))}
          </pre>
        </>
      )}
    </aside>
  );
}
