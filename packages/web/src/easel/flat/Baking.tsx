import { useSyncExternalStore } from 'react';
import useSWR from 'swr';
import { isFlow, type FieldKey } from '@wet-lacquer/core/livery/fields.ts';
import type { BakingAnswer } from '@wet-lacquer/sync/answers.ts';
import { get } from '../../lib/api.ts';
import { INK } from '../../theme.ts';
import { useEasel, useLivery } from '../context.ts';

const POLL_MS = 500;
const NAMES = { height: 'heights', hollows: 'hollows', edges: 'edges' };
const nameOf = (field: FieldKey) => (isFlow(field) ? 'ways along the surface' : NAMES[field]);

/** What of the model is being worked out while layers that go by it are not drawn yet. */
export function Baking() {
  const { flat } = useEasel();
  const { pins } = useLivery();
  const waiting = useSyncExternalStore(
    (told) => flat.onWaiting(told),
    () => flat.waiting,
  );
  const { data = [] } = useSWR(
    waiting && !waiting.fault ? `/templates/${pins.template}/fields` : null,
    (path: string) => get<BakingAnswer>(path),
    { refreshInterval: POLL_MS, dedupingInterval: 0 },
  );
  if (!waiting) return null;
  const { fields, fault } = waiting;
  const said = fields.map((field) => {
    const done = data.find(({ name }) => name === field)?.done ?? 0;
    return done > 0 ? `${nameOf(field)} ${Math.round(done * 100)} %` : nameOf(field);
  });
  return (
    <p
      role="status"
      style={{
        position: 'absolute',
        left: 8,
        top: 40,
        margin: 0,
        maxWidth: '60%',
        padding: '6px 10px',
        background: INK.panel,
        border: `1px solid ${INK.edge}`,
        borderRadius: 2,
        fontSize: 12,
      }}
    >
      {fault
        ? `What goes by the model is not shown: ${fault}`
        : `Working out the model: ${[...new Set(said)].join(', ')}. What goes by it shows then.`}
    </p>
  );
}
