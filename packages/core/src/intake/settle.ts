/** From what was understood of some files, what a template of them would most likely be; the painter settles the rest. */
import type { FileGuess, FileRole } from './fileRoles.ts';
import type { Decisions, Understood } from './understood.ts';
import { fileBeside } from '../models/beside.ts';
import type { NamedTexture } from '../models/mesh.ts';
import { stemOf } from '../paths.ts';
import { cutTo } from '../livery/words.ts';
import { wordsOf } from './words.ts';

export interface SettleFile {
  readonly name: string;
  readonly understood: Pick<Understood, 'kind'> | null;
  readonly guess: FileGuess | null;
  /** Which way up it is stored, by the material whose islands say so. */
  readonly ways?: Readonly<Record<string, 'upright' | 'upside-down'>>;
}

export interface SettleModel {
  readonly name: string;
  readonly groups: readonly { readonly material: string; readonly triangles: number; readonly bare?: true }[];
  /** Textures that it names itself. */
  readonly textures?: readonly NamedTexture[];
}

const words = (name: string) => new Set(wordsOf(stemOf(name)));

/**
 * Sheets are the model's materials, with the colour texture and the layered file whose names say the same; without a model, one sheet for
 * each colour texture and for each layered file that belongs to none of them.
 */
export function proposeSheets(files: readonly SettleFile[], model: SettleModel | null): Decisions['sheets'] {
  const colours = files
    .filter((f) => f.understood?.kind === 'texture' && f.guess?.role === 'colour' && !f.guess.copy)
    .map((f) => f.name);
  const layered = files.filter((f) => f.understood?.kind === 'layered').map((f) => f.name);
  const common = commonWords([...colours, ...layered, ...(model?.groups.map((g) => g.material) ?? [])]);
  const sheet = (material: string, name: string): Decisions['sheets'][number] => ({
    material,
    also: [],
    name: cutTo(name, 60),
    colour: null,
    layered: null,
    maps: [],
    followers: [],
    upsideDown: false,
    side: 2048,
  });
  if (!model) {
    const sheets = colours.map((name) => ({ ...sheet(name, stemOf(name)), colour: name }));
    const takes = pairUp(
      sheets.map((s) => s.colour),
      layered,
      common,
    );
    sheets.forEach((s, i) => (s.layered = takes[i]));
    const rest = layered.filter((name) => !takes.includes(name));
    return withMaps(
      [...sheets, ...rest.map((name) => ({ ...sheet(name, stemOf(name)), layered: name }))],
      files,
      common,
    );
  }
  const said = texturesFound(files, model);
  const sheets: Decisions['sheets'] = [];
  for (const material of new Set(model.groups.filter(({ bare }) => !bare).map((g) => g.material))) {
    const colour = said.find((one) => one.material === material && one.map === 'colour')?.file ?? null;
    const same = colour === null ? undefined : sheets.find((s) => s.colour === colour);
    // What wears one picture is one sheet.
    if (same) same.also.push(material);
    else sheets.push({ ...sheet(material, material || 'Sheet'), colour });
  }
  for (const s of sheets) s.maps = mapsSaid(said, [s.material, ...s.also]);
  const named = new Set(said.map(({ file }) => file));
  const names = sheets.map(({ material }) => material);
  const paint = pairUp(
    sheets.map((s) => (s.colour ? null : s.material)),
    colours.filter((name) => !named.has(name)),
    common,
  );
  const layers = pairUp(names, layered, common);
  sheets.forEach((s, i) => {
    s.colour ??= paint[i];
    s.layered = layers[i];
  });
  // One material and one texture belong together whatever they are called.
  if (sheets.length === 1) {
    sheets[0].colour ??= colours.length === 1 ? colours[0] : null;
    sheets[0].layered ??= layered.length === 1 ? layered[0] : null;
  }
  const found = sheets.filter((s) => s.colour || s.layered);
  return withMaps(found.length > 0 ? found : sheets, files, common);
}

/** Textures that a model names and that are here, by their files. */
function texturesFound(files: readonly SettleFile[], model: SettleModel): NamedTexture[] {
  const names = files.filter(({ understood }) => understood?.kind === 'texture').map(({ name }) => name);
  return (model.textures ?? []).flatMap((texture) => {
    const file = fileBeside(names, model.name, texture.file, true);
    return file === null ? [] : [{ ...texture, file }];
  });
}

/** Maps beside the colour that a model names for some materials, each once. */
function mapsSaid(said: readonly NamedTexture[], materials: readonly string[]): Decisions['sheets'][number]['maps'] {
  const maps = new Map<string, string>();
  for (const { material, map, file } of said)
    if (map !== 'colour' && materials.includes(material) && ![...maps.values()].includes(file) && !maps.has(map))
      maps.set(map, file);
  return [...maps].slice(0, 7).map(([map, file]) => ({ map, file }));
}

/** Roles of files that are maps of a sheet beside its colour. */
const MAP_ROLES: readonly FileRole[] = [
  'normal',
  'packed',
  'roughness',
  'metal',
  'occlusion',
  'specular',
  'height',
  'mask',
  'night',
];

/** Sheets with their other maps, found by the words of their names, and with the files that carry the same art. */
function withMaps(sheets: Decisions['sheets'], files: readonly SettleFile[], common: Set<string>): Decisions['sheets'] {
  const names = sheets.map((sheet) => sheet.colour ?? sheet.layered ?? sheet.material);
  const maps = sheets.map((sheet) => [...sheet.maps]);
  const taken = new Set(sheets.flatMap((sheet) => [sheet.colour, ...sheet.maps.map(({ file }) => file)]));
  for (const role of MAP_ROLES) {
    const own = files
      .filter(({ name, guess }) => guess?.role === role && !guess.copy && !taken.has(name))
      .map((f) => f.name);
    const found = sheets.length === 1 && own.length === 1 ? own : pairUp(names, own, common);
    found.forEach((file, i) => {
      if (file && maps[i].length < 7 && !maps[i].some(({ map }) => map === role)) maps[i].push({ map: role, file });
    });
  }
  return sheets.map((sheet, i) => ({
    ...sheet,
    upsideDown: files.find(({ name }) => name === sheet.colour)?.ways?.[sheet.material] === 'upside-down',
    maps: maps[i],
    followers: files.filter(({ guess }) => sheet.colour && guess?.copy?.of === sheet.colour).map((f) => f.name),
  }));
}

/** Words that every name has tell nothing apart. */
function commonWords(names: readonly string[]): Set<string> {
  if (names.length < 2) return new Set();
  return names.map(words).reduce((all, some) => new Set([...all].filter((word) => some.has(word))));
}

/** For each name the candidate that shares most words with it, none twice, the best pairs first. */
function pairUp(
  names: readonly (string | null)[],
  candidates: readonly string[],
  common: Set<string>,
): (string | null)[] {
  const pairs = names.flatMap((name, i) =>
    candidates.map((candidate) => {
      const [a, b] = [words(name ?? ''), words(candidate)];
      const shared = [...a].filter((word) => b.has(word) && !common.has(word)).length;
      // Of two that share as much, the one with fewer words of its own.
      return { i, candidate, score: shared === 0 ? 0 : shared - b.size / 100 };
    }),
  );
  const out: (string | null)[] = names.map(() => null);
  const taken = new Set<string>();
  for (const { i, candidate, score } of pairs.toSorted((a, b) => b.score - a.score)) {
    if (score <= 0 || out[i] !== null || taken.has(candidate)) continue;
    out[i] = candidate;
    taken.add(candidate);
  }
  return out;
}
