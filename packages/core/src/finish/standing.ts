/** Layers that stand in a tree for what follows from them: each as its coverage, in what it brings. */
import type { LayerId } from '../livery/ids.ts';
import { isOff, type Layer } from '../livery/layer.ts';
import { filterData } from '../livery/paint.ts';
import type { LayerNode, Wears } from '../livery/tree.ts';

/** What a layer is that nobody made: groups and grounds of derived trees. */
export const BASE = {
  phase: 'Base',
  hidden: false,
  locked: true,
  opacity: 100,
  blend: 'normal',
  parts: [] as string[],
} as const;

/** How layers stand in a derived tree. */
export interface Standing<T> {
  /** What a layer brings, the group about it bringing something itself. */
  brings(layer: Layer, around: T | undefined): T | undefined;
  /** What it wears by that; null: it has nothing of its own there. */
  wears(layer: Layer, brought: T | undefined): Wears | null;
  as(layer: Layer, brought: T | undefined): Layer;
  /** What a node wears that only holds others, or has others on it. */
  nothing: Wears;
}

/** The nodes that wear something, each as it stands; those that wear nothing are left out. @param around what the group about them brings */
export function standing<T>(
  nodes: readonly LayerNode[],
  how: Standing<T>,
  around: T | undefined = undefined,
): LayerNode[] {
  return nodes.flatMap((node): LayerNode[] => {
    const { layer } = node;
    if (isOff(layer) || layer.kind === 'adjust') return [];
    const own = how.brings(layer, around);
    const inside = standing(node.inside, how, own);
    // What is clipped to a layer lies on it: its own, or none.
    const clipped = standing(node.clipped, how, around);
    const wears = how.wears(layer, own);
    if (!wears && inside.length === 0 && clipped.length === 0) return [];
    return [
      {
        layer: how.as(layer, own),
        inside,
        clipped,
        wears: wears ?? how.nothing,
        ...(clipped.length > 0 && { base: node }),
      },
    ];
  });
}

/** Whether a layer, or a group with what it holds, has paint of its own. */
export const covers = (layer: Layer): boolean =>
  layer.kind !== 'adjust' && !(layer.channels?.length === 1 && layer.channels[0] === 'alpha');

/** A layer as far as its coverage goes: changes of colour alone are left out, unless its colours count. */
export function asCoverage(layer: Layer, name: string, colours = false): Layer {
  const { channels: _channels, clipped: _clipped, finishOnly: _only, lit: _lit, filters, ...rest } = layer;
  const kept = filters?.filter((filter) => colours || !filterData(filter).alone);
  return {
    ...rest,
    id: `${layer.id}~${name}` as LayerId,
    blend: 'normal',
    ...(kept?.length && { filters: kept }),
  } as Layer;
}
