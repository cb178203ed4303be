/** What a look at an encoding is given and says, and what the looks share. */
import { envOf, type Sources } from '../../compose/renderTile.ts';
import { isDrawn, boundsOf, type DrawnLayer } from '../../layers/index.ts';
import type { Box } from '../../layers/kind.ts';
import type { Edit } from '../../livery/edit.ts';
import type { LayerId } from '../../livery/ids.ts';
import { isOff, type Layer } from '../../livery/layer.ts';
import { layersOf, type Livery } from '../../livery/livery.ts';
import type { Image8 } from '../../raster/image.ts';
import type { FormatKey } from '../../texture/formats/index.ts';
import type { EncodedLevel } from './encodedLevel.ts';

export interface ProofFinding {
  key: string;
  title: string;
  detail: string;
  /** Texels of level 0 to look at. */
  show?: Box;
  fixes: Remedy[];
}

/** Another format to try, a step that changes the livery, or a mark to be moved to where the block grid hurts it least. */
export type Remedy =
  { label: string; format: FormatKey } | { label: string; edit: Edit } | { label: string; nudge: LayerId };

export interface ProofInput {
  livery: Livery;
  sheet: string;
  map: string;
  sources: Sources;
  painted: Image8;
  /** Where `painted` lies on the sheet, in whole blocks, when it is only a piece of it. */
  at?: { x: number; y: number };
  /** Only this layer is looked at. */
  only?: LayerId;
  /** Level 0 as encoded, complete. */
  encoded: EncodedLevel;
  /** The same in BC1, where the format at hand is larger; else null. */
  small: EncodedLevel | null;
}

/** The whole texels of an area that a layer can touch; null when it reaches none of them. */
export function boundsIn(layer: DrawnLayer, env: ReturnType<typeof envOf>, area: Box): Box | null {
  const box = boundsOf(layer, env) ?? area;
  const left = Math.max(area.left, Math.floor(box.left));
  const top = Math.max(area.top, Math.floor(box.top));
  const right = Math.min(area.right, Math.ceil(box.right));
  const bottom = Math.min(area.bottom, Math.ceil(box.bottom));
  return left < right && top < bottom ? { left, top, right, bottom } : null;
}

/** The visible layers of the sheet of some kinds, with the texels that they may touch. */
export function layersAt<K extends Layer['kind']>(
  { livery, sheet, map, sources, painted, at = { x: 0, y: 0 }, only }: ProofInput,
  ...kinds: K[]
): { layer: Extract<Layer, { kind: K }>; box: Box }[] {
  const env = envOf(livery, sources, sheet);
  const area = { left: at.x, top: at.y, right: at.x + painted.width, bottom: at.y + painted.height };
  return layersOf(livery, sheet, map).flatMap((layer) => {
    if (only && layer.id !== only) return [];
    if (isOff(layer) || !(kinds as string[]).includes(layer.kind) || !isDrawn(layer)) return [];
    const box = boundsIn(layer, env, area);
    if (!box) return [];
    const inside = {
      left: box.left - at.x,
      top: box.top - at.y,
      right: box.right - at.x,
      bottom: box.bottom - at.y,
    };
    return [{ layer: layer as Layer as Extract<Layer, { kind: K }>, box: inside }];
  });
}

/** Visits the blocks that a box touches. */
export function eachBlock(level: EncodedLevel, box: Box, visit: (block: number, bx: number, by: number) => void): void {
  const [right, bottom] = [
    Math.min(level.columns, Math.ceil(box.right / 4)),
    Math.min(level.rows, Math.ceil(box.bottom / 4)),
  ];
  for (let by = box.top >> 2; by < bottom; by++) {
    for (let bx = box.left >> 2; bx < right; bx++) visit(by * level.columns + bx, bx, by);
  }
}
