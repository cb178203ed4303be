import { findLayer } from '@wet-lacquer/core/livery/livery.ts';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { Row } from '../../parts/layout.tsx';
import { INK } from '../../theme.ts';
import { useLivery } from '../context.ts';
import { HANDS, isPainting, takeInHand, useHand } from '../hand.ts';
import { useSessionOf } from '../session.ts';
import { MapTabs } from './MapTabs.tsx';
import { UnderPointer } from './UnderPointer.tsx';

/** What is in hand, always in the same place at the top of the sheet, with the layer that it works on. */
export function HandBar({ sheet }: { sheet: TemplateSheet }) {
  const { hand, onMask, selections } = useHand();
  const { chosen, run } = useSessionOf('chosen', 'run');
  const livery = useLivery();
  const layer = chosen ? findLayer(livery, chosen as LayerId)?.layer : undefined;
  // On a surface only brushwork that runs over it takes a stroke.
  const isBrushwork = layer?.kind === 'brush' && (run === null || layer.across !== undefined);
  const takes = layer && !layer.locked && !layer.hidden && (isBrushwork || (onMask && layer.mask));
  const on = !isPainting(hand)
    ? hand === 'tape'
      ? selections.some((one) => one.sheet === sheet.key)
        ? 'Work keeps to what is not hatched'
        : selections.length > 0
          ? `Work keeps to a region of ${selections.map((one) => one.sheet).join(', ')}`
          : 'Nothing is taped off'
      : null
    : takes
      ? `On ${onMask && layer.mask ? 'the mask of ' : ''}${layer.name}`
      : 'On new brushwork above';
  return (
    <div
      style={{
        position: 'absolute',
        left: 0,
        right: 0,
        top: 0,
        minHeight: 30,
        display: 'flex',
        flexWrap: 'wrap',
        alignItems: 'center',
        gap: 8,
        padding: '2px 8px',
        background: INK.panel,
        borderBottom: `1px solid ${INK.line}`,
      }}
    >
      <Row role="radiogroup" aria-label="In hand" align="stretch" gap={2}>
        {HANDS.map((one) => (
          <button
            key={one.hand}
            type="button"
            role="radio"
            aria-checked={hand === one.hand}
            title={`${one.name}: ${one.what} (${one.key})`}
            onClick={() => takeInHand(one.hand)}
            style={{
              minHeight: 24,
              padding: '0 8px',
              border: 0,
              borderBottom: `2px solid ${hand === one.hand ? INK.accent : 'transparent'}`,
              background: hand === one.hand ? INK.raised : 'transparent',
              color: hand === one.hand ? INK.text : INK.quiet,
              font: 'inherit',
              cursor: 'pointer',
            }}
          >
            {one.name}
          </button>
        ))}
      </Row>
      {on && (
        <span
          data-testid="paints-on"
          style={{
            color: takes || hand === 'tape' ? INK.text : INK.amber,
            overflow: 'hidden',
            textOverflow: 'ellipsis',
          }}
        >
          {on}
        </span>
      )}
      {hand === 'place' && <UnderPointer />}
      <span style={{ marginLeft: 'auto' }} />
      <MapTabs sheet={sheet} />
    </div>
  );
}
