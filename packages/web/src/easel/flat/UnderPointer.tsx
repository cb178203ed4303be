import { useEffect, useState } from 'react';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import { findLayer } from '@wet-lacquer/core/livery/livery.ts';
import { INK } from '../../theme.ts';
import { useEasel, useLivery } from '../context.ts';
import { useSession } from '../session.ts';
import { CUT_OFF } from '../../parts/text.tsx';

/** The pointer has come to rest. */
const REST_MS = 80;

/** Names the layer that a press would choose. */
export function UnderPointer() {
  const { flat } = useEasel();
  const livery = useLivery();
  const hover = useSession((s) => s.hover);
  const map = useSession((s) => s.map);
  const [found, setFound] = useState<string | null>(null);
  useEffect(() => {
    if (!hover) return;
    let wanted = true;
    const { sheet, x, y } = hover;
    const timer = setTimeout(() => {
      flat
        .ask('layerAt', { sheet, map, x, y })
        .then((id) => wanted && setFound(id))
        // The sheet says what is wrong with drawing; until then nothing is named.
        .catch(() => wanted && setFound(null));
    }, REST_MS);
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [flat, hover, map, livery]);
  const name = hover && found && findLayer(livery, found as LayerId)?.layer.name;
  if (!name) return null;
  return (
    <span data-testid="under-pointer" style={{ color: INK.quiet, minWidth: 0, ...CUT_OFF }}>
      over <span style={{ color: INK.text }}>{name}</span>
    </span>
  );
}
