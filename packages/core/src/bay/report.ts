/** What a stand-in game made of a delivered folder. */

/** A decoded picture: RGBA8, rows from the top as the game shows them. */
export interface BayPicture {
  width: number;
  height: number;
  pixels: Uint8Array;
}

export interface BaySheet extends BayPicture {
  key: string;
  file: string;
  /** "own": the game shows its own picture, since the livery does not claim the sheet. */
  status: 'shown' | 'own' | 'missing' | 'refused';
  /** From symptom to cause, one sentence; empty when all is well. */
  why: string;
  /** Mip levels 1 and on, as they lie in the file; empty: it has none, and the game makes none. */
  levels: BayPicture[];
}

/** A quad or strip that stands on the model by itself. */
export interface BayPlate {
  name: string;
  /** Its texture. */
  file: string;
  status: 'shown' | 'refused';
  /** Empty when all is well. */
  why: string;
  /** In the model's axes and metres; v down. */
  mesh: { positions: number[]; normals: number[]; uvs: number[]; indices: number[] };
}

/** The game's own model of the subject, which lies in its archives. */
export interface BayModel {
  positions: readonly number[];
  normals: readonly number[];
  indices: readonly number[];
}

export interface Ignored {
  file: string;
  why: string;
}

export interface BayReport {
  livery: string;
  /** What the game calls it. */
  title: string;
  sheets: BaySheet[];
  plates: BayPlate[];
  /** What plates wear, by file. */
  plateTextures: BaySheet[];
  loaded: string[];
  ignored: Ignored[];
  /** What else the game read: numbers, names, values. */
  facts: { label: string; value: string; hex?: string }[];
}

/** Everything a game can see: paths inside its own folder, with forward slashes. */
export type GameFolder = ReadonlyMap<string, Uint8Array>;

/** A stand-in game: it sees its own folder and nothing else. */
export interface BayGame {
  key: string;
  name: string;
  /** How it shows things: the light, how far the camera stands (1: as near as the whole fits), and how texels are chosen. */
  view: { light: 'Overcast' | 'Low sun' | 'Workshop' | 'Unlit'; distance: number; texels: 'mips' | 'nearest' };
  /** A game in two dimensions draws its own picture of what it loaded, as wide as it is asked for; null: nothing was loaded. */
  draw?(report: BayReport, width: number): BayPicture | null;
  /** The liveries that it lists, and what it passes over, with the reason. */
  list(folder: GameFolder): { keys: string[]; ignored: Ignored[] };
  /** Loads one of them. Never throws: what cannot be loaded is said in the report. */
  load(folder: GameFolder, key: string, model?: BayModel | null): BayReport;
}

export const newReport = (livery: string, title = livery): BayReport => ({
  livery,
  title,
  sheets: [],
  plates: [],
  plateTextures: [],
  loaded: [],
  ignored: [],
  facts: [],
});

/** Which of the liveries that a game lists is shown: the one that is wanted by its key or by the path of one of its files, else the last. */
export function shownOf(keys: readonly string[], wanted: string | null): string | undefined {
  if (wanted !== null && keys.includes(wanted)) return wanted;
  const inPath = keys.filter((key) => wanted?.includes(key)).toSorted((a, b) => b.length - a.length);
  return inPath[0] ?? keys.at(-1);
}
