import { oklabInto, rgbOfOklab, type Oklab } from '../../colour/oklab.ts';
import type { FilterOf } from '../../livery/paint.ts';
import { eachColour, type FilterKind } from '../kind.ts';
import { turnOf } from '../../raster/turn.ts';

/** Turns the hue and scales chroma and lightness in OKLCh. Lightness moves towards white or black, so neither end is cut off. */
export const hcl: FilterKind<FilterOf<'hcl'>> = {
  apply(filter, texels) {
    const { cos, sin } = turnOf(filter.hue);
    const chroma = 1 + filter.chroma / 100;
    const lift = filter.lightness / 100;
    const lab: Oklab = [0, 0, 0];
    eachColour(texels, (rgb) => {
      oklabInto(rgb[0], rgb[1], rgb[2], lab);
      const [L, a, b] = lab;
      const made = rgbOfOklab([
        lift >= 0 ? L + (1 - L) * lift : L * (1 + lift),
        (a * cos - b * sin) * chroma,
        (a * sin + b * cos) * chroma,
      ]);
      rgb[0] = made[0];
      rgb[1] = made[1];
      rgb[2] = made[2];
    });
  },
};
