/** Takes what is drawn on the old sheets over to a new one, and says how well it fits. */
import { newImage, TILE, type Image8 } from '../raster/image.ts';
import type { LayerOf } from '../livery/layer.ts';
import type { Sha256 } from '../livery/ids.ts';
import { withLayers, type Livery } from '../livery/livery.ts';
import type { Drawn, TransferPlan } from './plan.ts';
import { letFall } from './standing.ts';
import { sheetNamed } from '../livery/template.ts';
import { triangleOnSheet } from '../surface/triangles.ts';
import type { Fitting } from './fit.ts';
import { takeTexels, type OldPicture } from './sampling.ts';
import { BESIDE, type Origin } from './texels.ts';

/** Texels of a new sheet that are not all empty: straight RGBA8 from texel (left, top). */
export type TakenTile = OldPicture;

/**
 * What rows of tiles `from` to `to` (exclusive) of a new sheet have of layers that were drawn on old ones.
 * @param drawn what is taken, each by the number of its old sheet; null: nothing is there
 * @returns tiles that are not empty, for each of them
 */
export function takeRows(
  origin: Origin,
  size: { width: number; height: number },
  drawn: readonly (readonly (OldPicture | null)[])[],
  from: number,
  to: number,
): TakenTile[][] {
  const { width } = size;
  const out: TakenTile[][] = drawn.map(() => []);
  const bottom = Math.min(size.height, to * TILE);
  for (let top = from * TILE; top < bottom; top += TILE)
    for (let left = 0; left < width; left += TILE) {
      const window = origin.window(left, top, Math.min(width, left + TILE), Math.min(bottom, top + TILE));
      drawn.forEach((pictures, n) => {
        const image = newImage(window.width, window.height);
        if (takeTexels(window, pictures, image.data)) out[n].push({ left, top, image });
      });
    }
  return out;
}

/** Tiles as one picture without what is empty around it; null: there are none. */
export function joined(tiles: readonly TakenTile[]): OldPicture | null {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { left: x0, top: y0, image } of tiles)
    for (let y = 0, o = 3; y < image.height; y++)
      for (let x = 0; x < image.width; x++, o += 4) {
        if (image.data[o] === 0) continue;
        left = Math.min(left, x0 + x);
        right = Math.max(right, x0 + x + 1);
        top = Math.min(top, y0 + y);
        bottom = Math.max(bottom, y0 + y + 1);
      }
  if (left >= right) return null;
  const out = newImage(right - left, bottom - top);
  for (const { left: x0, top: y0, image } of tiles) {
    const [from, to] = [Math.max(left, x0), Math.min(right, x0 + image.width)];
    for (let y = Math.max(top, y0); y < Math.min(bottom, y0 + image.height); y++)
      out.data.set(
        image.data.subarray(((y - y0) * image.width + from - x0) * 4, ((y - y0) * image.width + to - x0) * 4),
        ((y - top) * out.width + from - left) * 4,
      );
  }
  return { left, top, image: out };
}

/** Whether any of a picture of an old sheet can come to lie on a new one. */
export function canReach(
  { old, pairs }: Fitting,
  sheet: string,
  from: string,
  { left, top, image }: OldPicture,
): boolean {
  const { width, height } = sheetNamed(old, from);
  const [right, bottom] = [left + image.width, top + image.height];
  return pairs.some((pair) => {
    if (pair.part.sheet !== sheet || !pair.from) return false;
    const parts = pair.whole ? [pair.from] : old.parts.filter((part) => part.sheet === from);
    return parts.some((part) => {
      if (part.sheet !== from) return false;
      for (let t = part.first; t < part.first + part.count; t++) {
        const c = triangleOnSheet(old.mesh, t, width, height);
        if (Math.max(c[0], c[2], c[4]) + BESIDE < left || Math.min(c[0], c[2], c[4]) - BESIDE > right) continue;
        if (Math.max(c[1], c[3], c[5]) + BESIDE >= top && Math.min(c[1], c[3], c[5]) - BESIDE <= bottom) return true;
      }
      return false;
    });
  });
}

/** A picture that was taken, as it is stored. */
export interface Taken {
  blob: Sha256;
  left: number;
  top: number;
  width: number;
  height: number;
}

/** Under which name what was taken for one new sheet is found. */
export const takenKey = (sheet: string, map: string, { sheet: from, layer }: Drawn): string =>
  `${sheet}/${map}<${from}/${layer}`;

/** The livery with all its layers. @param taken by takenKey; what is missing there is nowhere on that sheet */
export function withTaken({ livery, sheets }: TransferPlan, taken: ReadonlyMap<string, Taken>): Livery {
  return sheets.reduce((of, { sheet, map, entries }) => {
    const layers = entries.flatMap((entry) => {
      if (!('taken' in entry)) return [entry.layer];
      const found = taken.get(takenKey(sheet, map, entry.taken));
      return found ? [{ ...entry.layer, ...found } as LayerOf<'picture'>] : [];
    });
    const present = new Set<string>(layers.map(({ id }) => id));
    letFall(
      entries.map(({ layer }) => layer),
      present,
    );
    return withLayers(
      of,
      sheet,
      map,
      layers.filter(({ id }) => present.has(id)),
    );
  }, livery);
}

/** How well a new sheet fits. */
export interface SheetFit {
  sheet: string;
  parts: {
    part: string;
    /** Shares of its texels that nothing of the old model is like, that are farther from it than a hundredth of its size, and that are stretched by a third. */
    missing: number;
    far: number;
    stretched: number;
  }[];
  /** Straight RGBA8: what fits, and where it does not. */
  image: Image8;
}

/** Colours of how it fits, sRGB: it does, it is farther off, it is stretched, there is nothing. */
export const FIT_COLOURS = {
  good: [126, 138, 133],
  far: [214, 158, 46],
  stretched: [86, 156, 214],
  missing: [196, 64, 92],
} as const;
const FAR = 0.01;
const STRETCHED = 1.34;
/** Texels along the longer side of a picture of how it fits. */
const LOOK = 512;

/** Looks at every few texels of a new sheet. */
export function fitOf(origin: Origin, sheet: { key: string; width: number; height: number }): SheetFit {
  const step = Math.max(1, Math.ceil(Math.max(sheet.width, sheet.height) / LOOK));
  const image = newImage(Math.ceil(sheet.width / step), Math.ceil(sheet.height / step));
  const counts = origin.parts.map(() => ({ many: 0, missing: 0, far: 0, stretched: 0 }));
  for (let y = 0; y < image.height; y++)
    for (let x0 = 0; x0 < image.width; x0 += TILE) {
      const window = origin.window(x0 * step, y * step, Math.min(sheet.width, (x0 + TILE) * step), y * step + 1, step);
      for (let i = 0; i < window.width; i += step) {
        const part = window.part[i];
        if (part < 0) continue;
        const count = counts[part];
        count.many++;
        let colour: readonly number[] = FIT_COLOURS.good;
        if (window.sheet[i] < 0) {
          count.missing++;
          colour = FIT_COLOURS.missing;
        } else if (window.far[i] > FAR) {
          count.far++;
          colour = FIT_COLOURS.far;
        } else if (window.stretches[window.way[i]] > STRETCHED) {
          count.stretched++;
          colour = FIT_COLOURS.stretched;
        }
        const o = (y * image.width + x0 + i / step) * 4;
        image.data.set(colour, o);
        image.data[o + 3] = 255;
      }
    }
  const share = (n: number, of: number) => (of > 0 ? n / of : 0);
  return {
    sheet: sheet.key,
    parts: origin.parts.map(({ key }, n) => {
      const { many, missing, far, stretched } = counts[n];
      return { part: key, missing: share(missing, many), far: share(far, many), stretched: share(stretched, many) };
    }),
    image,
  };
}
