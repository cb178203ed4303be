/** Finished textures: their texels, and what there is to say of them. */
import { InputError } from '@wet-lacquer/core/errors.ts';
import { lookOfTexture } from '@wet-lacquer/core/intake/textureLook.ts';
import type { TextureFacts } from '@wet-lacquer/core/intake/understood.ts';
import { canBe, fileKind, type TextureKind } from '@wet-lacquer/core/kinds/index.ts';
import { alphaKind, type Image8 } from '@wet-lacquer/core/raster/image.ts';
import { detailOf } from '@wet-lacquer/core/surface/wayUp.ts';
import { dds } from './dds.ts';
import type { TextureReader } from './kind.ts';
import { picture } from './picture.ts';
import { tga } from './tga.ts';

const READERS: Readonly<Record<TextureKind, TextureReader>> = { dds, tga, picture };

/** Straight RGBA8 of a finished texture; see {@link TextureReader}. @throws InputError */
export const texelsOf = async (bytes: Uint8Array, kind: TextureKind): Promise<Image8> => READERS[kind].texels(bytes);

/** Which kind of texture a file is. @throws InputError when it is none */
export function textureKindOf(bytes: Uint8Array, name: string): TextureKind {
  const kind = fileKind(bytes, name);
  if (!canBe('texture', kind)) throw new InputError(`"${name}" is not a texture.`);
  return kind;
}

/** Texels and facts of a finished texture. @throws InputError */
export async function texture(
  bytes: Uint8Array,
  kind: TextureKind,
): Promise<{ image: Image8; facts: TextureFacts & Required<Pick<TextureFacts, 'stored'>> }> {
  const image = await texelsOf(bytes, kind);
  const { width, height } = image;
  const look = lookOfTexture(image);
  const alpha = alphaKind(image);
  const stored = await READERS[kind].stored(bytes, { width, height, alpha });
  const said = await READERS[kind].said(bytes, image, stored);
  const facts = {
    kind: 'texture' as const,
    ...{ width, height, alpha, stored },
    look: { ...look, small: [...look.small] },
    detail: detailOf(image),
    ...said,
  };
  return { image, facts };
}
