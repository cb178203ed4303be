import { closestCenter, DndContext, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core';
import { horizontalListSortingStrategy, rectSortingStrategy, SortableContext } from '@dnd-kit/sortable';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { layersOf } from '@wet-lacquer/core/livery/livery.ts';
import { sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import { INK } from '../../theme.ts';
import { groupOf, withInside } from '@wet-lacquer/core/livery/tree.ts';
import { moveLayer } from '../actions.ts';
import { commandFor, type Reach } from '../commands/commands.ts';
import { keyName } from '../commands/keys.ts';
import { Row } from '../../parts/layout.tsx';
import { PlateShelf } from '../plates/PlateShelf.tsx';
import { useEasel, useLivery, useTemplate } from '../context.ts';
import { choose, chooseAlso, toggleClosed, useSession, useSessionOf } from '../session.ts';
import { shelfHeight } from '../sizes.ts';
import { shelfRows } from './shelfRows.ts';
import { ShelfHead } from './ShelfHead.tsx';
import { Spine } from './Spine.tsx';

/** A press that goes so many pixels drags. */
const DRAGS = { activationConstraint: { distance: 5 } };

/** The build-up: layers like records on a shelf, first on at the left. Pulled up it is a list of the same layers. */
export function Shelf({ reach }: { reach: Reach }) {
  const { doc } = useEasel();
  const livery = useLivery();
  const template = useTemplate();
  const { sheet, map, chosen, also, closed, listOpen } = useSessionOf(
    'sheet',
    'map',
    'chosen',
    'also',
    'closed',
    'listOpen',
  );
  const [search, setSearch] = useState('');
  const layers = layersOf(livery, sheet, map);
  const rows = shelfRows(layers, closed);
  const wanted = search.trim().toLowerCase();
  const listed =
    listOpen && wanted
      ? shelfRows(layers, new Set()).filter(({ layer }) => layer.name.toLowerCase().includes(wanted))
      : rows;
  const sensors = useSensors(useSensor(PointerSensor, DRAGS));
  const tree = useRef<HTMLUListElement>(null);

  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const target = layers.find((layer) => layer.id === over.id);
    const moved = layers.find((layer) => layer.id === active.id);
    // It goes where the other is, into its group; a group cannot go into itself.
    if (!target || !moved || withInside(layers, moved).includes(target)) return;
    moveLayer(doc, moved.id, layers.indexOf(target), groupOf(layers, target)?.id ?? null);
  };
  const focusLayer = (id: string) =>
    requestAnimationFrame(() => tree.current?.querySelector<HTMLElement>(`[data-layer="${CSS.escape(id)}"]`)?.focus());
  const key = (event: KeyboardEvent) => {
    const at = rows.findIndex(({ layer }) => layer.id === chosen);
    const layer = rows[at]?.layer;
    const step: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -1, ArrowDown: 1 };
    const by = step[event.key];
    const handled = (() => {
      if (by !== undefined && event.altKey && layer) moveLayer(doc, layer.id, layers.indexOf(layer) + by);
      else if (by !== undefined) {
        const next = rows[Math.max(0, Math.min(rows.length - 1, at + by))]?.layer;
        if (next) {
          if (event.shiftKey && chosen) chooseAlso(next.id);
          else choose(next.id);
          focusLayer(next.id);
        }
      } else if (event.key === 'Home' && rows[0]) choose(rows[0].layer.id);
      else if (event.key === 'End' && rows.length > 0) choose(rows[rows.length - 1].layer.id);
      else if (event.key === ' ' && layer?.kind === 'group') toggleClosed(layer.id);
      else if (event.key === 'Enter' && layer) useSession.setState({ column: 'chosen', focus: 'layer-name' });
      else {
        const command = commandFor(keyName(event), 'shelf');
        if (!command) return false;
        if (command.can?.(reach) !== false) command.run(reach);
      }
      return true;
    })();
    if (handled) event.preventDefault();
  };

  useEffect(() => {
    tree.current?.querySelector('[aria-selected="true"]')?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [chosen]);

  const ids = useSameList(listed.map(({ layer }) => layer.id));
  const items = listed.map(({ layer, depth, begins, ends, clipped }, i) => (
    <Spine
      key={layer.id}
      layer={layer}
      scheme={livery.scheme}
      finishes={livery.finishes}
      depth={depth}
      begins={begins}
      ends={ends}
      clipped={clipped}
      chosen={layer.id === chosen}
      also={also.has(layer.id)}
      tabbable={layer.id === chosen || (i === 0 && !layers.some((l) => l.id === chosen))}
      list={listOpen}
    />
  ));
  return (
    <section
      aria-label="Build-up"
      style={{
        height: shelfHeight(listOpen),
        flex: 'none',
        display: 'flex',
        flexDirection: 'column',
        background: INK.deep,
        borderTop: `1px solid ${INK.line}`,
      }}
    >
      <ShelfHead search={search} onSearch={setSearch} />
      <Row align="stretch" grow shrink>
        {layers.length === 0 ? (
          <p style={{ flex: 1, margin: '14px 14px', color: INK.quiet }}>
            {sheetNamed(template, sheet).plates && !livery.plates?.some((plate) => plate.sheet === sheet)
              ? 'Nothing stands on the model yet. Put a plate on it with the + beside Marks; its picture is painted here.'
              : 'This sheet is bare. Put a base on with the + beside Base, or drop a picture on the sheet.'}
          </p>
        ) : (
          <DndContext
            sensors={sensors}
            collisionDetection={closestCenter}
            onDragEnd={drop}
            accessibility={{ screenReaderInstructions: { draggable: 'Alt with the arrow keys moves the layer.' } }}
          >
            <SortableContext items={ids} strategy={listOpen ? rectSortingStrategy : horizontalListSortingStrategy}>
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
                        minWidth: 0,
                        overflow: 'auto',
                        columnWidth: 260,
                        columnGap: 16,
                        padding: '4px 12px',
                        margin: 0,
                        listStyle: 'none',
                      }
                    : {
                        flex: 1,
                        minWidth: 0,
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
        <PlateShelf reach={reach} />
      </Row>
    </section>
  );
}

/** The same list while it says the same: what hangs on it is drawn anew with each new one. */
function useSameList(ids: readonly string[]): string[] {
  const text = ids.join(' ');
  return useMemo(() => (text === '' ? [] : text.split(' ')), [text]);
}
