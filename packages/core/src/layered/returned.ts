/** What came back from another editor, as plain data, and the edits that bring it into a livery. */
import type { SingleEdit } from '../livery/edit.ts';
import { newLayerId, type LayerId, type Sha256 } from '../livery/ids.ts';
import { Layer, type BlendMode } from '../livery/layer.ts';
import { layersOf, type Livery } from '../livery/livery.ts';
import { cutTo } from '../livery/words.ts';

/** A picture that came back, by its blob. */
export interface ReturnedPicture {
  name: string;
  blob: Sha256;
  left: number;
  top: number;
  width: number;
  height: number;
  hidden: boolean;
  /** Percent. */
  opacity: number;
  blend: BlendMode;
}

export interface ReturnedPlan {
  same: number;
  settings: { layer: LayerId; set: Record<string, string | number | boolean> }[];
  repainted: { layer: LayerId; picture: ReturnedPicture }[];
  added: { picture: ReturnedPicture; above: LayerId | null }[];
  gone: string[];
}

/** The edits that bring a plan into a livery; a layer that became pixels keeps its place, phase, parts and lock. */
export function editsOf(livery: Livery, sheet: string, plan: ReturnedPlan): SingleEdit[] {
  const map = 'colour';
  const layers = [...layersOf(livery, sheet)];
  const edits: SingleEdit[] = plan.settings.map(({ layer, set }) => ({ do: 'set-layer', layer, set }));
  const pictureOf = ({ name, ...rest }: ReturnedPicture, like?: Layer): Layer =>
    Layer.parse({
      kind: 'picture',
      ...rest,
      id: newLayerId(),
      name: cutTo(name, 80) || 'Layer',
      phase: like?.phase ?? 'Retouch',
      locked: like?.locked ?? false,
      // The parts are in its pixels already.
      parts: [],
    });
  const put = (layer: Layer, index: number) => {
    layers.splice(index, 0, layer);
    edits.push({ do: 'add-layer', sheet, map, layer, index });
  };
  const stands = new Map<LayerId, LayerId>();
  for (const { layer, picture } of plan.repainted) {
    const index = layers.findIndex((l) => l.id === layer);
    if (index < 0) continue;
    const made = pictureOf(picture, layers[index]);
    edits.push({ do: 'remove-layer', layer });
    layers.splice(index, 1);
    put(made, index);
    stands.set(layer, made.id);
  }
  let last: { above: LayerId | null; id: LayerId } | null = null;
  for (const { picture, above } of plan.added) {
    const made = pictureOf(picture);
    // Several new ones over the same layer keep their order.
    const under: LayerId | null = last && last.above === above ? last.id : above && (stands.get(above) ?? above);
    put(made, under ? layers.findIndex((l) => l.id === under) + 1 : 0);
    last = { above, id: made.id };
  }
  return edits;
}
