import { z } from 'zod';
import { DecalLayer } from '../../layers/decal/data.ts';
import { round } from '../../layers/data.ts';
import { LayerId } from '../../livery/ids.ts';
import type { Layer } from '../../livery/layer.ts';
import { findLayer, layersIn, type Livery } from '../../livery/livery.ts';
import { grouped, sameName, type ItemKind } from './kind.ts';

/** The picture of a mark: what is in its place, not where the place is. */
const value = DecalLayer.pick({ blob: true, source: true, ratio: true });

const decalAt = (livery: Livery, place: string) => {
  const layer = findLayer(livery, LayerId.parse(place))?.layer;
  return layer?.kind === 'decal' ? layer : null;
};
const pictureOf = ({ blob, source, ratio }: Extract<Layer, { kind: 'decal' }>) => ({ blob, source, ratio });

/** A decal, wherever it stands in a livery. */
export const mark: ItemKind<z.infer<typeof value>> = {
  called: 'Marks',
  value,
  found(livery) {
    const decals = layersIn(livery).filter((layer) => layer.kind === 'decal');
    return grouped(decals, ({ blob }) => blob).map((same) => ({
      name: same[0].name,
      value: pictureOf(same[0]),
      places: same.map(({ id }) => id),
    }));
  },
  read(livery, place) {
    const decal = decalAt(livery, place);
    return decal && pictureOf(decal);
  },
  /** The new picture stands in the middle of the old one's place, as large as fits in it. */
  write(livery, place, { blob, source, ratio }) {
    const decal = decalAt(livery, place);
    if (!decal) return [];
    const width = Math.min(decal.width, decal.height * ratio);
    return [
      {
        do: 'set-layer',
        layer: decal.id,
        set: {
          ...{ blob, source, ratio },
          ...(decal.keepRatio && { width: round(width), height: round(width / ratio, 3) }),
          // A drawing has no background that could be taken out.
          ...(source === 'svg' && decal.knockOut && { knockOut: null }),
        },
      },
    ];
  },
  newPlace: () => null,
  likeness(a, b) {
    const [name, same] = [sameName(a.name, b.name), a.value.blob === b.value.blob];
    return name && same ? 3 : same ? 2 : name ? 1 : 0;
  },
  words: ({ source, ratio }) => `${source === 'svg' ? 'drawing' : 'picture'}, ${round(ratio)} : 1`,
};
