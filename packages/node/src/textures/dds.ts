import { cropImage, type Image8 } from '@wet-lacquer/core/raster/image.ts';
import { readDdsFacts, readDdsLevel } from '@wet-lacquer/core/texture/dds.ts';
import { mipChain, mipSize } from '@wet-lacquer/core/texture/mips.ts';
import type { TextureReader } from './kind.ts';

/** Side of the piece in which the filters are compared. */
const PIECE = 256;

export const dds: TextureReader = {
  texels: (bytes) => readDdsLevel(bytes, 0),
  stored(bytes, measured) {
    const { format, header, mips, premultiplied } = readDdsFacts(bytes);
    return { ...measured, container: 'dds', format, header, mips, ...(premultiplied && { premultiplied }) };
  },
  said(bytes, image) {
    const { format, compression, header, colourSpace, mips, mipsExpected, premultiplied } = readDdsFacts(bytes);
    const filter = mipFilterOf(bytes, image, 'srgb');
    return {
      container: 'dds',
      format,
      compression: premultiplied ? `${compression}, colour times alpha` : compression,
      header,
      colourSpace,
      mips,
      mipsExpected,
      ...(filter && { mipFilter: filter }),
    };
  },
};

/** Which of the two filters made a file's second level, where one is clearly nearer. */
export function mipFilterOf(
  bytes: Uint8Array,
  top: Image8,
  kind: 'srgb' | 'linear' | 'normal',
): 'box' | 'kaiser' | null {
  const { mips, width, height, premultiplied } = readDdsFacts(bytes);
  if (mips < 2 || width % 2 !== 0 || height % 2 !== 0 || premultiplied) return null;
  const [w, h] = [Math.min(PIECE, width), Math.min(PIECE, height)];
  const [left, up] = [((width - w) >> 2) << 1, ((height - h) >> 2) << 1];
  const piece = cropImage(top, left, up, w, h);
  const below = cropImage(readDdsLevel(bytes, 1), left / 2, up / 2, w / 2, h / 2);
  const margin = w === width ? 0 : 8;
  const apart = (filter: 'box' | 'kaiser') => {
    const [, made] = mipChain(piece, { kind, filter, count: 2 });
    let sum = 0;
    const { width: mw, height: mh } = mipSize(w, h, 1);
    for (let y = margin; y < mh - margin; y++)
      for (let x = margin; x < mw - margin; x++)
        for (let c = 0; c < 3; c++) sum += (made.data[(y * mw + x) * 4 + c] - below.data[(y * mw + x) * 4 + c]) ** 2;
    return sum;
  };
  const [box, kaiser] = [apart('box'), apart('kaiser')];
  return box < kaiser * 0.9 ? 'box' : kaiser < box * 0.9 ? 'kaiser' : null;
}
