import type { LayerOf } from '../livery/layer.ts';
import { turnOf } from '../raster/turn.ts';
import { putOver, type Kind } from './kind.ts';

/** Radius of a dot over the pitch at which neighbours, a square grid apart, just leave no gap. */
const CLOSED = 0.7072;

/** Round dots in a square grid along a line: as wide as closes the surface where it begins, nothing where it ends. */
export const halftone: Kind<LayerOf<'halftone'>> = {
  bounds: () => null,
  draw(layer, region, env, out) {
    const { cos, sin } = turnOf(layer.angle);
    const colour = env.colour(layer.paint);
    const { pitch, length } = layer;
    const { step } = region;
    const radiusAt = (cx: number) => {
      const left = 1 - cx / length;
      return pitch * CLOSED * (left <= 0 ? 0 : left >= 1 ? 1 : Math.sqrt(left));
    };
    const radii = Float64Array.from({ length: Math.ceil(length / pitch) + 4 }, (_, k) => radiusAt((k - 1.5) * pitch));
    for (let y = 0, i = 0; y < region.height; y++) {
      const py = region.y + (y + 0.5) * step - layer.y;
      for (let x = 0; x < region.width; x++, i++) {
        const px = region.x + (x + 0.5) * step - layer.x;
        const along = px * cos + py * sin;
        if (along >= length + pitch) continue;
        if (along <= -pitch) {
          putOver(out, i, colour, 1);
          continue;
        }
        const [u, v] = [along / pitch, (py * cos - px * sin) / pitch];
        const [column, row] = [Math.floor(u), Math.floor(v)];
        // A dot reaches beyond its cell by less than half a pitch: those of the four nearest cells count.
        const [sideways, down] = [u - column < 0.5 ? -1 : 1, v - row < 0.5 ? -1 : 1];
        let open = 1;
        for (let k = 0; k < 4 && open > 0; k++) {
          const c = column + (k & 1 ? sideways : 0);
          const radius = c < -2 ? radii[0] : radii[c + 2];
          const dx = along - (c + 0.5) * pitch;
          const dy = (v - (row + (k & 2 ? down : 0)) - 0.5) * pitch;
          const squared = dx * dx + dy * dy;
          if (!(radius > 0) || squared >= (radius + step) * (radius + step)) continue;
          const inside = (radius - Math.sqrt(squared)) / step + 0.5;
          if (inside > 0) open *= inside >= 1 ? 0 : 1 - inside;
        }
        if (open < 1) putOver(out, i, colour, 1 - open);
      }
    }
  },
};
