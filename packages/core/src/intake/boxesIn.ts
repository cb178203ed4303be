/** Finds parameter boxes in a layer of a template: rectangles of one colour and nothing beside them. */
import type { ParameterBox } from '../livery/template.ts';
import type { Image8 } from '../raster/image.ts';

type Found = Pick<ParameterBox, 'left' | 'top' | 'width' | 'height' | 'hex'>;

/** More than this in one layer is a picture made of squares. */
const MOST = 64;

/**
 * @param left, @param top where the layer lies on the sheet
 * @returns the boxes from the top, or null when the layer holds anything else; alpha is kept, and of clear pixels nothing is known
 */
export function boxesIn(
  { width, height, data }: Image8,
  left: number,
  top: number,
  sheet: { width: number; height: number },
): Found[] | null {
  const words = new Uint32Array(data.buffer, data.byteOffset, width * height);
  const done = new Uint8Array(width * height);
  const clear = (i: number) => data[i * 4 + 3] === 0;
  const found: Found[] = [];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (done[i] || clear(i)) continue;
      if (found.length === MOST) return null;
      let w = 1;
      while (x + w < width && words[i + w] === words[i] && !done[i + w]) w++;
      const same = (row: number) => {
        for (let k = 0; k < w; k++) if (words[row * width + x + k] !== words[i]) return false;
        return true;
      };
      let h = 1;
      while (y + h < height && same(y + h)) h++;
      for (let row = y; row < y + h; row++) done.fill(1, row * width + x, row * width + x + w);
      if (w < 2 || h < 2) return null;
      const box = { left: left + x, top: top + y, width: w, height: h };
      if (box.left < 0 || box.top < 0 || box.left + w > sheet.width || box.top + h > sheet.height) return null;
      const hex = [0, 1, 2, 3].map((c) => data[i * 4 + c].toString(16).padStart(2, '0')).join('');
      found.push({ ...box, hex: `#${hex}` });
    }
  }
  return found.length > 0 ? found : null;
}
