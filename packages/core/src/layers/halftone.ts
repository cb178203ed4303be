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
    for (let y = 0, i = 0; y < region.height; y++) {
      const py = region.y + (y + 0.5) * step - layer.y;
      for (let x = 0; x < region.width; x++, i++) {
        const px = region.x + (x + 0.5) * step - layer.x;
        const along = px * cos + py * sin;
        const across = py * cos - px * sin;
        if (along >= length + pitch) continue;
        if (along <= -pitch) {
          putOver(out, i, colour, 1);
          continue;
        }
        // Dots of neighbouring cells can reach this texel too: what any of them covers counts.
        const [column, row] = [Math.floor(along / pitch), Math.floor(across / pitch)];
        let open = 1;
        for (let k = 0; k < 9 && open > 0; k++) {
          const cx = (column + (k % 3) - 0.5) * pitch;
          const cy = (row + ((k / 3) | 0) - 0.5) * pitch;
          const left = 1 - cx / length;
          const radius = pitch * CLOSED * (left <= 0 ? 0 : left >= 1 ? 1 : Math.sqrt(left));
          const [dx, dy] = [along - cx, across - cy];
          const inside = (radius - Math.sqrt(dx * dx + dy * dy)) / step + 0.5;
          if (radius > 0 && inside > 0) open *= inside >= 1 ? 0 : 1 - inside;
        }
        putOver(out, i, colour, 1 - open);
      }
    }
  },
};
