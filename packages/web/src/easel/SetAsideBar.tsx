import { Button } from '@mui/material';
import { findLayer } from '@wet-lacquer/core/livery/livery.ts';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import { reaim, type Edit } from '@wet-lacquer/core/livery/edit.ts';
import { sentenceOf } from '../lib/api.ts';
import { saveFile } from '../lib/saveFile.ts';
import { Notice } from '../parts/Notice.tsx';
import { useEasel, useLivery } from './context.ts';
import { setTrouble, useSessionOf } from './session.ts';

/** Steps that could not be: shown until they are made on something else or as they were, saved to a file, or let go. */
export function SetAsideBar() {
  const { doc } = useEasel();
  const livery = useLivery();
  const aside = doc.use((s) => s.setAside);
  const { chosen, sheet, map } = useSessionOf('chosen', 'sheet', 'map');
  if (aside.length === 0) return null;
  const [{ id, label, why, entry }] = aside;
  const target = chosen ? findLayer(livery, chosen as LayerId)?.layer : null;
  const other = entry && reaim(livery, entry.edit, { layer: target?.id ?? null, sheet, map });
  const aimed = other !== null && JSON.stringify(other) !== JSON.stringify(entry?.edit);
  const make = (edit: Edit) => {
    try {
      doc.settle(id, edit);
    } catch (error) {
      setTrouble(sentenceOf(error));
    }
  };
  const all = () =>
    saveFile(
      `${livery.particulars.key || 'livery'}-set-aside.json`,
      JSON.stringify(
        aside.map((one) => one.raw),
        null,
        1,
      ),
      'application/json',
    );
  return (
    <div style={{ padding: 6 }}>
      <Notice
        level="warning"
        action={
          <>
            {aimed && (
              <Button size="small" onClick={() => make(other)}>
                {target ? `Put it on ${target.name}` : 'Put it on this sheet'}
              </Button>
            )}
            {entry && !aimed && (
              <Button size="small" onClick={() => make(entry.edit)}>
                Try it again
              </Button>
            )}
            <Button size="small" onClick={all}>
              Save to a file
            </Button>
            <Button size="small" onClick={() => doc.settle(id, null)}>
              Let it go
            </Button>
          </>
        }
      >
        Set aside: “{label}”. {why}
        {aside.length > 1 && ` And ${aside.length - 1} more.`}
        {entry && !aimed && !target && ' Choose a layer to put it on that one.'}
      </Notice>
    </div>
  );
}
