import { kindOf, type ItemKey } from '@wet-lacquer/core/team/items/index.ts';
import type { TeamItem } from '@wet-lacquer/core/team/team.ts';
import { Mono } from '../../parts/text.tsx';
import { ART, INK } from '../../theme.ts';

/** A value of something shared: small, seen rather than read where that can be. */
export function ValueChip({ kind, value, words = true }: { kind: ItemKey; value: unknown; words?: boolean }) {
  const said = kindOf(kind).words(value);
  const one = { kind, value } as Pick<TeamItem, 'kind' | 'value'>;
  if (one.kind === 'colour')
    return (
      <span style={{ display: 'inline-flex', gap: 6, alignItems: 'center' }}>
        <span
          aria-hidden
          style={{ width: 22, height: 14, background: String(one.value), border: `1px solid ${INK.edge}` }}
        />
        {words && <Mono small>{said}</Mono>}
      </span>
    );
  if (one.kind === 'mark')
    return (
      <img
        src={`/api/blobs/${(one.value as { blob: string }).blob}/thumb`}
        alt={said}
        style={{ width: 52, height: 30, objectFit: 'contain', background: ART.ground, display: 'block' }}
      />
    );
  return <span style={{ fontSize: 12, overflowWrap: 'anywhere' }}>{said}</span>;
}
