/** Finished textures: their texels, and what there is to say of them. */
import { lookOfTexture } from '@wet-lacquer/core/intake/textureLook.ts';
import type { TextureFacts } from '@wet-lacquer/core/intake/understood.ts';
import type { Image8 } from '@wet-lacquer/core/raster/image.ts';
import { detailOf } from '@wet-lacquer/core/surface/wayUp.ts';
import { readDdsFacts } from '@wet-lacquer/core/texture/dds.ts';
import { fullMipCount } from '@wet-lacquer/core/texture/mips.ts';
import { mipFilterOf, pictures, storedAs, texelsOf, type TextureKind } from './stored.ts';

/** Pixels and facts of a finished texture. @throws InputError */
export async function texture(bytes: Uint8Array, kind: TextureKind): Promise<{ image: Image8; facts: TextureFacts }> {
  const image = await texelsOf(bytes, kind);
  const look = lookOfTexture(image);
  const stored = await storedAs(bytes, kind, image);
  const common = {
    kind: 'texture' as const,
    width: image.width,
    height: image.height,
    alpha: stored.alpha,
    look: { ...look, small: [...look.small] },
    detail: detailOf(image),
    stored,
  };
  if (kind === 'dds') {
    const { format, compression, header, colourSpace, mips, mipsExpected, premultiplied } = readDdsFacts(bytes);
    const filter = mipFilterOf(bytes, image, 'srgb');
    return {
      image,
      facts: {
        ...common,
        container: 'dds',
        format,
        compression: premultiplied ? `${compression}, colour times alpha` : compression,
        header,
        colourSpace,
        mips,
        mipsExpected,
        ...(filter && { mipFilter: filter }),
      },
    };
  }
  const rest = { header: null, mips: 1, mipsExpected: fullMipCount(image.width, image.height) };
  if (kind === 'tga') {
    const { runs, bits, colours, bottomUp, rightToLeft } = stored;
    const order = `${bottomUp ? ', bottom row first' : ''}${rightToLeft ? ', right column first' : ''}`;
    const compression = `${colours}, ${bits} bits${runs ? ', run lengths' : ''}${order}`;
    return {
      image,
      facts: { ...common, ...rest, container: 'tga', format: stored.format, compression, colourSpace: 'unknown' },
    };
  }
  const meta = await (await pictures())(bytes).metadata();
  const container = meta.format as 'png' | 'jpeg' | 'webp';
  const turned = stored.turned ? ', marked to be turned, as games do not' : '';
  const said =
    container === 'jpeg'
      ? `quality ${stored.quality}, colour ${stored.sampling ?? 'sampled in a way of its own'}${stored.progressive ? ', progressive' : ''}`
      : container === 'png'
        ? `${stored.colours}, ${stored.depth} bits${stored.interlaced ? ', interlaced' : ''}`
        : stored.lossless
          ? 'without loss'
          : 'with loss';
  const colourSpace = stored.profile
    ? `with a profile (${stored.profile}), which games do not apply`
    : (meta.space ?? 'unknown');
  return {
    image,
    facts: { ...common, ...rest, container, format: stored.format, compression: said + turned, colourSpace },
  };
}
