/** Reading and writing for the command line. */
import { randomUUID } from 'node:crypto';
import { mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { MAX_SIDE, readDdsLevel } from '@wet-lacquer/core/texture/dds.ts';
import { readTga } from '@wet-lacquer/core/texture/tga.ts';
import { readJson as jsonOf } from '@wet-lacquer/core/files/json.ts';
import type { Image8 } from '@wet-lacquer/core/raster/image.ts';
import { fileKind } from '@wet-lacquer/core/kinds/index.ts';

/** @throws InputError when the file is not there */
export async function readBytes(file: string): Promise<Uint8Array> {
  try {
    return new Uint8Array(await readFile(file));
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code;
    throw new InputError(code === 'EISDIR' ? `${file} is a folder, not a file.` : `${file} cannot be read (${code}).`);
  }
}

/** A file's JSON. @throws InputError when it is none, or holds what no document can */
export async function readJson(file: string): Promise<unknown> {
  return jsonOf(new TextDecoder().decode(await readBytes(file)), file);
}

/** Writes under a temporary name and renames, so that a half-written file never has the final name. */
export async function writeWhole(file: string, ...parts: Uint8Array[]): Promise<void> {
  const temporary = path.join(path.dirname(file), `.${path.basename(file)}-${randomUUID()}`);
  try {
    await mkdir(path.dirname(file), { recursive: true });
    await writeFile(temporary, parts);
    await rename(temporary, file);
  } catch (error) {
    await rm(temporary, { force: true });
    throw new InputError(`${file} cannot be written (${(error as NodeJS.ErrnoException).code}).`);
  }
}

/** A picture of any supported kind: straight RGBA8. @throws InputError */
export async function readImage(file: string, mip = 0): Promise<Image8> {
  const bytes = await readBytes(file);
  const kind = fileKind(bytes, file);
  if (kind === 'dds') return readDdsLevel(bytes, mip);
  if (mip > 0) throw new InputError(`${file} has no mip levels; only DDS files do.`);
  if (kind === 'tga') return readTga(bytes);
  const { decodePicture } = await import('@wet-lacquer/node/threads/pictures.ts');
  return decodePicture(bytes, MAX_SIDE);
}

/** PNG or JPEG by the file's ending. */
export async function pictureBytes(
  image: Image8,
  ending: string,
  colourSpace: 'srgb' | 'linear' = 'srgb',
): Promise<Uint8Array> {
  const { fileJpeg, png } = await import('@wet-lacquer/node/threads/pictures.ts');
  return ending === 'png' ? png(image, colourSpace) : fileJpeg({ image, space: colourSpace, quality: 95 });
}

/** Gives the memory of what is no longer used back at once: a picture as the reader left it is as large as all the rest. */
export function collect(): void {
  setFlagsFromString('--expose-gc');
  (runInNewContext('gc') as () => void)();
}
