import type { z } from 'zod';
import { LetteringLayer } from '../../layers/lettering/data.ts';
import { SHIPPED_FONTS } from '../../livery/fonts.ts';
import { LayerId } from '../../livery/ids.ts';
import { findLayer, layersIn, type Livery } from '../../livery/livery.ts';
import { alike, grouped, type ItemKind } from './kind.ts';

/** How letters are written, not which they are. */
const value = LetteringLayer.pick({ font: true, spacing: true, slant: true });
type Style = z.infer<typeof value>;

const styleOf = ({ font, spacing, slant }: Style): Style => ({ font, spacing, slant });
const nameOf = (font: string): string => SHIPPED_FONTS.find(({ key }) => key === font)?.name ?? font;
const letteringAt = (livery: Livery, place: string) => {
  const layer = findLayer(livery, LayerId.parse(place))?.layer;
  return layer?.kind === 'lettering' ? layer : null;
};

/** A style of lettering: every text that is written alike. */
export const lettering: ItemKind<Style> = {
  called: 'Lettering',
  value,
  found(livery) {
    const all = layersIn(livery).filter((layer) => layer.kind === 'lettering');
    return grouped(all, (layer) => JSON.stringify(styleOf(layer))).map((same) => ({
      name: nameOf(same[0].font),
      value: styleOf(same[0]),
      places: same.map(({ id }) => id),
    }));
  },
  read(livery, place) {
    const layer = letteringAt(livery, place);
    return layer && styleOf(layer);
  },
  write(livery, place, style, { fonts }) {
    const layer = letteringAt(livery, place);
    if (!layer) return [];
    const file = fonts.get(style.font);
    const pinned = Object.hasOwn(livery.pins.fonts, style.font);
    return [
      ...(pinned || !file ? [] : [{ do: 'pin-font' as const, font: style.font, hash: file }]),
      { do: 'set-layer', layer: layer.id, set: { ...style } },
    ];
  },
  newPlace: () => null,
  likeness: (a, b) => (alike(a.value, b.value) ? 3 : a.value.font === b.value.font ? 1 : 0),
  words: ({ font, spacing, slant }) => `${nameOf(font)}, spacing ${spacing} %, slant ${slant}°`,
};
