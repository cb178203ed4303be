import { rgbOfHex } from '../colour/hex.ts';
import { flipRows, type Image8 } from '../raster/image.ts';
import type { SheetSurface } from '../surface/surface.ts';
import { writeDds } from '../texture/dds.ts';
import { encodeImage, type FormatKey } from '../texture/formats.ts';
import type { Effort } from '../texture/bc7.ts';
import { mipChain } from '../texture/mips.ts';
import { padEdges } from '../texture/padding.ts';
import { writeTga } from '../texture/tga.ts';
import type { SpecFile } from './spec.ts';

/** How the stages that differ by host are done: blocks over threads, and PNG by a library. */
export interface EncodeHost {
  encode(image: Image8, format: FormatKey, effort: Effort): Promise<Uint8Array>;
  png(image: Image8): Promise<Uint8Array>;
  /** Called between stages; throws when the work has been cancelled. */
  step(done: number, of: number, what: string): Promise<void>;
}

/** All on this thread. */
export const oneThread: Pick<EncodeHost, 'encode' | 'step'> = {
  encode: async (image, format, effort) => encodeImage(image, format, effort),
  step: async () => {},
};

/** The picture as the game will hold it: padded, opaque where the spec says so, the way up that the spec says. Level 0. */
export function preparedSheet(flat: Image8, spec: SpecFile, surface: SheetSurface, ground: string): Image8 {
  const image: Image8 = { ...flat, data: flat.data.slice() };
  padEdges(image, surface, spec.padding);
  if (spec.alpha === 'opaque') flatten(image, ground);
  return spec.flip ? flipRows(image) : image;
}

/** Straight alpha over a colour, in the sheet's own encoding. */
function flatten(image: Image8, ground: string): void {
  const under = rgbOfHex(ground);
  const { data } = image;
  for (let i = 0; i < data.length; i += 4) {
    const a = data[i + 3];
    if (a === 255) continue;
    for (let c = 0; c < 3; c++) data[i + c] = Math.floor((data[i + c] * a + under[c] * (255 - a)) / 255 + 0.5);
    data[i + 3] = 255;
  }
}

/** From the flattened sheet to the bytes of the delivered file. Same sheet, same spec, same bytes. */
export async function encodeSheet(
  flat: Image8,
  spec: SpecFile,
  surface: SheetSurface,
  ground: string,
  effort: Effort,
  host: EncodeHost,
): Promise<Uint8Array> {
  const image = preparedSheet(flat, spec, surface, ground);
  if (spec.container === 'tga') return writeTga(image, { alpha: spec.alpha === 'keep', rle: true });
  if (spec.container === 'png') return host.png(image);
  const kind = spec.colourSpace === 'srgb' ? 'srgb' : 'linear';
  const levels = mipChain(image, kind, spec.mipFilter, spec.mips === 'full' ? undefined : 1);
  const encoded: Uint8Array[] = [];
  for (const [i, level] of levels.entries()) {
    await host.step(i, levels.length, `mip level ${i}`);
    encoded.push(await host.encode(level, spec.format, effort));
  }
  return writeDds(
    {
      width: image.width,
      height: image.height,
      format: spec.format,
      header: spec.header,
      colourSpace: spec.colourSpace,
    },
    encoded,
  );
}
