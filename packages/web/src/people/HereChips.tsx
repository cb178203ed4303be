import { useEffect } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { useEasel } from '../easel/context.ts';
import { thisWindow } from '../easel/person.ts';
import { useSessionOf } from '../easel/session.ts';
import { layersOf } from '@wet-lacquer/core/livery/livery.ts';
import { send } from '../lib/api.ts';
import { Row } from '../parts/layout.tsx';
import { INK } from '../theme.ts';
import { useMe } from './me.ts';

/** Whoever is not heard of for three of these is not there. */
const EVERY_MS = 15_000;

/** Who else has this livery open and what they have in hand: quiet, beside the name. */
export function HereChips() {
  const { doc } = useEasel();
  const { me } = useMe();
  const { id, here, livery, template } = doc.use(
    useShallow(({ id, here, livery, template }) => ({ id, here, livery, template })),
  );
  const { sheet, chosen: layer } = useSessionOf('sheet', 'chosen');
  const signedIn = me?.painter !== null && me?.painter !== undefined;
  useEffect(() => {
    if (!signedIn) return;
    const say = () => void send('POST', `/liveries/${id}/here`, { window: thisWindow, sheet, layer }).catch(() => {});
    say();
    const beat = setInterval(say, EVERY_MS);
    return () => clearInterval(beat);
  }, [id, sheet, layer, signedIn]);
  const others = here.filter(({ window }) => window !== thisWindow);
  if (others.length === 0) return null;
  const at = (key: string | null) => template.sheets.find((one) => one.key === key)?.name;
  return (
    <Row as="span" gap={6} role="list" aria-label="Also here" shrink>
      {others.map((one) => {
        const held = one.sheet
          ? layersOf(livery, one.sheet).find(({ id: layerId }) => layerId === one.layer)
          : undefined;
        const where = [at(one.sheet), held?.name].filter(Boolean).join(', ');
        return (
          <span
            key={one.window}
            role="listitem"
            title={where ? `${one.name} is at ${where}` : `${one.name} is here`}
            style={{
              border: `1px solid ${INK.line}`,
              borderRadius: 2,
              padding: '1px 7px',
              whiteSpace: 'nowrap',
              maxWidth: 220,
              overflow: 'hidden',
              textOverflow: 'ellipsis',
            }}
          >
            {one.name}
            {where && <span style={{ color: INK.quiet }}> {where}</span>}
          </span>
        );
      })}
    </Row>
  );
}
