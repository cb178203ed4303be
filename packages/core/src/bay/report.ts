/** What a stand-in game made of a delivered folder. */
export interface BaySheet {
  key: string;
  file: string;
  /** "own": the game shows its own picture, since the livery does not claim the sheet. */
  status: 'shown' | 'own' | 'missing' | 'refused';
  /** From symptom to cause, one sentence; empty when all is well. */
  why: string;
  width: number;
  height: number;
  /** RGBA8 of mip level 0 as decoded from the file; the missing-texture pattern when there is none. */
  pixels: Uint8Array;
}

export interface BayReport {
  craft: string;
  livery: string;
  sheets: BaySheet[];
  loaded: string[];
  ignored: { file: string; why: string }[];
  finish: Record<string, { roughness: number; metal: number }>;
}

/** Everything a game can see: paths inside its own folder, with forward slashes. */
export type GameFolder = ReadonlyMap<string, Uint8Array>;
