/** How much one livery can hold: in its schemas, and looked at whenever a step would add to it. */
export const MOST = {
  sheets: 64,
  scheme: 64,
  finishes: 24,
  references: 40,
  selections: 100,
  versions: 200,
  plates: 200,
  /** Maps on one sheet. */
  maps: 8,
  /** Layers on one map. */
  layers: 500,
  /** Strokes on one layer, and on one mask. */
  strokes: 20_000,
} as const;
