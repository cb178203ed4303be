/** A layered file, whatever its format: what its layers are, before anything is made of them. */
import type { BlendMode } from '../livery/layer.ts';
import type { Image8 } from '../raster/image.ts';

/** A mask of a layer or group: 8-bit coverage in a box of the canvas, and what holds outside the box. */
export interface LayeredMask {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** Row by row from the top, 0 hides, 255 shows. */
  readonly data: Uint8Array;
  readonly outside: number;
  readonly disabled: boolean;
  /** How strongly it hides, 0..1: 1 as painted, 0 not at all. */
  readonly density: number;
}

interface Base {
  readonly name: string;
  /** What the writer's own program calls it by, so that it is found again; null when the format has none. */
  readonly id: string | null;
  readonly hidden: boolean;
  /** 0..1. */
  readonly opacity: number;
  readonly blend: BlendMode;
  /** Shows only where the nearest layer below that is not clipped has paint. */
  readonly clipped: boolean;
  readonly mask: LayeredMask | null;
  /** Colour label of the writer's program, as it names it; null: none. */
  readonly label: string | null;
}

export interface LayeredLayer extends Base {
  readonly kind: 'layer';
  /** Where its picture begins on the canvas; can be outside. */
  readonly x: number;
  readonly y: number;
  /** Straight RGBA8; null: an empty layer. */
  readonly image: Image8 | null;
  /** What it was before it became pixels. */
  readonly content: 'pixels' | 'text' | 'shape' | 'fill' | 'placed';
}

export interface LayeredGroup extends Base {
  readonly kind: 'group';
  /** Its layers blend with what is below the group; otherwise they blend among themselves first. */
  readonly passThrough: boolean;
  /** First on first. */
  readonly nodes: readonly LayeredNode[];
}

export type LayeredNode = LayeredLayer | LayeredGroup;

/** Something that the file holds and that cannot be kept. */
export interface Loss {
  readonly layer: string;
  readonly what: string;
}

export interface LayeredFile {
  readonly kind: 'psd' | 'psb' | 'ora';
  readonly width: number;
  readonly height: number;
  /** Bits of a channel in the file; everything is read to 8. */
  readonly depth: 8 | 16 | 32;
  readonly nodes: readonly LayeredNode[];
  /** The file's own picture of it all, straight RGBA8; null when it has none. */
  readonly merged: Image8 | null;
  readonly losses: readonly Loss[];
}

/** Texels of all layers together; a file with more is refused, whatever it is made of. */
export const MAX_TEXELS = 600_000_000;

/** Every layer and group with the names of the groups around it, first on first, a group before its layers. */
export function nodesIn(
  nodes: readonly LayeredNode[],
  path: readonly string[] = [],
): { node: LayeredNode; path: readonly string[] }[] {
  return nodes.flatMap((node) => [
    { node, path },
    ...(node.kind === 'group' ? nodesIn(node.nodes, [...path, node.name]) : []),
  ]);
}
