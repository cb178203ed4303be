import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { memo, type MouseEvent } from 'react';
import { hexOfRgb } from '@wet-lacquer/core/colour/hex.ts';
import { paintsOf, type Layer } from '@wet-lacquer/core/livery/layer.ts';
import { finishOf } from '@wet-lacquer/core/livery/finish.ts';
import { colourOf, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import { CUT_OFF, Quiet } from '../../parts/text.tsx';
import { CONDENSED, INK } from '../../theme.ts';
import { useTemplate } from '../context.ts';
import { choose, chooseAlso, toggleClosed, useSession } from '../session.ts';
import { FinishChip } from '../FinishChip.tsx';
import { LayerThumb } from './LayerThumb.tsx';
import { describe } from './words.ts';
import { LayersOutline, PinOutline } from '../../parts/icons.tsx';

interface SpineProps {
  layer: Layer;
  scheme: Livery['scheme'];
  /** The livery's finishes; left out: those that every livery begins with. */
  finishes: Livery['finishes'];
  depth: number;
  begins: boolean;
  ends: boolean;
  clipped: boolean;
  chosen: boolean;
  also: boolean;
  tabbable: boolean;
  list: boolean;
}

/** The edge of a layer that keeps to parts. */
const HATCH = `repeating-linear-gradient(135deg, ${INK.edge} 0 2px, ${INK.panel} 2px 4px)`;

/** One layer: a narrow spine, a card when it is chosen, a row in the list. */
export const Spine = memo(function Spine({
  layer,
  scheme,
  finishes,
  depth,
  begins,
  ends,
  clipped,
  chosen,
  also,
  tabbable,
  list,
}: SpineProps) {
  const template = useTemplate();
  const closed = useSession((s) => s.closed.has(layer.id));
  const {
    attributes: _attributes,
    listeners,
    setNodeRef,
    transform,
    transition,
    isDragging,
  } = useSortable({ id: layer.id });
  const finish = finishOf({ finishes }, layer.finish);
  const says = [
    layer.name,
    describe(layer, template),
    finish && `finished in ${finish.name}`,
    layer.lit && (layer.lit.only ? 'at night alone' : 'lit at night'),
    clipped && 'clipped',
    layer.hidden && 'hidden',
    layer.locked && 'locked',
  ]
    .filter(Boolean)
    .join(', ');
  const common = {
    ref: setNodeRef,
    role: 'treeitem',
    'aria-selected': chosen || also,
    'aria-level': depth + 1,
    ...(layer.kind === 'group' && { 'aria-expanded': !closed }),
    'aria-label': says,
    title: says,
    tabIndex: tabbable ? 0 : -1,
    'data-layer': layer.id,
    onClick: (event: MouseEvent) => {
      if (event.ctrlKey || event.metaKey || event.shiftKey) chooseAlso(layer.id);
      else if (chosen && layer.kind === 'group') toggleClosed(layer.id);
      else choose(layer.id);
    },
    ...listeners,
  } as const;
  const moved = {
    transform: CSS.Translate.toString(transform),
    transition,
    opacity: isDragging ? 0.6 : 1,
    zIndex: isDragging ? 2 : undefined,
  };
  const edge = chosen || also ? INK.accent : layer.parts.length > 0 ? INK.edge : INK.line;
  const top = <ColourStrip layer={layer} scheme={scheme} list={list} />;
  if (list) {
    return (
      <li
        {...common}
        style={{
          ...moved,
          breakInside: 'avoid',
          display: 'flex',
          alignItems: 'center',
          gap: 8,
          minHeight: 'max(26px, var(--spine))',
          padding: `0 6px 0 ${6 + depth * 14 + (clipped ? 8 : 0)}px`,
          marginBottom: 2,
          border: `1px solid ${chosen || also ? INK.accent : 'transparent'}`,
          borderRadius: 2,
          background: chosen ? INK.raised : 'transparent',
          cursor: 'pointer',
        }}
      >
        {top}
        <span
          style={{
            flex: 1,
            ...CUT_OFF,
            color: layer.hidden ? INK.quiet : INK.text,
          }}
        >
          {layer.name}
        </span>
        {finish && <FinishChip livery={{ finishes }} finish={finish} />}
        {layer.locked && <PinOutline sx={{ fontSize: 13 }} />}
        <Quiet small>{layer.hidden ? 'hidden' : layer.phase}</Quiet>
      </li>
    );
  }
  return (
    <li
      {...common}
      style={{
        ...moved,
        flex: 'none',
        width: chosen ? 136 : `max(${begins && ends ? 42 : layer.kind === 'group' ? 34 : 27}px, var(--spine))`,
        // Layers in a group hang from its bar, one lower for each group around them.
        paddingTop: depth * 5 + (clipped ? 10 : 0),
        boxShadow: depth > 0 ? `inset 0 ${5 * depth - 3}px 0 ${INK.edge}` : undefined,
        display: 'flex',
        flexDirection: 'column',
        paddingRight: !ends ? 2 : begins && !chosen ? 17 : 8,
        cursor: 'pointer',
        outlineOffset: -2,
      }}
    >
      <div
        style={{
          flex: 1,
          minHeight: 0,
          display: 'flex',
          flexDirection: 'column',
          overflow: 'hidden',
          position: 'relative',
          border: `1px ${layer.hidden ? 'dashed' : 'solid'} ${edge}`,
          borderTop: chosen ? `1px solid ${INK.text}` : undefined,
          borderRadius: 2,
          background: layer.hidden ? 'transparent' : chosen ? INK.raised : INK.panel,
        }}
      >
        {layer.parts.length > 0 && (
          <span aria-hidden style={{ position: 'absolute', left: 0, top: 0, bottom: 0, width: 3, background: HATCH }} />
        )}
        {chosen ? <LayerThumb layer={layer} /> : top}
        {chosen ? <CardName layer={layer} finishes={finishes} /> : <SpineName layer={layer} />}
        {finish && !chosen && (
          <span style={{ display: 'flex', flex: 'none', padding: '0 3px 3px' }}>
            <FinishChip livery={{ finishes }} finish={finish} width={17} />
          </span>
        )}
        {layer.locked && !chosen && (
          <PinOutline aria-hidden sx={{ fontSize: 12, alignSelf: 'center', mb: '2px', flex: 'none' }} />
        )}
      </div>
      <div
        aria-hidden
        style={{
          height: 17,
          fontFamily: CONDENSED,
          fontSize: 11.5,
          color: INK.quiet,
          borderTop: `1px solid ${INK.edge}`,
          marginTop: 4,
          marginRight: ends ? 0 : -2,
          whiteSpace: 'nowrap',
          overflow: 'visible',
        }}
      >
        {begins ? layer.phase.toLowerCase() : ''}
      </div>
    </li>
  );
});

/** The colours that a layer wears, or that it holds others. */
function ColourStrip({ layer, scheme, list }: Pick<SpineProps, 'layer' | 'scheme' | 'list'>) {
  const strip = paintsOf(layer)
    .slice(0, 3)
    .map((paint) => hexOfRgb(colourOf({ scheme }, paint)));
  return (
    <span
      aria-hidden
      style={{
        display: 'flex',
        height: list ? 18 : 16,
        width: list ? 26 : '100%',
        flex: 'none',
        opacity: layer.hidden ? 0.25 : 1,
      }}
    >
      {layer.kind === 'group' ? (
        <LayersOutline sx={{ fontSize: 14, m: 'auto', color: INK.quiet }} />
      ) : (
        (strip.length > 0 ? strip : ['#6a6a6a']).map((hex, i) => <span key={i} style={{ flex: 1, background: hex }} />)
      )}
    </span>
  );
}

function CardName({ layer, finishes }: Pick<SpineProps, 'layer' | 'finishes'>) {
  const template = useTemplate();
  const finish = finishOf({ finishes }, layer.finish);
  return (
    <div style={{ padding: '3px 6px 4px', minHeight: 0 }}>
      <div style={{ display: 'flex', alignItems: 'center', gap: 6 }}>
        <span style={{ flex: 1, fontWeight: 600, ...CUT_OFF }}>{layer.name}</span>
        {finish && <FinishChip livery={{ finishes }} finish={finish} width={20} />}
      </div>
      <div
        style={{
          color: INK.quiet,
          fontSize: 11,
          ...CUT_OFF,
        }}
      >
        {describe(layer, template)}
      </div>
    </div>
  );
}

/** A name, read from below. */
export function SpineName({ layer }: { layer: Pick<Layer, 'name'> & { hidden?: boolean } }) {
  return (
    <span
      style={{
        flex: 1,
        minHeight: 0,
        writingMode: 'vertical-rl',
        transform: 'rotate(180deg)',
        fontFamily: CONDENSED,
        fontSize: 12,
        lineHeight: '23px',
        padding: '4px 0 3px',
        ...CUT_OFF,
        color: layer.hidden ? INK.quiet : INK.text,
      }}
    >
      {layer.name}
    </span>
  );
}
