import { Button } from '@mui/material';
import { findLayer } from '@wet-lacquer/core/livery/livery.ts';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import type { Edit } from '@wet-lacquer/core/livery/edit.ts';
import { Notice } from '../parts/Notice.tsx';
import { useEasel, useLivery } from './context.ts';
import { useSession } from './session.ts';

/** Steps whose target is gone: shown until they are put on another layer or let go. */
export function SetAsideBar() {
  const { doc } = useEasel();
  const livery = useLivery();
  const aside = doc.use((s) => s.setAside);
  const chosen = useSession((s) => s.chosen);
  if (aside.length === 0) return null;
  const { entry, why } = aside[0];
  const target = chosen ? findLayer(livery, chosen as LayerId)?.layer : null;
  const other: Edit | null = target && entry.edit.do === 'set-layer' ? { ...entry.edit, layer: target.id } : null;
  const apply = () => {
    try {
      doc.settle(entry.id, other);
    } catch {
      doc.settle(entry.id, null);
    }
  };
  return (
    <div style={{ padding: 6 }}>
      <Notice
        level="warning"
        action={
          <>
            {other && (
              <Button size="small" onClick={apply}>
                Put it on {target!.name}
              </Button>
            )}
            <Button size="small" onClick={() => doc.settle(entry.id, null)}>
              Let it go
            </Button>
          </>
        }
      >
        Set aside: “{entry.label}”. {why}
        {aside.length > 1 && ` And ${aside.length - 1} more.`}
      </Notice>
    </div>
  );
}
