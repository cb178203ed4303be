import type { OutlineCover } from '@wet-lacquer/core/delivery/outlineCover.ts';
import type { Brush } from '@wet-lacquer/core/paint/brush.ts';
import type { CloneWay } from '@wet-lacquer/core/paint/cloneOnModel.ts';
import type { SurfaceRules } from '@wet-lacquer/core/paint/surfaceStroke.ts';
import type { PointerPoint, StrokeRules } from '@wet-lacquer/core/paint/strokeMaker.ts';
import type { TexelBox } from '@wet-lacquer/core/raster/cover.ts';
import type { SelectHow } from '@wet-lacquer/core/raster/selection.ts';
import type { ModelLook } from '@wet-lacquer/core/surface/seenRegion.ts';
import type { FieldKey } from '@wet-lacquer/core/livery/fields.ts';
import type { Paint, Stroke } from '@wet-lacquer/core/livery/paint.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { Change } from './sharing.ts';

/** What the key of a coarsely drawn tile ends in. */
export const DRAFT = ' draft';

/** The key of a tile that holds a stroke which is still being painted. */
export const PAINTED = `painted${DRAFT}`;

export interface TileAsk {
  sheet: string;
  map: string;
  /** 0 is native; each level halves both sides. */
  level: number;
  tx: number;
  ty: number;
  /** The layer that is worked on is being changed: what is above it may be put together once. */
  live?: boolean;
  /** The mask of this layer alone, as grey. */
  maskOf?: string | null;
  /** Drawn at the coarse step at once, or averaged from the true composite. */
  draft: boolean;
  /** What the page has already; the answer is empty when it would be the same. */
  known: string | null;
}

export interface TileAnswer {
  /** Null: the livery has changed, and it was given up. */
  key: string | null;
  /** Straight RGBA8, 256 x 256; null when the page has it. */
  pixels: Uint8ClampedArray<ArrayBuffer> | null;
  /** What it took to draw, milliseconds. */
  took: number;
}

export interface ThumbAnswer {
  width: number;
  height: number;
  pixels: Uint8ClampedArray<ArrayBuffer>;
}

/** A stroke that begins, on one sheet. */
export interface PaintAsk {
  sheet: string;
  /** Where the sheet's first texel lies in the pointer's texels. */
  left: number;
  top: number;
  map: string;
  layer: string;
  on: 'layer' | 'mask';
  how: 'paint' | 'erase';
  paint: Paint;
  brush: Brush;
  symmetry: StrokeRules['symmetry'];
  wrap: TexelBox | null;
  /** Texels of the composite go from where they are by so much, on the model by a way; of another map when that is named. */
  clone: { dx: number; dy: number; map?: string } | { way: CloneWay; map?: string } | null;
  seed: number;
  /** On the model. */
  model?: Pick<SurfaceRules, 'perTexel' | 'mirror' | 'not'>;
}

/** Tiles that are looked at, at one level. */
export interface Looking {
  level: number;
  tiles: { sheet: string; tx: number; ty: number }[];
}

export interface PaintMove {
  points: PointerPoint[];
  straight: boolean;
  /** What is in view. */
  looks: readonly Looking[];
}

/** A stroke as it is kept, on one map of one sheet. */
export interface PaintedStroke {
  sheet: string;
  map: string;
  stroke: Omit<Stroke, 'id'>;
  bytes: Uint8Array;
}

/** Straight RGBA8 of a rectangle of a tile. */
export interface PaintPatch {
  sheet: string;
  level: number;
  tx: number;
  ty: number;
  x: number;
  y: number;
  width: number;
  height: number;
  pixels: Uint8ClampedArray<ArrayBuffer>;
}

type Making = { how: SelectHow } & (
  | { kind: 'outline'; points: { x: number; y: number }[] }
  | { kind: 'ellipse'; x: number; y: number; rx: number; ry: number }
  /** What lies at a place. */
  | { kind: 'island' | 'part'; x: number; y: number }
  | { kind: 'parts'; parts: string[] }
  | { kind: 'layer'; layer: string }
  | { kind: 'stored'; blob: Stroke['blob']; tiles: number[] }
  /** Like the colour at a place; the tolerance is the OKLab distance times 100. */
  | { kind: 'colour'; x: number; y: number; tolerance: number; connected: boolean }
);
export type SelectAsk =
  Making | { kind: 'none' } | { kind: 'invert' } | { kind: 'grow'; by: number } | { kind: 'feather'; sigma: number };

/** What is seen of the model within an outline of its view, over all sheets. */
export interface SeenAsk {
  how: SelectHow;
  look: ModelLook;
  /** -1..1 with y up. */
  outline: { x: number; y: number }[];
  /** Parts that are left away. */
  not: string[];
}

/** What is selected on a sheet, to be drawn over it. */
export interface SelectionShown {
  sheet: string;
  box: TexelBox;
  /** Texels a sample. */
  step: number;
  width: number;
  height: number;
  alpha: Uint8Array;
}

/** How light and how strong a layer's own picture is, before its changes. */
export interface LayerTones {
  /** How often each 8-bit value comes up. */
  histogram: Record<'all' | 'red' | 'green' | 'blue', Uint32Array>;
  /** OKLab L: the middle, and where the darkest and the lightest twentieth end. */
  middle: number;
  range: [number, number];
}

/** What the page asks of a render worker, by name: the question and its answer. */
export type Asks = {
  /** @param budget bytes of drawn tiles to keep */
  template: { ask: { template: Template; budget: number }; answer: null };
  livery: { ask: { livery: Livery; hot: string | null }; answer: null };
  /** The same, as what changed since the livery before. The answer says what of the model is not worked out yet: layers that go by it are left out. */
  change: { ask: { change: Change; hot: string | null }; answer: readonly FieldKey[] };
  /** Answers when all that the livery is drawn by is here. */
  arrived: { ask: null; answer: null };
  tile: { ask: TileAsk; answer: TileAnswer };
  /** Gets ready for the chosen layer of a tile to be changed, or to be painted on. */
  warm: { ask: Pick<TileAsk, 'sheet' | 'map' | 'level' | 'tx' | 'ty'> & { painting: boolean }; answer: null };
  /** The topmost layer that shows at a texel. */
  layerAt: { ask: { sheet: string; map: string; x: number; y: number }; answer: string | null };
  /** Width of a lettering for a size of 1. */
  letteringWidth: { ask: { layer: string }; answer: number | null };
  /** The colour of the box that a decal's picture brings along, `#rrggbb`; null: none. */
  decalBox: { ask: { layer: string }; answer: string | null };
  /** A layer alone, fitted into a box. */
  layerThumb: { ask: { layer: string; width: number; height: number }; answer: ThumbAnswer | null };
  /** How a sheet's art lies to its frames and colliders. */
  outlines: { ask: { sheet: string }; answer: OutlineCover };
  /** Begins a stroke, on every sheet of a surface with the same hand; the one before is let go. */
  paintBegin: { ask: readonly PaintAsk[]; answer: null };
  paintMove: { ask: PaintMove; answer: PaintPatch[] };
  /** The stroke as it is kept, its own map first; nothing when it is let go or touched nothing. */
  paintEnd: {
    /** @param also other maps on which the same texels are cloned */
    ask: { keep: boolean; last: PointerPoint | null; also: readonly string[] };
    answer: PaintedStroke[];
  };
  /** A stroke's bytes, so that they need not be fetched. */
  stroke: { ask: { blob: string; bytes: Uint8Array }; answer: null };
  select: { ask: { sheet: string; map: string; what: SelectAsk }; answer: SelectionShown[] };
  selectSeen: { ask: SeenAsk & { sheets: string[] }; answer: SelectionShown[] };
  /** What hangs together around a texel and is of its colour, without one layer's own changes; null beside the sheet. */
  patch: {
    ask: { sheet: string; map: string; x: number; y: number; tolerance: number; without: string };
    answer: { bytes: Uint8Array; tiles: number[] } | null;
  };
  selection: { ask: { sheet: string }; answer: { bytes: Uint8Array; tiles: number[] } | null };
  /** Share of each colour of the view of finishes, `#rrggbb`, 0..1. */
  zoneShares: { ask: { sheet: string }; answer: Record<string, number> };
  tones: { ask: { layer: string }; answer: LayerTones | null };
  /** Straight 8-bit sRGB of the composite; null where nothing is painted. */
  colourAt: {
    ask: { sheet: string; map: string; x: number; y: number };
    answer: { rgb: [number, number, number] | null };
  };
  /** A sheet of any state of the livery, its longer side at most so many samples. */
  sheetOf: { ask: { livery: Livery; sheet: string; map: string; side: number }; answer: ThumbAnswer };
  /** What a step changed: the spot as it was after it. Null when no map shows it. */
  stepThumb: { ask: { after: Livery; before: Change; width: number; height: number }; answer: ThumbAnswer | null };
  sheetThumb: { ask: { sheet: string; side: number }; answer: ThumbAnswer };
};

/** What reaches a worker: a livery comes as what changed. */
export type WorkerAsks = Omit<Asks, 'livery'>;
