import { rgbOfHex } from '../../colour/hex.ts';
import { distanceSquared, oklabInto, oklabOf, rgbOfOklab, type Oklab } from '../../colour/oklab.ts';
import type { FilterOf } from '../../livery/paint.ts';
import { eachColour, type FilterKind } from '../kind.ts';

/**
 * One colour becomes another. A texel within `tolerance` (OKLab distance times 100) is moved by the difference of the two colours, so
 * that shading and antialiased edges inside the tolerance stay; beyond it the change fades out over `soft`.
 */
export const replace: FilterKind<FilterOf<'replace'>> = {
  apply(filter, texels, _region, env) {
    const from = oklabOf(...(rgbOfHex(filter.from).map((v) => v / 255) as [number, number, number]));
    const to = oklabOf(...(env.colour(filter.to).map((v) => v / 255) as [number, number, number]));
    const lab: Oklab = [0, 0, 0];
    eachColour(texels, (rgb) => {
      oklabInto(rgb[0], rgb[1], rgb[2], lab);
      const share = shareOf(lab, from, filter.tolerance / 100, filter.soft / 100);
      if (share <= 0) return;
      const made = rgbOfOklab([
        lab[0] + (to[0] - from[0]) * share,
        lab[1] + (to[1] - from[1]) * share,
        lab[2] + (to[2] - from[2]) * share,
      ]);
      rgb[0] = made[0];
      rgb[1] = made[1];
      rgb[2] = made[2];
    });
  },
};

/** 1 within the tolerance, falling to 0 over the softness beyond it. Distances in OKLab. */
export function shareOf(lab: Oklab, from: Oklab, tolerance: number, soft: number): number {
  const distance = Math.sqrt(distanceSquared(lab, from));
  if (distance <= tolerance) return 1;
  return soft <= 0 || distance >= tolerance + soft ? 0 : 1 - (distance - tolerance) / soft;
}
