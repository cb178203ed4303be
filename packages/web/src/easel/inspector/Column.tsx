import type { ReactNode } from 'react';
import { findLayer } from '@wet-lacquer/core/livery/livery.ts';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import { INK } from '../../theme.ts';
import { useEasel, useLivery } from '../context.ts';
import { useSession, type Column as Which, useSessionOf } from '../session.ts';
import { isPainting, useHand } from '../hand.ts';
import { COLUMN_WIDTH } from '../sizes.ts';
import { KitPanel } from '../kit/KitPanel.tsx';
import { useKit } from '../kit/kit.ts';
import { PlatePanel } from '../plates/PlatePanel.tsx';
import { useChosenPlate } from '../plates/usePlates.ts';
import { NotesHead, NotesPanel } from '../notes/NotesPanel.tsx';
import { BrushPanel } from './BrushPanel.tsx';
import { LayerPanel } from './LayerPanel.tsx';
import { ParticularsPanel } from './ParticularsPanel.tsx';
import { SchemePanel } from './SchemePanel.tsx';
import { SheetPanel } from './SheetPanel.tsx';
import { TapePanel } from './TapePanel.tsx';

const HEADS: readonly { key: Which; label: ReactNode }[] = [
  { key: 'chosen', label: 'Chosen' },
  { key: 'scheme', label: 'Scheme' },
  { key: 'particulars', label: 'Particulars' },
  { key: 'notes', label: <NotesHead /> },
];

/** The right column: a kit that is asked about, or what is chosen, the scheme, the particulars, the notes. */
export function Column() {
  const { doc } = useEasel();
  const { brought } = useKit();
  return (
    <aside
      aria-label="Details"
      style={{
        width: COLUMN_WIDTH,
        flex: 'none',
        background: INK.panel,
        borderLeft: `1px solid ${INK.line}`,
        display: 'flex',
        flexDirection: 'column',
      }}
    >
      {brought?.doc === doc ? (
        <div style={ROOM}>
          <KitPanel key={brought.of} kit={brought.kit} of={brought.of} />
        </div>
      ) : (
        <Details />
      )}
    </aside>
  );
}
const ROOM = { flex: 1, overflowY: 'auto', padding: '12px 14px 20px' } as const;

function Details() {
  const { column, chosen, sheet, map } = useSessionOf('column', 'chosen', 'sheet', 'map');
  const hand = useHand((h) => h.hand);
  const plate = useChosenPlate();
  const livery = useLivery();
  const place = chosen ? findLayer(livery, chosen as LayerId) : null;
  const layer = place?.sheet === sheet && place.map === map ? place.layer : null;
  return (
    <>
      <div
        role="tablist"
        aria-label="Details"
        style={{ display: 'flex', flex: 'none', borderBottom: `1px solid ${INK.line}` }}
      >
        {HEADS.map(({ key, label }) => (
          <button
            key={key}
            type="button"
            role="tab"
            id={`tab-${key}`}
            aria-selected={column === key}
            aria-controls="details"
            onClick={() => useSession.setState({ column: key })}
            style={{
              flex: 'auto',
              padding: '0 6px',
              height: 32,
              background: column === key ? INK.raised : 'transparent',
              color: column === key ? INK.text : INK.quiet,
              border: 0,
              borderTop: `2px solid ${column === key ? INK.accent : 'transparent'}`,
              font: 'inherit',
              fontWeight: 600,
              cursor: 'pointer',
            }}
          >
            {label}
          </button>
        ))}
      </div>
      <div role="tabpanel" id="details" aria-labelledby={`tab-${column}`} tabIndex={-1} style={ROOM}>
        {column === 'scheme' ? (
          <SchemePanel />
        ) : column === 'particulars' ? (
          <ParticularsPanel />
        ) : column === 'notes' ? (
          <NotesPanel />
        ) : (
          <>
            {isPainting(hand) && <BrushPanel />}
            {hand === 'tape' && <TapePanel />}
            {hand !== 'place' && layer && (
              <hr style={{ border: 0, borderTop: `1px solid ${INK.line}`, margin: '14px 0 10px' }} />
            )}
            {layer ? (
              <LayerPanel key={layer.id} layer={layer} />
            ) : plate ? (
              <PlatePanel key={plate.id} plate={plate} />
            ) : (
              hand === 'place' && <SheetPanel />
            )}
          </>
        )}
      </div>
    </>
  );
}
