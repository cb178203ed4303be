import { Link } from 'react-router';
import { clashesIn } from '@wet-lacquer/core/team/clash.ts';
import { Stack } from '../../parts/layout.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { INK } from '../../theme.ts';
import type { TeamState } from './useTeam.ts';

/** What more than one livery has, though each should have its own. */
export function TeamClashes({ state: { mates } }: { state: TeamState }) {
  const clashes = clashesIn(mates);
  if (clashes.length === 0) return null;
  return (
    <Stack gap={6} below={12}>
      {clashes.map(({ what, value, liveries }) => (
        <Notice key={what + value} level="warning">
          {what} “{value}” is on{' '}
          {liveries.map((id, n) => (
            <span key={id}>
              {n > 0 && (n === liveries.length - 1 ? ' and ' : ', ')}
              <Link to={`/liveries/${id}`} style={{ color: INK.text }}>
                {mates.find((mate) => mate.id === id)?.name}
              </Link>
            </span>
          ))}
          : each should have its own.
        </Notice>
      ))}
    </Stack>
  );
}
