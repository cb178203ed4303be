/** A sheet out to another editor as a layered file, and back; runs in threads. */
import { sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { renderSheet } from '@wet-lacquer/core/compose/renderSheet.ts';
import { packPixels } from '@wet-lacquer/core/files/pixels.ts';
import type { FlatLayer } from '@wet-lacquer/core/layered/layersOf.ts';
import type { ReturnedPicture, ReturnedPlan } from '@wet-lacquer/core/layered/returned.ts';
import { drawnLayers, matchBack } from '@wet-lacquer/core/layered/sheetLayers.ts';
import { writeOra, writePsd } from '@wet-lacquer/core/layered/writeLayered.ts';
import { canBe, fileKind } from '@wet-lacquer/core/kinds/index.ts';
import { hashOf } from '../hash.ts';
import { png, thumb } from './pictures.ts';
import { sourcesOf, type Scene } from './scene.ts';
import { readLayered } from './understand.ts';

export async function sheetAsLayered(task: { scene: Scene; sheet: string; as: 'psd' | 'ora' }): Promise<Uint8Array> {
  const { scene, as } = task;
  const sheet = sheetNamed(scene.template, task.sheet);
  const sources = await sourcesOf(scene);
  const layers = drawnLayers(scene.livery, sheet.key, sheet, sources);
  const merged = renderSheet(scene.livery, sheet.key, 'colour', sheet, sources);
  return as === 'psd' ? writePsd(layers, merged) : writeOra(layers, merged, await thumb(merged), png);
}

/** @returns what changed, and the stored pixels of what became pictures @throws InputError in one sentence */
export async function sheetBack(task: {
  scene: Scene;
  sheet: string;
  bytes: Uint8Array;
}): Promise<{ plan: ReturnedPlan; blobs: Uint8Array[] }> {
  const { scene, bytes } = task;
  const sheet = sheetNamed(scene.template, task.sheet);
  const kind = fileKind(bytes, '');
  if (!canBe('layered', kind)) throw new InputError('A PSD or OpenRaster file is wanted here.');
  const file = await readLayered(bytes, kind);
  if (file.width !== sheet.width || file.height !== sheet.height)
    throw new InputError(
      `This file is ${file.width} x ${file.height}, but ${sheet.name} is ${sheet.width} x ${sheet.height}: it is not this sheet.`,
    );
  const drawn = drawnLayers(scene.livery, sheet.key, sheet, await sourcesOf(scene));
  const { same, settings, repainted, added, gone } = matchBack(drawn, file);
  const blobs: Uint8Array[] = [];
  const pictureOf = ({ name, image, left, top, hidden, opacity, blend }: FlatLayer): ReturnedPicture => {
    const packed = packPixels(image);
    blobs.push(packed);
    const { width, height } = image;
    return {
      name,
      blob: hashOf(packed),
      left,
      top,
      width,
      height,
      hidden,
      opacity: Math.round(opacity * 1000) / 10,
      blend,
    };
  };
  const plan: ReturnedPlan = {
    same,
    settings: settings.map(({ layer, set }) => ({ layer, set: set as Record<string, string | number | boolean> })),
    repainted: repainted.map(({ layer, flat }) => ({ layer, picture: pictureOf(flat) })),
    added: added.map(({ flat, above }) => ({ above, picture: pictureOf(flat) })),
    gone: [...gone],
  };
  return { plan, blobs };
}
