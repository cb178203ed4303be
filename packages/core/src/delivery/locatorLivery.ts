/** The locator as a livery: coloured islands with their numbers, delivered like any other so that islands can be named in the game. */
import { newLayerId, type Sha256 } from '../livery/ids.ts';
import { Layer } from '../livery/layer.ts';
import type { Livery } from '../livery/livery.ts';
import { newLivery } from '../livery/newLivery.ts';
import { MAIN_MAP, sheetNamed, type Template } from '../livery/template.ts';
import type { TemplateLayout } from '../surface/templateLayout.ts';
import { cutTo } from '../livery/words.ts';

/**
 * @param pictures stored pictures of the coloured islands, at the sheets' own sizes
 * @param font of the numbers, by key, and what it stands for
 */
export function locatorLivery(
  template: Template,
  hash: Sha256,
  layout: TemplateLayout,
  pictures: ReadonlyMap<string, { blob: Sha256; width: number; height: number }>,
  font: { key: string; hash: Sha256 },
): Livery {
  const base = { phase: 'Base', hidden: false, locked: false, opacity: 100, blend: 'normal', parts: [] };
  const livery = newLivery(template, hash, cutTo(`Locator for ${template.name}`, 80));
  return {
    ...livery,
    particulars: { ...livery.particulars, key: 'locator' },
    sheets: livery.sheets.map((state) => {
      const sheet = sheetNamed(template, state.key);
      const picture = pictures.get(sheet.key);
      if (!picture) return state;
      const islands = layout.islands.filter((island) => island.sheet === sheet.key);
      const numbers = islands
        .filter((island) => island.label.radius > 2)
        .map((island) => {
          const size = Math.max(2, Math.min(sheet.height / 10, island.label.radius * 0.9));
          const lettering = {
            ...base,
            kind: 'lettering',
            id: newLayerId(),
            name: `${island.cell ? 'Cell' : 'Island'} ${island.number}`,
            phase: 'Marks',
            text: String(island.number),
            font: font.key,
            size,
            ...{ x: island.label.x, y: island.label.y, turn: 0, spacing: 0, slant: 0 },
            paint: { hex: island.ink },
            outline: null,
            // Where the art reads backwards, the number does not.
            mirrored: island.mirrored,
          };
          return Layer.parse(lettering);
        });
      const islandsLayer = Layer.parse({
        ...base,
        kind: 'picture',
        id: newLayerId(),
        name: template.boards ? 'Cells' : 'Islands',
        locked: true,
        blob: picture.blob,
        left: 0,
        top: 0,
        width: picture.width,
        height: picture.height,
      });
      const maps = state.maps.map((map) =>
        map.key === MAIN_MAP ? { ...map, layers: [islandsLayer, ...numbers].slice(0, 500) } : map,
      );
      return { ...state, maps };
    }),
    pins: { ...livery.pins, fonts: { [font.key]: font.hash } },
  };
}
