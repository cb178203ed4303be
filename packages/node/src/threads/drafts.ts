/** Sheets drawn coarsely, for pictures of the model. */
import { renderCoarse } from '@wet-lacquer/core/compose/renderSheet.ts';
import { sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import type { Image8 } from '@wet-lacquer/core/raster/image.ts';
import { sourcesOf, type Scene } from './scene.ts';

/** Longest side of a sheet on the model's picture, texels. */
const DRAFT_SIDE = 512;

const draftStep = ({ width, height }: { width: number; height: number }) =>
  Math.max(1, Math.round(Math.max(width, height) / DRAFT_SIDE));

/** All sheets for the model's picture, large ones in a coarse step. */
export async function draftsOf(scene: Scene): Promise<Map<string, Image8>> {
  const sheets = new Map<string, Image8>();
  for (const { key } of scene.template.sheets) sheets.set(key, await draftOf(scene, key));
  return sheets;
}

/** @param step texels of the sheet for one of the picture; left out: as coarse as the model's picture needs */
export async function draftOf(scene: Scene, key: string, step?: number): Promise<Image8> {
  const sheet = sheetNamed(scene.template, key);
  return renderCoarse(scene.livery, key, 'colour', sheet, step ?? draftStep(sheet), await sourcesOf(scene));
}
