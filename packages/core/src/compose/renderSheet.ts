import type { Livery } from '../livery/livery.ts';
import { newImage, TILE, type Image8 } from '../raster/image.ts';
import type { Region } from '../layers/kind.ts';
import { toStraight8 } from '../raster/tile16.ts';
import { drawAlone, renderFinished, type Scene, type Sources } from './renderTile.ts';

export interface Size {
  width: number;
  height: number;
}

/** A whole map of a sheet at native size as straight RGBA8, row 0 at the top. */
export function renderSheet(livery: Livery, sheet: string, map: string, size: Size, sources: Sources): Image8 {
  return renderRows(livery, sheet, map, size, sources, 0, Math.ceil(size.height / TILE));
}

/** Rows of tiles `from` to `to` (exclusive) of a map; tile by tile, so that memory stays near the result. */
export function renderRows(
  livery: Livery,
  sheet: string,
  map: string,
  size: Size,
  sources: Sources,
  from: number,
  to: number,
): Image8 {
  const top = from * TILE;
  const bottom = Math.min(size.height, to * TILE);
  return renderPiece(livery, sheet, map, { x: 0, y: top, width: size.width, height: bottom - top, step: 1 }, sources);
}

/** A whole map drawn coarsely, one sample for `step` x `step` texels: for small pictures of it. */
export function renderCoarse(
  livery: Livery,
  sheet: string,
  map: string,
  size: Size,
  step: number,
  sources: Sources,
): Image8 {
  const [width, height] = [Math.ceil(size.width / step), Math.ceil(size.height / step)];
  return renderPiece(livery, sheet, map, { x: 0, y: 0, width, height, step }, sources);
}

/** A piece of a map as it is shown and delivered, straight RGBA8; of any size, unlike a tile. */
export function renderPiece(livery: Livery, sheet: string, map: string, piece: Region, sources: Sources): Image8 {
  const { x: left, y: top, step } = piece;
  return byTiles(piece, (x, y, width, height) =>
    renderFinished(livery, sheet, map, { x: left + x * step, y: top + y * step, width, height, step }, sources),
  );
}

/** One layer of a map as it is by itself, at full opacity, in no group and clipped to nothing: straight RGBA8 of the whole sheet. */
export function renderAlone(scene: Scene, id: string, size: Size): Image8 {
  const free = scene.layers.map((layer) => ({ ...layer, group: undefined, clipped: undefined }));
  const alone: Scene = { ...scene, layers: free };
  return byTiles(size, (x, y, width, height) => {
    const drawn = drawAlone(alone, id, { x, y, width, height, step: 1 }, 'full');
    return drawn ? toStraight8(drawn, width, height, x, y) : new Uint8Array(width * height * 4);
  });
}

/** Draws an image tile by tile: what fits the kernels' working memory is drawn many times as fast as what does not. */
function byTiles(size: Size, draw: (x: number, y: number, width: number, height: number) => Uint8Array): Image8 {
  const image = newImage(size.width, size.height);
  for (let y = 0; y < size.height; y += TILE) {
    for (let x = 0; x < size.width; x += TILE) {
      const width = Math.min(TILE, size.width - x);
      const height = Math.min(TILE, size.height - y);
      const tile = draw(x, y, width, height);
      for (let row = 0; row < height; row++) {
        image.data.set(tile.subarray(row * width * 4, (row + 1) * width * 4), ((y + row) * size.width + x) * 4);
      }
    }
  }
  return image;
}
