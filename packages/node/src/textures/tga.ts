import { fullMipCount } from '@wet-lacquer/core/texture/mips.ts';
import { readTga, readTgaFacts } from '@wet-lacquer/core/texture/tga.ts';
import type { TextureReader } from './kind.ts';

export const tga: TextureReader = {
  texels: readTga,
  stored(bytes, measured) {
    const { rle, bits, alphaBits, topDown, rightToLeft, colours } = readTgaFacts(bytes);
    return {
      ...measured,
      container: 'tga',
      format: alphaBits > 0 ? 'bgra8' : 'bgr8',
      runs: rle,
      bits,
      alphaBits,
      bottomUp: !topDown,
      rightToLeft,
      mapped: colours === 'colour-mapped',
      colours,
    };
  },
  said(_bytes, { width, height }, { runs, bits, colours, bottomUp, rightToLeft, format }) {
    const order = `${bottomUp ? ', bottom row first' : ''}${rightToLeft ? ', right column first' : ''}`;
    return {
      container: 'tga',
      format,
      compression: `${colours}, ${bits} bits${runs ? ', run lengths' : ''}${order}`,
      header: null,
      colourSpace: 'unknown',
      mips: 1,
      mipsExpected: fullMipCount(width, height),
    };
  },
};
