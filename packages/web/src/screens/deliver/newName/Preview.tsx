import type { RenamedFile } from '@wet-lacquer/core/delivery/newName.ts';
import { Quiet } from '../../../parts/text.tsx';
import { count } from '../../../lib/words.ts';
import { Nothing, Notice } from '../../../parts/Notice.tsx';
import { INK, MONO } from '../../../theme.ts';

const CELL = { padding: '3px 10px 3px 0', fontFamily: MONO, fontSize: 12, verticalAlign: 'top' } as const;

/** What becomes of each file, and every line of a text that is another. */
export function Preview({ files }: { files: readonly RenamedFile[] }) {
  if (files.length === 0)
    return <Nothing title="Nothing goes out yet">Say which word becomes what, and the files are listed here.</Nothing>;
  const texts = files.filter(({ what }) => what === 'text');
  const others = files.filter(({ what }) => what !== 'text');
  return (
    <section aria-label="What becomes of the files" style={{ overflowY: 'auto', padding: '14px 20px' }}>
      <h2 style={{ fontSize: 14, margin: '0 0 8px' }}>{count(others.length, 'file')} beside the texts</h2>
      <table style={{ borderCollapse: 'collapse', width: '100%' }}>
        <tbody>
          {others.map(({ from, to, what }) => (
            <tr key={`${from} ${to}`} style={{ borderTop: `1px solid ${INK.line}` }}>
              <td style={{ ...CELL, color: from === to ? INK.text : INK.quiet, overflowWrap: 'anywhere' }}>{from}</td>
              <td style={{ ...CELL, overflowWrap: 'anywhere' }}>{from === to ? 'keeps its name' : to}</td>
              <td style={{ ...CELL, fontFamily: 'inherit', color: INK.quiet, whiteSpace: 'nowrap' }}>{what}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {texts.map(({ from, to, lines, problems }) => (
        <section key={from} aria-label={from} style={{ marginTop: 18 }}>
          <h2 style={{ fontSize: 14, margin: '0 0 4px', fontFamily: MONO, overflowWrap: 'anywhere' }}>
            {from}
            {from !== to && <span style={{ color: INK.accent }}> → {to}</span>}
          </h2>
          <p style={{ margin: '0 0 6px', color: INK.quiet }}>
            {lines.length === 0 ? 'No line changes.' : `${count(lines.length, 'line')} of it, and nothing else.`}
          </p>
          {problems.map((why) => (
            <Notice key={why} level="error">
              {why}
            </Notice>
          ))}
          {lines.map(({ line, before, after }, i) => (
            <div key={i} style={{ display: 'grid', gridTemplateColumns: '44px 1fr', fontFamily: MONO, fontSize: 12 }}>
              <Quiet>{before === null ? 'new' : line}</Quiet>
              <span style={{ whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' }}>
                {before !== null && <del style={{ color: INK.quiet, display: 'block' }}>{before.trimEnd()}</del>}
                {after !== null && <ins style={{ textDecoration: 'none', display: 'block' }}>{after.trimEnd()}</ins>}
              </span>
            </div>
          ))}
        </section>
      ))}
    </section>
  );
}
