import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { treeOf, type LayerNode } from '@wet-lacquer/core/livery/tree.ts';

/** A layer as it stands on the shelf. */
export interface ShelfRow {
  layer: Layer;
  /** Groups around it. */
  depth: number;
  /** It is the first, or the last, of neighbouring layers of one phase. */
  begins: boolean;
  ends: boolean;
  /** It hangs on the layer before it. */
  clipped: boolean;
}

/** Layers in the order of the shelf: a group, then what it holds unless it is closed. */
export function shelfRows(layers: readonly Layer[], closed: ReadonlySet<string>): ShelfRow[] {
  const rows: Omit<ShelfRow, 'begins' | 'ends'>[] = [];
  const walk = (nodes: readonly LayerNode[], depth: number, clipped: boolean) => {
    for (const node of nodes) {
      rows.push({ layer: node.layer, depth, clipped });
      if (!closed.has(node.layer.id)) walk(node.inside, depth + 1, false);
      walk(node.clipped, depth, true);
    }
  };
  walk(treeOf(layers), 0, false);
  return rows.map((row, i) => ({
    ...row,
    begins: rows[i - 1]?.layer.phase !== row.layer.phase,
    ends: rows[i + 1]?.layer.phase !== row.layer.phase,
  }));
}
