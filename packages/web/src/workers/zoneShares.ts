/** How much of a sheet each finish has. */
import type { Sources } from '@wet-lacquer/core/compose/renderTile.ts';
import { renderCoarse } from '@wet-lacquer/core/compose/renderSheet.ts';
import { ZONE_MAP } from '@wet-lacquer/core/livery/spec.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';

/** Samples along the longer side. */
const SIDE = 256;

/** Share (0..1) of each colour of the zone map over what is laid out of a sheet; over all of it when nothing is. */
export function zoneShares(
  livery: Livery,
  sheet: string,
  size: { width: number; height: number },
  sources: Sources,
): Record<string, number> {
  const step = Math.max(1, Math.ceil(Math.max(size.width, size.height) / SIDE));
  const { width, height, data } = renderCoarse(livery, sheet, ZONE_MAP, size, step, sources);
  const surface = sources.surface(sheet);
  const count = (all: boolean) => {
    const counts = new Map<number, number>();
    let of = 0;
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i += 4) {
        const at = (v: number, side: number) => Math.min(side - 1, v * step + (step >> 1));
        if (!all && surface.ownerAt(at(x, size.width), at(y, size.height)) === 0) continue;
        const colour = (data[i] << 16) | (data[i + 1] << 8) | data[i + 2];
        counts.set(colour, (counts.get(colour) ?? 0) + 1);
        of++;
      }
    return { counts, of };
  };
  const laid = count(false);
  const { counts, of } = laid.of > 0 ? laid : count(true);
  return Object.fromEntries([...counts].map(([colour, n]) => [`#${colour.toString(16).padStart(6, '0')}`, n / of]));
}
