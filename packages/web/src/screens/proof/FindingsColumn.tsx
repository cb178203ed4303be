import { Button, LinearProgress } from '@mui/material';
import type { ProofFinding, Remedy } from '@wet-lacquer/core/delivery/proof/finding.ts';
import { FORMATS } from '@wet-lacquer/core/texture/formats/index.ts';
import { Quiet } from '../../parts/text.tsx';
import { PlainList, Row } from '../../parts/layout.tsx';
import { size } from '../../lib/words.ts';
import { Notice } from '../../parts/Notice.tsx';
import { useNarrow } from '../../lib/useNarrow.ts';
import { INK, MONO } from '../../theme.ts';
import { useProof } from './proofState.ts';

interface Props {
  asDelivered: string;
  onShow(finding: ProofFinding): void;
  onFix(finding: ProofFinding, remedy: Remedy): void;
  /** What came of the last remedy. */
  said: string | null;
}

/** Never rounded up to all of them. */
const keptShare = (kept: number) => (kept === 1 ? 'all' : `${(Math.floor(kept * 10_000) / 100).toFixed(2)} %`);

/** What the encoding does to the sheet, in numbers and in sentences. */
export function FindingsColumn({ asDelivered, onShow, onFix, said }: Props) {
  const narrow = useNarrow();
  const { news, format } = useProof();
  const trial = news?.trials[0];
  const levels = trial?.levels ?? [];
  const whole = levels.reduce((n, level) => n + level.bytes, 0);
  const done = levels.reduce((n, level) => n + level.done, 0);
  const of = levels.reduce((n, level) => n + level.of, 0);
  const busy = !news || news.painting !== null || news.findings === null;
  const rows = levels[0] && [
    ['as delivered', asDelivered],
    ['in proof', FORMATS[format].name],
    ['with its mips', size(whole)],
    ['level 0', levels[0].psnr === Infinity ? 'equal' : `${levels[0].psnr.toFixed(2)} dB`],
    ['differs visibly', `${(levels[0].visible * 100).toFixed(2)} % of blocks`],
    ...(levels[0].kept === null ? [] : [['the original’s', `${keptShare(levels[0].kept)} of blocks`]]),
  ];
  return (
    <aside
      aria-label="What the encoding does"
      style={{
        width: narrow ? 'auto' : 292,
        flex: 'none',
        overflowY: 'auto',
        background: INK.panel,
        padding: '12px 14px',
        borderLeft: `1px solid ${INK.line}`,
      }}
    >
      {rows && (
        <dl style={{ display: 'grid', gridTemplateColumns: '104px 1fr', gap: '4px 8px', margin: '0 0 12px' }}>
          {rows.map(([key, value]) => (
            <div key={key} style={{ display: 'contents' }}>
              <Quiet as="dt">{key}</Quiet>
              <dd style={{ margin: 0, fontFamily: MONO, fontSize: 12 }}>{value}</dd>
            </div>
          ))}
        </dl>
      )}
      {news?.problem && <Notice level="error">{news.problem}</Notice>}
      {busy && !news?.problem && (
        <div role="status" style={{ color: INK.quiet, marginBottom: 12 }}>
          {news?.painting
            ? `Painting, tile ${news.painting.done} of ${news.painting.of}`
            : of > 0
              ? `Encoding, cell ${done} of ${of}`
              : 'Getting ready'}
          <LinearProgress
            variant={of > 0 || news?.painting ? 'determinate' : 'indeterminate'}
            value={news?.painting ? (news.painting.done * 100) / news.painting.of : of > 0 ? (done * 100) / of : 0}
            aria-label="How far the proof is"
            sx={{ mt: '4px' }}
          />
        </div>
      )}
      <h2 style={{ fontSize: 14, margin: '0 0 6px' }}>Findings</h2>
      {said && (
        <p role="status" style={{ margin: '0 0 6px' }}>
          {said}
        </p>
      )}
      {!busy && news.findings!.length === 0 && (
        <Quiet as="p">Nothing stands out: the sheet comes through this encoding well.</Quiet>
      )}
      <PlainList>
        {(news?.findings ?? []).map((finding) => (
          <li key={finding.key} style={{ padding: '8px 0', borderTop: `1px solid ${INK.line}` }}>
            <strong style={{ fontWeight: 600 }}>{finding.title}</strong>
            <p style={{ margin: '2px 0 6px', color: INK.quiet }}>{finding.detail}</p>
            <Row as="span" align="stretch" gap={6} wrap>
              {finding.show && <Button onClick={() => onShow(finding)}>Show</Button>}
              {finding.fixes.map((fix) => (
                <Button key={fix.label} onClick={() => onFix(finding, fix)}>
                  {fix.label}
                </Button>
              ))}
            </Row>
          </li>
        ))}
      </PlainList>
    </aside>
  );
}
