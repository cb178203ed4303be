import { useNarrow } from '../../lib/useNarrow.ts';
import { INK, MONO } from '../../theme.ts';
import { useProof } from './proofState.ts';

/** The mip levels, the largest above: which one is looked at, and how near each comes. */
export function Ladder() {
  const narrow = useNarrow();
  const { level, news } = useProof();
  const facts = news?.trials[0]?.levels;
  return (
    <nav
      aria-label="Mip levels"
      style={{
        width: narrow ? 'auto' : 84,
        display: narrow ? 'flex' : 'block',
        overflowX: 'auto',
        flex: 'none',
        background: INK.panel,
        borderRight: `1px solid ${INK.line}`,
        padding: 7,
        overflowY: 'auto',
      }}
    >
      {news?.levels.map(({ width, height }, i) => {
        const fact = facts?.[i];
        const side = Math.max(4, 68 / 1.32 ** i);
        return (
          <button
            key={i}
            type="button"
            aria-current={i === level}
            aria-label={`Level ${i}, ${width} x ${height}`}
            onClick={() => useProof.setState({ level: i })}
            style={{
              display: 'block',
              width: narrow ? 76 : '100%',
              flex: 'none',
              padding: '4px 0',
              background: i === level ? INK.accentDeep : 'transparent',
              border: 0,
              borderTop: i === level ? `1px solid ${INK.accent}` : '1px solid transparent',
              color: INK.text,
              font: 'inherit',
              textAlign: 'center',
              cursor: 'pointer',
            }}
          >
            <span
              aria-hidden
              style={{ display: 'block', width: side, height: side * 0.28, margin: '0 auto 2px', background: INK.edge }}
            />
            <span style={{ fontFamily: MONO, fontSize: 12, display: 'block' }}>
              {width === height ? width : `${width}x${height}`}
            </span>
            <span style={{ fontSize: 11, color: INK.quiet }}>
              {fact && fact.done === fact.of ? (fact.psnr === Infinity ? 'equal' : `${fact.psnr.toFixed(1)} dB`) : '…'}
            </span>
          </button>
        );
      })}
    </nav>
  );
}
