import type { TextureFacts } from '@wet-lacquer/core/intake/understood.ts';
import type { StoredAs } from '@wet-lacquer/core/livery/template.ts';
import type { Image8 } from '@wet-lacquer/core/raster/image.ts';

/** What each kind of texture says of itself; size, alpha and how much happens in it are told by its texels. */
export type TextureSaid = Pick<
  TextureFacts,
  'container' | 'format' | 'compression' | 'header' | 'colourSpace' | 'mips' | 'mipsExpected' | 'mipFilter'
>;

/** Size and alpha, which are of every kind. */
export type Measured = Pick<StoredAs, 'width' | 'height' | 'alpha'>;

/** How one kind of finished texture is read. */
export interface TextureReader {
  /** Straight RGBA8, its values as a game takes them: no profile is applied, nothing is turned. @throws InputError */
  texels(bytes: Uint8Array): Image8 | Promise<Image8>;
  /** What is followed of a file where its like is written. */
  stored(bytes: Uint8Array, measured: Measured): StoredAs | Promise<StoredAs>;
  said(bytes: Uint8Array, image: Image8, stored: StoredAs): TextureSaid | Promise<TextureSaid>;
}
