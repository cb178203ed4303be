import { MAIN_MAP } from '@wet-lacquer/core/livery/template.ts';
import type { AgainstOriginal } from '@wet-lacquer/core/delivery/againstOriginal.ts';
import type { PlannedCard } from '@wet-lacquer/sync/answers.ts';
import { Quiet } from '../../parts/text.tsx';
import { diffLines } from './diff.ts';
import { BesideMaster } from '../../parts/BesideMaster.tsx';
import { ART, INK, MONO } from '../../theme.ts';

/** The chosen file: what it is; a sidecar's text with what changes in it. */
export function FileDetails({
  file,
  against,
  liveryId,
  revision,
}: {
  file: PlannedCard;
  /** What became of the original that it lies over. */
  against: AgainstOriginal | undefined;
  liveryId: string;
  revision: number;
}) {
  const { facts } = file;
  const dds = /\.dds$/i.test(file.name);
  const rows = facts && [
    ['size', `${facts.width} x ${facts.height}${dds ? `, ${facts.mips} mips` : ''}`],
    [
      'compression',
      dds ? `${file.what.split(',')[0]}, ${facts.header === 'dx10' ? 'DX10' : 'legacy'} header` : file.what,
    ],
    ['way up', facts.flip ? 'upside down' : 'as painted'],
    ...(dds ? [['mips', `${facts.mipFilter === 'kaiser' ? 'Kaiser' : 'box'}, linear light`]] : []),
    ['alpha', facts.alpha === 'opaque' || facts.alpha === 'forbidden' ? 'not carried' : 'carried'],
    [
      'edge padding',
      facts.padding === 0 ? 'none' : facts.over ? `${facts.padding} texels beside paint` : `${facts.padding} texels`,
    ],
    ['name from', facts.pattern],
  ];
  return (
    <aside aria-label="The chosen file" style={{ overflowY: 'auto', background: INK.panel, padding: '14px 16px' }}>
      <h2 style={{ fontSize: 14, margin: 0, overflowWrap: 'anywhere', fontFamily: MONO }}>{file.name}</h2>
      <p style={{ margin: '2px 0 10px', color: INK.quiet }}>
        {file.kind === 'sheet'
          ? `${file.follower ? `follows ${file.sheet}` : file.sheet}, ${file.map}`
          : file.kind === 'thumbnail'
            ? 'picture of the model'
            : file.kind === 'companion'
              ? 'goes along as it came, byte for byte'
              : 'sidecar'}
      </p>
      {against && <Against file={file} against={against} liveryId={liveryId} />}
      {file.follower && !file.leftOut && (
        <div style={{ marginBottom: 10 }}>
          <BesideMaster
            of={{ path: `/liveries/${liveryId}`, state: revision, painted: true }}
            sheet={file.sheet!}
            follower={file.follower}
            name={file.name}
          />
        </div>
      )}
      {file.kind === 'sheet' && !file.follower && !file.leftOut && file.map === MAIN_MAP && !against && (
        <img
          src={`/api/liveries/${liveryId}/sheets/${file.sheet}`}
          alt={`Sheet ${file.sheet} as painted`}
          style={{ width: '100%', background: ART.ground, display: 'block', marginBottom: 10 }}
        />
      )}
      {rows && (
        <dl style={{ display: 'grid', gridTemplateColumns: '96px 1fr', gap: '5px 8px', margin: 0 }}>
          {rows.map(([key, value]) => (
            <div key={key} style={{ display: 'contents' }}>
              <Quiet as="dt">{key}</Quiet>
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
                style={{
                  background: line.kind === 'out' ? INK.redDeep : line.kind === 'in' ? INK.accentDeep : undefined,
                }}
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

const percent = (share: number) =>
  share === 0 ? 'none' : share < 0.0005 ? 'under 0.1 %' : `${(share * 100).toFixed(1)} %`;

/** The original and what is painted over it, side by side; how much of it changes, and its alpha before and after. */
function Against({ file, against, liveryId }: { file: PlannedCard; against: AgainstOriginal; liveryId: string }) {
  const { texels, blocks, before, after, of } = against;
  const about = of.looked < of.touched ? 'about ' : '';
  return (
    <section aria-label="Against the original" style={{ marginBottom: 12 }}>
      <img
        src={`/api/liveries/${liveryId}/sheets/${file.sheet}/beside/${file.map}`}
        alt={`${file.sheet} as it came, and as it is painted`}
        style={{ width: '100%', background: ART.ground, display: 'block' }}
      />
      <p
        style={{
          margin: '2px 0 8px',
          color: INK.quiet,
          fontSize: 12,
          display: 'flex',
          justifyContent: 'space-between',
        }}
      >
        <span>as it came</span>
        <span>as it is painted</span>
      </p>
      <dl style={{ display: 'grid', gridTemplateColumns: '1fr auto', gap: '3px 8px', margin: 0 }}>
        <Quiet as="dt">texels that change</Quiet>
        <dd style={{ margin: 0 }}>
          {about}
          {percent(texels)}
        </dd>
        <Quiet as="dt">blocks that change</Quiet>
        <dd style={{ margin: 0 }}>
          {about}
          {percent(blocks)}
        </dd>
        <Quiet as="dt">where nobody painted</Quiet>
        <dd style={{ margin: 0 }}>none</dd>
      </dl>
      <table style={{ width: '100%', marginTop: 8, borderCollapse: 'collapse', fontSize: 12 }}>
        <thead>
          <tr style={{ color: INK.quiet, textAlign: 'right' }}>
            <th scope="col" style={{ textAlign: 'left', fontWeight: 400 }}>
              alpha
            </th>
            <th scope="col" style={{ fontWeight: 400 }}>
              before
            </th>
            <th scope="col" style={{ fontWeight: 400 }}>
              now
            </th>
          </tr>
        </thead>
        <tbody>
          {(['clear', 'soft', 'opaque'] as const).map((kind) => (
            <tr key={kind} style={{ textAlign: 'right' }}>
              <th scope="row" style={{ textAlign: 'left', fontWeight: 400 }}>
                {kind}
              </th>
              <td>{percent(before[kind])}</td>
              <td>{percent(after[kind])}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
