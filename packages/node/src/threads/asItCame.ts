import { beginningOf } from '@wet-lacquer/core/livery/template.ts';
import type { Scene } from './scene.ts';

/** The scene with one sheet as its template brings it. */
export function asItCame(scene: Scene, sheet: string): Scene {
  const sheets = scene.livery.sheets.map((one) => {
    if (one.key !== sheet) return one;
    const maps = one.maps.map((map) => ({ ...map, layers: [...beginningOf(scene.template, sheet, map.key)] }));
    return { ...one, maps };
  });
  return { ...scene, livery: { ...scene.livery, sheets } };
}
