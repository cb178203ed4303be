import { closestCenter, DndContext, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core';
import { horizontalListSortingStrategy, rectSortingStrategy, SortableContext, useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import PushPin from '@mui/icons-material/PushPinOutlined';
import { InputBase } from '@mui/material';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { paintsOf } from '@wet-lacquer/core/livery/layer.ts';
import { colourOf, layersOf, type Livery } from '@wet-lacquer/core/livery/livery.ts';
import { hexOfRgb } from '@wet-lacquer/core/colour/hex.ts';
import { CONDENSED, INK } from '../../theme.ts';
import { duplicateLayer, moveLayer, removeLayer, toggle } from '../actions.ts';
import { useEasel, useShown, useTemplate } from '../context.ts';
import { choose, useSession } from '../session.ts';
import { LayerThumb } from './LayerThumb.tsx';
import { ShelfHead } from './ShelfHead.tsx';
import { describe } from './words.ts';

/** The build-up: layers like records on a shelf, first on at the left. Pulled up it is a list of the same layers. */
export function Shelf() {
  const { doc } = useEasel();
  const shown = useShown();
  const { sheet, chosen, listOpen } = useSession();
  const [search, setSearch] = useState('');
  const layers = layersOf(shown, sheet);
  const wanted = search.trim().toLowerCase();
  const listed = listOpen && wanted ? layers.filter((layer) => layer.name.toLowerCase().includes(wanted)) : layers;
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const tree = useRef<HTMLUListElement>(null);

  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    moveLayer(
      doc,
      String(active.id),
      layers.findIndex((layer) => layer.id === over.id),
    );
  };
  const focusLayer = (id: string) =>
    requestAnimationFrame(() => tree.current?.querySelector<HTMLElement>(`[data-layer="${CSS_escape(id)}"]`)?.focus());
  const key = (event: KeyboardEvent) => {
    const at = layers.findIndex((layer) => layer.id === chosen);
    const layer = layers[at];
    const step: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -1, ArrowDown: 1 };
    const by = step[event.key];
    const handled = (() => {
      if (by !== undefined && event.altKey && layer) moveLayer(doc, layer.id, at + by);
      else if (by !== undefined) {
        const next = layers[Math.max(0, Math.min(layers.length - 1, at + by))];
        if (next) {
          choose(next.id);
          focusLayer(next.id);
        }
      } else if (event.key === 'Home' && layers[0]) choose(layers[0].id);
      else if (event.key === 'End' && layers.length > 0) choose(layers[layers.length - 1].id);
      else if (event.key === 'Delete' && layer) removeLayer(doc, layer.id);
      else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'd' && layer)
        duplicateLayer(doc, layer.id);
      else if (event.key === 'h' && !event.ctrlKey && !event.metaKey && layer) toggle(doc, layer.id, 'hidden');
      else if (event.key === 'l' && !event.ctrlKey && !event.metaKey && layer) toggle(doc, layer.id, 'locked');
      else if ((event.key === 'Enter' || event.key === 'F2') && layer)
        useSession.setState({ column: 'chosen', focus: 'layer-name' });
      else return false;
      return true;
    })();
    if (handled) event.preventDefault();
  };

  useEffect(() => {
    tree.current?.querySelector('[aria-selected="true"]')?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [chosen]);

  const items = listed.map((layer, i) => (
    <Spine
      key={layer.id}
      layer={layer}
      livery={shown}
      first={i === 0}
      chosen={layer.id === chosen}
      tabbable={layer.id === chosen || (i === 0 && !layers.some((l) => l.id === chosen))}
      list={listOpen}
    />
  ));
  return (
    <section
      aria-label="Build-up"
      style={{
        height: listOpen ? 360 : 158,
        flex: 'none',
        display: 'flex',
        flexDirection: 'column',
        background: INK.deep,
        borderTop: `1px solid ${INK.line}`,
      }}
    >
      <ShelfHead
        layers={layers}
        search={
          listOpen ? (
            <InputBase
              value={search}
              onChange={(event) => setSearch(event.target.value)}
              placeholder="Search layers"
              inputProps={{ 'aria-label': 'Search layers' }}
              sx={{
                width: 150,
                border: `1px solid ${INK.edge}`,
                borderRadius: '2px',
                px: 1,
                height: 26,
                background: INK.raised,
              }}
            />
          ) : null
        }
      />
      {layers.length === 0 ? (
        <p style={{ margin: '14px 14px', color: INK.quiet }}>
          This sheet is bare. Put a base on with the + beside Base, or drop a picture on the sheet.
        </p>
      ) : (
        <DndContext
          sensors={sensors}
          collisionDetection={closestCenter}
          onDragEnd={drop}
          accessibility={{ screenReaderInstructions: { draggable: 'Alt with the arrow keys moves the layer.' } }}
        >
          <SortableContext
            items={listed.map((layer) => layer.id)}
            strategy={listOpen ? rectSortingStrategy : horizontalListSortingStrategy}
          >
            <ul
              ref={tree}
              role="tree"
              aria-label="Layers, first on at the start"
              aria-orientation={listOpen ? 'vertical' : 'horizontal'}
              onKeyDown={key}
              style={
                listOpen
                  ? {
                      flex: 1,
                      overflow: 'auto',
                      columnWidth: 260,
                      columnGap: 16,
                      padding: '4px 12px',
                      margin: 0,
                      listStyle: 'none',
                    }
                  : {
                      flex: 1,
                      display: 'flex',
                      overflowX: 'auto',
                      overflowY: 'hidden',
                      padding: '0 12px 4px',
                      margin: 0,
                      listStyle: 'none',
                      alignItems: 'stretch',
                    }
              }
            >
              {items}
            </ul>
          </SortableContext>
        </DndContext>
      )}
    </section>
  );
}

const CSS_escape = (text: string) => globalThis.CSS.escape(text);

interface SpineProps {
  layer: Layer;
  livery: Livery;
  first: boolean;
  chosen: boolean;
  tabbable: boolean;
  list: boolean;
}

/** One layer: a narrow spine, a card when it is chosen, a row in the list. */
function Spine({ layer, livery, first, chosen, tabbable, list }: SpineProps) {
  const template = useTemplate();
  const { sheet } = useSession();
  const {
    attributes: _attributes,
    listeners,
    setNodeRef,
    transform,
    transition,
    isDragging,
  } = useSortable({ id: layer.id });
  const layers = layersOf(livery, sheet);
  const at = layers.findIndex((l) => l.id === layer.id);
  const begins = first || layers[at - 1]?.phase !== layer.phase;
  const ends = at === layers.length - 1 || layers[at + 1].phase !== layer.phase;
  const strip = paintsOf(layer)
    .slice(0, 3)
    .map((paint) => hexOfRgb(colourOf(livery, paint)));
  const says = [layer.name, describe(layer, template), layer.hidden && 'hidden', layer.locked && 'locked']
    .filter(Boolean)
    .join(', ');
  const common = {
    ref: setNodeRef,
    role: 'treeitem',
    'aria-selected': chosen,
    'aria-label': says,
    title: says,
    tabIndex: tabbable ? 0 : -1,
    'data-layer': layer.id,
    onClick: () => choose(layer.id),
    ...listeners,
  } as const;
  const moved = {
    transform: CSS.Translate.toString(transform),
    transition,
    opacity: isDragging ? 0.6 : 1,
    zIndex: isDragging ? 2 : undefined,
  };
  const edge = chosen ? INK.accent : layer.parts.length > 0 ? INK.edge : INK.line;
  const top = (
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
      {(strip.length > 0 ? strip : ['#6a6a6a']).map((hex, i) => (
        <span key={i} style={{ flex: 1, background: hex }} />
      ))}
    </span>
  );
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
          minHeight: 26,
          padding: '0 6px',
          marginBottom: 2,
          border: `1px solid ${chosen ? INK.accent : 'transparent'}`,
          borderRadius: 2,
          background: chosen ? INK.raised : 'transparent',
          cursor: 'pointer',
        }}
      >
        {top}
        <span
          style={{
            flex: 1,
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            whiteSpace: 'nowrap',
            color: layer.hidden ? INK.quiet : INK.text,
          }}
        >
          {layer.name}
        </span>
        {layer.locked && <PushPin sx={{ fontSize: 13 }} />}
        <span style={{ color: INK.quiet, fontSize: 12 }}>{layer.hidden ? 'hidden' : layer.phase}</span>
      </li>
    );
  }
  return (
    <li
      {...common}
      style={{
        ...moved,
        flex: 'none',
        width: chosen ? 136 : 27,
        display: 'flex',
        flexDirection: 'column',
        paddingRight: ends ? 8 : 2,
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
          border: `1px ${layer.hidden ? 'dashed' : 'solid'} ${edge}`,
          borderTop: chosen ? '1px solid #ffffff' : undefined,
          borderLeft: layer.parts.length > 0 ? `3px dotted ${INK.quiet}` : undefined,
          borderRadius: 2,
          background: layer.hidden ? 'transparent' : chosen ? INK.raised : INK.panel,
        }}
      >
        {chosen ? <LayerThumb layer={layer} /> : top}
        {chosen ? (
          <div style={{ padding: '3px 6px 4px', minHeight: 0 }}>
            <div style={{ fontWeight: 600, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
              {layer.name}
            </div>
            <div
              style={{
                color: INK.quiet,
                fontSize: 11,
                overflow: 'hidden',
                textOverflow: 'ellipsis',
                whiteSpace: 'nowrap',
              }}
            >
              {describe(layer, template)}
            </div>
          </div>
        ) : (
          <span
            style={{
              flex: 1,
              minHeight: 0,
              writingMode: 'vertical-rl',
              transform: 'rotate(180deg)',
              fontFamily: CONDENSED,
              fontSize: 12,
              lineHeight: '22px',
              padding: '4px 0 2px',
              overflow: 'hidden',
              textOverflow: 'ellipsis',
              whiteSpace: 'nowrap',
              color: layer.hidden ? INK.quiet : INK.text,
            }}
          >
            {layer.name}
          </span>
        )}
        {layer.locked && !chosen && (
          <PushPin aria-hidden sx={{ fontSize: 12, alignSelf: 'center', mb: '2px', flex: 'none' }} />
        )}
      </div>
      <div
        aria-hidden
        style={{
          height: 17,
          fontFamily: CONDENSED,
          fontSize: 12,
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
}
