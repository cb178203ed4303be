/** Names of what tiles show: numbers, equal where the texels are. */
import type { Region } from '../layers/kind.ts';
import { contentOf, fromOutside, settingsText, strokesOf, strokeText, type Sight } from '../depends/content.ts';
import { isUnseen, type Layer } from '../livery/layer.ts';
import type { Livery } from '../livery/livery.ts';
import type { Stroke } from '../livery/paint.ts';
import type { LayerNode } from '../livery/tree.ts';
import { tilesReach } from '../paint/drawStrokes.ts';
import { touches, type Scene } from './renderTile.ts';
import { otherMap, otherSheet, seenBy } from './scene.ts';

/** Strokes that a cache must not keep: they grow while they are being painted. */
export const LIVE_STROKE = 'live';

/** How a tile is put together around the hot layer: named once, and good for as long as no other layer and no colour changes. */
export interface Plan {
  of: Pick<Scene, 'layers' | 'derived' | 'livery'>;
  below: Step;
  above: readonly Step[];
}

/** Nodes that are put on together, and the name of their picture if it is kept. */
export interface Step {
  nodes: readonly LayerNode[];
  key: number | null;
}

/** Plans that are kept. */
const MAX_PLANS = 600;

/** Names of contents are numbers; when there are so many that they weigh, all is forgotten at once. */
const MAX_NAMES = 400_000;

/** Names everything that a tile's look depends on; what is named by object stays named as long as the object is the same. */
export class TileNames {
  private readonly names = new Map<string, number>();
  private ofLayer = new WeakMap<Layer, { for: string; name: number }>();
  private readonly plans = new Map<string, Plan>();
  private ofStrokes = new WeakMap<readonly Stroke[], Map<number, KeptStrokes>>();

  /** @param onForget all names are let go: what is kept under them must be, too */
  constructor(private readonly onForget: () => void) {}

  where(region: Region, { livery, sheet, map }: Scene): number {
    return this.intern(`${livery.pins.template}/${sheet}/${map}/${region.x},${region.y},${region.step}`);
  }

  intern(content: string): number {
    const known = this.names.get(content);
    if (known !== undefined) return known;
    if (this.names.size >= MAX_NAMES) {
      this.names.clear();
      this.onForget();
      this.ofLayer = new WeakMap();
      this.ofStrokes = new WeakMap();
      this.plans.clear();
      this.first += MAX_NAMES;
    }
    const name = this.first + this.names.size;
    this.names.set(content, name);
    return name;
  }
  /** Numbers are never used twice: a name from before all was forgotten must not be taken for another. */
  private first = 0;

  chain(base: number, next: number | string): number {
    return this.intern(`${base}>${next}`);
  }

  /** A number that stands for all that a node's look over a region depends on. */
  nameOf(node: LayerNode, region: Region, scene: Scene): number {
    return contentOf(node, region, sightOf(scene), {
      own: (layer) => this.ownName(layer, scene),
      chain: (name, more) => this.chain(name, more),
    });
  }

  strokesName(base: number, strokes: readonly Stroke[], region: Region | null, scene: Scene): number {
    return strokesOf(base, strokes, region, sightOf(scene), { chain: (name, more) => this.chain(name, more) });
  }

  /** What is known of how to put a tile together, or what `make` says of it. */
  plan(name: string, scene: Scene, hot: string, make: () => Plan): Plan {
    const known = this.plans.get(name);
    this.plans.delete(name);
    const plan = known && isSame(known.of, scene, hot) ? known : make();
    this.plans.set(name, plan);
    for (const oldest of this.plans.keys()) {
      if (this.plans.size <= MAX_PLANS) break;
      this.plans.delete(oldest);
    }
    return plan;
  }

  /** The names of a layer's strokes on a tile, as long as the list of them is the same. */
  strokesOn(strokes: readonly Stroke[], tile: Region, scene: Scene): KeptStrokes {
    let byTile = this.ofStrokes.get(strokes);
    if (!byTile) this.ofStrokes.set(strokes, (byTile = new Map<number, KeptStrokes>()));
    const where = this.where(tile, scene);
    const known = byTile.get(where);
    if (known?.scheme === scene.livery.scheme) return known;
    const here = strokes.filter((stroke) => tilesReach(stroke.tiles, tile));
    const live = here.at(-1)?.id === LIVE_STROKE ? here.pop()! : null;
    const before = this.strokesName(this.chain(where, 'strokes'), here.slice(0, -1), null, scene);
    const key = here.length > 0 ? this.chain(before, strokeText(here[here.length - 1], scene.livery)) : before;
    const made = { scheme: scene.livery.scheme, here, live, before, key };
    byTile.set(where, made);
    return made;
  }

  /** The layer by its own settings, without strokes. */
  private ownName(layer: Layer, { livery }: Scene): number {
    const outside = fromOutside(layer, livery);
    const known = this.ofLayer.get(layer);
    if (known?.for === outside) return known.name;
    const name = this.intern(settingsText(layer) + outside);
    this.ofLayer.set(layer, { for: outside, name });
    return name;
  }
}

const sights = new WeakMap<Scene, Sight>();

/** What can be seen of a scene in a region. */
function sightOf(scene: Scene): Sight {
  const known = sights.get(scene);
  if (known) return known;
  const made: Sight = {
    livery: scene.livery,
    layers: scene.layers,
    seenBy: (layer, region) => region && seenBy(layer, region),
    // A source of a mask that looks all over counts whole.
    touches: (node, region) => (region ? touches(node, region, scene) : !isUnseen(node.layer)),
    reaches: (stroke, region) => !region || tilesReach(stroke.tiles, region),
    otherMap: (map) => sightOf(otherMap(scene, map)),
    otherSheet: (sheet) => sightOf(otherSheet(scene, sheet)),
  };
  sights.set(scene, made);
  return made;
}

/** Strokes on a tile, and the names of their picture and of that of all but the last. */
interface KeptStrokes {
  scheme: Livery['scheme'];
  here: readonly Stroke[];
  live: Stroke | null;
  before: number;
  key: number;
}

/** Whether nothing but the hot layer differs. A mask that follows another layer may follow the hot one. */
function isSame(of: Plan['of'], scene: Scene, hot: string): boolean {
  const [a, b] = [of.livery, scene.livery];
  return (
    a.scheme === b.scheme &&
    a.particulars === b.particulars &&
    a.pins === b.pins &&
    of.derived === scene.derived &&
    of.layers.length === scene.layers.length &&
    of.layers.every((layer, i) => {
      const other = scene.layers[i];
      return (layer === other && layer.mask?.from.kind !== 'layer') || (layer.id === hot && other.id === hot);
    })
  );
}
