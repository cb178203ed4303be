import { Button, IconButton } from '@mui/material';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import useSWR from 'swr';
import { bayGame } from '@wet-lacquer/core/games/index.ts';
import type { DeliveryCard } from '@wet-lacquer/sync/answers.ts';
import { lookedAt } from '../../lib/looked.ts';
import { Close } from '../../parts/icons.tsx';
import { Quiet } from '../../parts/text.tsx';
import { INK } from '../../theme.ts';
import { addLayer } from '../actions.ts';
import { MAKERS } from '../buildup/makers.ts';
import { placeHere } from '../buildup/placeHere.ts';
import { useEasel, useTemplate } from '../context.ts';
import { useSession } from '../session.ts';
import { nextStep, STEPS, type StepKey } from './steps.ts';

const AWAY = 'wet-lacquer/lead';

/** What a step is begun with: a layer's maker. */
const MAKES: Partial<Record<StepKey, { maker: string; does: string }>> = {
  ground: { maker: 'solid', does: 'Add a solid' },
  stripe: { maker: 'stripe', does: 'Add a stripe' },
  number: { maker: 'number', does: 'Add the number' },
};

/** The next thing worth doing for a first livery. It checks itself off, goes when all is done, and can be put away for good. */
export function LeadLine() {
  const { doc } = useEasel();
  const template = useTemplate();
  const navigate = useNavigate();
  const id = doc.use((s) => s.id);
  const livery = doc.use((s) => s.livery);
  const sheet = useSession((s) => s.sheet);
  const [away, setAway] = useState(() => localStorage.getItem(AWAY) === 'away');
  const { data } = useSWR<DeliveryCard[]>(away ? null : `/liveries/${id}/deliveries`);
  if (away || !data) return null;
  const played = bayGame(template.game) !== undefined;
  const next = nextStep({
    livery,
    proofed: lookedAt('proof', id),
    delivered: data.some(({ state }) => state === 'done'),
    seen: !played || lookedAt('bay', template.game),
  });
  if (!next) return null;
  const { step, done } = next;
  const to = { proof: `/liveries/${id}/proof`, deliver: `/liveries/${id}/deliver`, game: `/bay/${template.game}` };
  const makes = MAKES[step.key];
  const put = () => {
    const maker = MAKERS.find(({ key }) => key === makes?.maker);
    if (maker) void addLayer(doc, maker.make(placeHere(template, livery, sheet)), maker.phase);
  };
  return (
    <section
      aria-label="What is next"
      style={{
        flex: 'none',
        display: 'flex',
        flexWrap: 'wrap',
        alignItems: 'center',
        gap: '4px 12px',
        padding: '4px 12px',
        background: INK.raised,
        borderBottom: `1px solid ${INK.line}`,
      }}
    >
      <span role="img" aria-label={`${done} of ${STEPS.length} done`} style={{ display: 'flex', gap: 4 }}>
        {STEPS.map(({ key }, i) => (
          <span
            key={key}
            style={{
              width: 8,
              height: 8,
              borderRadius: 4,
              border: `1px solid ${INK.text}`,
              background: i < done ? INK.text : 'transparent',
            }}
          />
        ))}
      </span>
      <span style={{ flex: '1 1 240px' }}>
        <strong style={{ fontWeight: 600 }}>{step.says}</strong>: <Quiet>{step.why}</Quiet>
      </span>
      {/* One button for all steps: who goes through them by keyboard stays on it. */}
      <Button size="small" onClick={makes ? put : () => void navigate(to[step.key as keyof typeof to])}>
        {makes?.does ?? step.says}
      </Button>
      <Link to="/help" style={{ color: INK.quiet }}>
        The guide
      </Link>
      <IconButton
        size="small"
        aria-label="Put this line away for good"
        title="Put this line away for good"
        onClick={() => {
          localStorage.setItem(AWAY, 'away');
          setAway(true);
        }}
      >
        <Close fontSize="small" />
      </IconButton>
    </section>
  );
}
