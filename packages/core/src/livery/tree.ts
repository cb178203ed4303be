/** The layers of a map as a tree: groups hold the layers that name them, and layers that are clipped hang on their base. */
import type { LayerId } from './ids.ts';
import type { Layer } from './layer.ts';

export interface LayerNode {
  layer: Layer;
  /** What a group holds, first on first; empty for others. */
  inside: readonly LayerNode[];
  /** Layers that show only where this one has paint, first on first. */
  clipped: readonly LayerNode[];
  /** It is drawn as its coverage in one value, not in its colours; see finish/derived.ts. */
  wears?: Wears;
  /** Whose coverage limits what is clipped to it; left out: its own. */
  base?: LayerNode;
  /** What it holds are layers of this map. */
  of?: string;
  /** Its picture is made dark; see finish/night.ts. */
  dims?: Dims;
  /** What it holds are light and dark: light where these nodes, the same ones in white and black, are white. */
  shares?: readonly LayerNode[];
  /** It is the shine about what is lit: nothing of its own. */
  glow?: Glow;
}

/** What becomes of colours at night: shares of 65535. */
export interface Dims {
  /** Of red, green and blue. */
  by: readonly [number, number, number];
  /** How much of the colour is kept beside its brightness. */
  colour: number;
}

/** Something that is lit, on one sheet or several. */
export interface Glow {
  /** Its run over sheets, or its own id. */
  key: string;
  /** 16-bit straight RGB; null: the colours of what is lit. */
  texel: readonly [number, number, number] | null;
  /** Share of 65535. */
  strength: number;
  /** Metres. */
  spread: number;
  flicker: { dark: number; seed: number } | null;
  /** Where it lies on each sheet that has it: nodes that are white there and black where something covers it; see finish/night.ts. */
  on: readonly { sheet: string; nodes: readonly LayerNode[]; colours: readonly LayerNode[] }[];
}

/** What stands in for a layer's colours. */
export interface Wears {
  /** 16-bit straight RGB; null: nothing of its own, only what it holds and what is clipped to it; own: its colours as they are. */
  texel: readonly [number, number, number] | 'own' | null;
  /** Where it covers at least half it is there whole, elsewhere not at all. */
  hard: boolean;
  /** It stands for light, where all others are black. */
  lit?: true;
  /** How bright it is where it is lit. */
  light?: Light;
}

/** Light of a layer: a share of 65535, and of its pieces some are dark. */
export interface Light {
  share: number;
  flicker: Glow['flicker'];
  /** Nodes that are white where the layer can be seen: its pieces are told by them. */
  seen: readonly LayerNode[];
}

const trees = new WeakMap<readonly Layer[], readonly LayerNode[]>();

/** The tree of a map's layers. Every layer is in it once: one whose group is gone, or that would hold itself, stands outside. */
export function treeOf(layers: readonly Layer[]): readonly LayerNode[] {
  const known = trees.get(layers);
  if (known) return known;
  const made = build(layers);
  trees.set(layers, made);
  return made;
}

const leaves = new WeakMap<Layer, LayerNode>();

/** A layer that stands by itself: the same node as long as it is the same layer. */
function leafOf(layer: Layer): LayerNode {
  const known = leaves.get(layer);
  if (known) return known;
  const made = { layer, inside: [], clipped: [] };
  leaves.set(layer, made);
  return made;
}

function build(layers: readonly Layer[]): LayerNode[] {
  if (layers.every(({ group, clipped, kind }) => group === undefined && !clipped && kind !== 'group'))
    return layers.map(leafOf);
  const byGroup = new Map<LayerId | null, Layer[]>();
  for (const layer of layers) {
    const home = groupOf(layers, layer)?.id ?? null;
    const known = byGroup.get(home);
    if (known) known.push(layer);
    else byGroup.set(home, [layer]);
  }
  const list = (home: LayerId | null): LayerNode[] => {
    const nodes: LayerNode[] = [];
    let base: { clipped: LayerNode[] } | null = null;
    for (const layer of byGroup.get(home) ?? []) {
      const node = { layer, inside: layer.kind === 'group' ? list(layer.id) : [], clipped: [] as LayerNode[] };
      if (layer.clipped && base) base.clipped.push(node);
      else {
        base = node;
        nodes.push(node);
      }
    }
    return nodes;
  };
  return list(null);
}

/** A layer's node, however deep it is. */
export function findNode(nodes: readonly LayerNode[], id: string): LayerNode | null {
  for (const node of nodes) {
    if (node.layer.id === id) return node;
    const found = findNode(node.inside, id) ?? findNode(node.clipped, id);
    if (found) return found;
  }
  return null;
}

/** The group that holds a layer, or null. */
export function groupOf(layers: readonly Layer[], layer: Layer): Layer | null {
  if (layer.group === undefined) return null;
  const find = (id: LayerId | undefined) => layers.find((l) => l.id === id && l.kind === 'group') ?? null;
  const group = find(layer.group);
  const seen = new Set<LayerId>([layer.id]);
  for (let at = group; at; at = find(at.group)) {
    if (seen.has(at.id)) return null;
    seen.add(at.id);
  }
  return group;
}

/** The groups around a layer, innermost first. */
export function groupsAround(layers: readonly Layer[], layer: Layer): Layer[] {
  const all: Layer[] = [];
  for (let at = groupOf(layers, layer); at; at = groupOf(layers, at)) all.push(at);
  return all;
}

/** A group and everything in it, in the order of the build-up; any other layer alone. */
export function withInside(layers: readonly Layer[], layer: Layer): Layer[] {
  if (layer.kind !== 'group') return [layer];
  return layers.filter((other) => other === layer || groupsAround(layers, other).includes(layer));
}
