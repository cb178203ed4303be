import { LinearProgress } from '@mui/material';
import type { PlanAnswer } from '@wet-lacquer/sync/answers.ts';
import { PlainList } from '../../parts/layout.tsx';
import { INK, MONO } from '../../theme.ts';

/** The tree of a spec that was just chosen, greyed until it has been looked through. */
export function PendingTree({ plan, name }: { plan: PlanAnswer | undefined; name: string }) {
  return (
    <section
      aria-label="What will be written"
      aria-busy
      style={{
        background: INK.room,
        borderLeft: `1px solid ${INK.line}`,
        padding: '14px 18px',
        overflowY: 'auto',
        color: INK.quiet,
      }}
    >
      <LinearProgress aria-label={`Looking the livery through for ${name}`} />
      <h2 style={{ fontSize: 15, margin: '10px 0 0' }}>What will be written</h2>
      <p style={{ margin: '2px 0 12px', fontFamily: MONO, fontSize: 12 }}>
        {plan ? (plan.package ? `in ${plan.package}` : plan.folder || 'the game’s folder') : name}
      </p>
      <PlainList>
        {plan?.files.map((file) => (
          <li
            key={file.name}
            style={{ padding: '4px 0', borderBottom: `1px solid ${INK.line}`, fontFamily: MONO, fontSize: 12 }}
          >
            {file.name} <span style={{ fontFamily: 'inherit' }}>{file.leftOut ? 'left out' : file.what}</span>
          </li>
        ))}
      </PlainList>
    </section>
  );
}
