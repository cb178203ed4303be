import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { groupsAround } from '@wet-lacquer/core/livery/tree.ts';

/** The livery with all other layers of a layer's map hidden: only for looking at. Groups around it stay, and what it holds. */
export function onlyLayer(livery: Livery, id: string): Livery {
  return {
    ...livery,
    sheets: livery.sheets.map((sheet) => ({
      ...sheet,
      maps: sheet.maps.map((map) => {
        const layer = map.layers.find((one) => one.id === id);
        if (!layer) return map;
        const around = groupsAround(map.layers, layer);
        const layers = map.layers.map((other) => {
          const stays =
            other === layer ||
            around.includes(other) ||
            groupsAround(map.layers, other).some((group) => group === layer);
          return stays ? { ...other, hidden: false } : { ...other, hidden: true };
        });
        return { ...map, layers };
      }),
    })),
  };
}
