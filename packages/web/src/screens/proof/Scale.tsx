import { Row } from '../../parts/layout.tsx';
import { INK } from '../../theme.ts';
import { heat, SCALE } from './heat.ts';
import type { Measure } from './proofState.ts';

/** What the greys and colours of the difference mean. */
export function Scale({ measure }: { measure: Measure }) {
  const { visible, worst, says } = SCALE[measure];
  const best = measure === 'deltaE' ? 0 : 54;
  const steps = Array.from({ length: 24 }, (_, i) => {
    const t = i / 23;
    return t < 0.5 ? best + (visible - best) * t * 2 : visible + (worst - visible) * (t - 0.5) * 2;
  });
  return (
    <div style={{ padding: '4px 8px', background: INK.panel, fontSize: 11, color: INK.quiet }}>
      <div aria-hidden style={{ display: 'flex', height: 6 }}>
        {steps.map((value, i) => (
          <span key={i} style={{ flex: 1, background: `rgb(${heat(value, measure).join(',')})` }} />
        ))}
      </div>
      <Row align="stretch" spread="space-between">
        {says.map((word) => (
          <span key={word}>{word}</span>
        ))}
      </Row>
    </div>
  );
}
