/** From the files of a skin that a game takes, the delivery spec that makes its like; every guess is said, to be confirmed. */
import { InputError } from '../errors.ts';
import { languageByName } from '../languages/index.ts';
import { DeliverySpec, type SpecFile, type SpecGuess, type SpecSidecar } from '../livery/spec.ts';
import { holdsIn, isColoured, MAIN_MAP, mapsOf, type Template, type TemplateSheet } from '../livery/template.ts';
import { slugOf } from '../livery/slug.ts';
import { baseOf, stemOf } from '../paths.ts';
import { FORMATS } from '../texture/formats/index.ts';
import type { FileGuess } from './fileRoles.ts';
import { ruleLike } from './ruleLike.ts';
import type { TextureFacts } from './understood.ts';
import { wordsOf } from './words.ts';

export interface SkinFile {
  /** Path with slashes, as far as it is known. */
  readonly name: string;
  /** Of textures. */
  readonly facts: TextureFacts | null;
  readonly guess: Pick<FileGuess, 'role' | 'reason' | 'sure'> | null;
  /** Of texts: what stands in it, line ends brought to LF, and how it is stored. Null: not a text. */
  readonly text: { readonly text: string; readonly crlf: boolean; readonly mark: boolean } | null;
}

export interface DerivedSpec {
  spec: DeliverySpec;
  /** What of the files could not be taken over, in sentences. */
  remarks: string[];
}

const SCALES = [0.125, 0.25, 0.5, 2, 4] as const;
/** Texels by which art is carried past the islands of a sheet that is painted whole. */
const PADDING = 16;
/** A guess that is this sure needs no second look. */
const SURE = 0.5;

/** The folders that all names begin with, with a slash at the end: they are where the files came from, not what the game asks for. */
function sharedFolder(names: readonly string[]): string {
  if (names.length === 0) return '';
  const folders = names.map((name) => name.split('/').slice(0, -1));
  const depth = Math.min(...folders.map((f) => f.length));
  let same = 0;
  while (same < depth && folders.every((f) => f[same] === folders[0][same])) same++;
  return folders[0]
    .slice(0, same)
    .map((folder) => `${folder}/`)
    .join('');
}

/**
 * @param key of the spec
 * @throws InputError when none of the files is a texture of one of the subject's sheets
 */
export function deriveSpec(
  template: Pick<Template, 'key' | 'game' | 'gameName' | 'sheets'>,
  files: readonly SkinFile[],
  key: string,
): DerivedSpec {
  const remarks: string[] = [];
  const guesses: SpecGuess[] = [];
  const root = sharedFolder(files.map((file) => file.name));
  const skin = skinOf(template, root, files);
  const asPattern = (text: string) => {
    const withKey = skin ? text.replaceAll(skin, '{livery.key}') : text;
    return template.key.length >= 3 ? withKey.replaceAll(template.key, '{craft.key}') : withKey;
  };
  const followers = template.sheets.flatMap((sheet) => sheet.followers ?? []);
  const rules: { rule: SpecFile; file: SkinFile }[] = [];
  let thumbnail: DeliverySpec['thumbnail'];
  for (const file of files) {
    if (!file.facts) continue;
    const inside = file.name.slice(root.length);
    if (file.guess?.role === 'preview' && file.facts.container !== 'dds' && file.facts.container !== 'tga') {
      if (thumbnail) remarks.push(`${inside} was left out: one picture of the model is made, and there are two.`);
      thumbnail ??= {
        name: asPattern(inside),
        container: file.facts.container === 'jpeg' ? 'jpg' : 'png',
        width: Math.min(2048, Math.max(16, file.facts.width)),
        height: Math.min(2048, Math.max(16, file.facts.height)),
        heading: 35,
        elevation: 18,
      };
      continue;
    }
    const said = skin ? inside.replaceAll(skin, ' ') : inside;
    // Followers are made with their sheet, whatever its rule is.
    if (followers.some((one) => bareOf(one.stem ?? '') === bareOf(inside))) continue;
    const sheet = sheetOf([...template.sheets, ...followers], said);
    if (sheet && 'stem' in sheet) continue;
    if (!sheet) {
      const known = template.sheets.map((one) => one.key).join(', ');
      remarks.push(`${inside} was left out: its name does not say which sheet it is (${known}).`);
      continue;
    }
    const role = file.guess?.role ?? 'colour';
    const map = mapsOf(sheet).find((one) => one.key === role)?.key;
    if (!map) {
      remarks.push(
        role === 'mask'
          ? `${inside} was left out: zones follow from a livery's finishes, and which ones the game knows is set in the spec by hand.`
          : `${inside} was left out: the sheet ${sheet.name} has no ${role} map.`,
      );
      continue;
    }
    // It is made for liveries that lie over no file of the game's: nothing is followed, and edges are carried on.
    const holds = holdsIn(sheet, map);
    const { over: _over, ...like } = ruleLike(sheet.key, inside, file.facts, remarks, map, holds);
    const rule: SpecFile = { ...like, padding: isColoured(holds) ? PADDING : 0 };
    const pattern = asPattern(rule.name);
    const at = wordAt(pattern, sheet.key);
    const name = at < 0 ? pattern : `${pattern.slice(0, at)}{sheet.key}${pattern.slice(at + sheet.key.length)}`;
    rules.push({ rule: { ...rule, name, ...sizeRule(sheet, file.facts) }, file });
  }
  if (rules.length === 0)
    throw new InputError('None of these files is a texture of one of the subject’s sheets, as far as their names say.');
  const merged = merge(template.sheets, rules);
  merged.forEach(({ rule, files: from }, i) => {
    const at = (field: string) => `files.${i}.${field}`;
    const first = baseOf(from[0].name);
    const also = from.length > 1 ? ` and ${from.length - 1} more` : '';
    if (rule.container === 'dds' && rule.header === 'legacy' && rule.colourSpace === 'srgb')
      guesses.push({
        at: at('colourSpace'),
        says: `${first}${also}: this header does not say how colours are stored; sRGB is taken.`,
      });
    if (rule.alpha === 'opaque' && FORMATS[rule.format].alpha === 'full')
      guesses.push({
        at: at('alpha'),
        says: `${first}${also}: its alpha is full everywhere; it is delivered opaque.`,
      });
    const unsure = from.find((file) => file.guess && file.guess.sure < SURE && rule.map !== MAIN_MAP);
    if (unsure)
      guesses.push({
        at: at('map'),
        says: `${baseOf(unsure.name)} is taken for the ${rule.map} map. ${unsure.guess!.reason}`,
      });
  });
  const sidecars = files.flatMap((file): SpecSidecar[] => {
    if (file.facts) return [];
    const inside = file.name.slice(root.length);
    const language = languageByName(file.name);
    if (!file.text || !language || file.text.text.includes('{{')) {
      remarks.push(`${inside} was left out: it is no text that a template can be made of.`);
      return [];
    }
    // Keys are plain words: nothing in them needs escaping.
    const text = skin ? file.text.text.replaceAll(skin, '{{{livery.key}}}') : file.text.text;
    const making = { kind: 'template' as const, text };
    const { crlf, mark } = file.text;
    return [{ name: asPattern(inside), language, making, ...(crlf && { lineEnds: 'crlf' }), ...(mark && { mark }) }];
  });
  sidecars.forEach((sidecar, i) =>
    guesses.push({
      at: `sidecars.${i}.making`,
      says: `${baseOf(sidecar.name)} is written as it was${skin ? `, with the livery’s key in place of “${skin}”` : ''}: what else in it is that skin’s own has to be put in by hand.`,
    }),
  );
  guesses.unshift(
    {
      at: 'folder',
      says:
        root === ''
          ? 'The files came without a folder: where the game keeps them is not known.'
          : `The files came in ${root}: how it goes on above that is not known.`,
    },
    skin
      ? { at: 'files.0.name', says: `“${skin}” in names and folders is taken for the livery’s key.` }
      : { at: 'files.0.name', says: 'Nothing in the names looks like the livery’s key: they stay as they are.' },
    { at: 'liveryKey', says: 'Which characters the game allows is not known: lower-case letters, digits and hyphens.' },
    {
      at: 'files.0.mipFilter',
      says: 'How mip levels were filtered, and how far art was carried past edges, cannot be seen: Kaiser and 16 texels.',
    },
  );
  if (thumbnail)
    guesses.push({
      at: 'thumbnail',
      says: 'From which side the model is shown is not known: from the bow, a little above.',
    });
  const spec = DeliverySpec.parse({
    schema: 1,
    key,
    version: 1,
    game: template.game,
    gameName: template.gameName,
    folder: root === '' ? '' : asPattern(root),
    files: merged.map(({ rule }) => rule),
    sidecars,
    ...(thumbnail && { thumbnail }),
    guesses,
    liveryKey: {
      allowed: 'abcdefghijklmnopqrstuvwxyz0123456789-',
      says: 'lower-case letters, digits and hyphens',
      maxLength: 60,
    },
    maxSide: Math.max(...files.map(({ facts }) => Math.max(facts?.width ?? 1, facts?.height ?? 1))),
    ground: '#808080',
    after: 'Put the files where the game keeps its own, and keep a copy of those.',
  });
  return { spec, remarks };
}

/** What the skin is called in its names: its folder's name where that comes again, else what all textures begin with. */
function skinOf(
  { key, sheets }: Pick<Template, 'key' | 'sheets'>,
  root: string,
  files: readonly SkinFile[],
): string | null {
  const stems = files.filter((file) => file.facts && file.guess?.role !== 'preview').map((file) => stemOf(file.name));
  const folder = root.split('/').filter(Boolean).at(-1);
  const taken = new Set([key, ...sheets.map((sheet) => sheet.key)]);
  if (folder && !taken.has(folder) && stems.some((stem) => stem.includes(folder))) return folder;
  if (stems.length < 2) return null;
  let same = 0;
  while (same < stems[0].length && stems.every((stem) => stem[same] === stems[0][same])) same++;
  // A sheet's key is not part of it, where all textures are of one sheet.
  const all = stems[0].slice(0, same);
  const end = Math.min(all.length, ...sheets.map((sheet) => wordAt(all, sheet.key)).filter((at) => at >= 0));
  const begins = all.slice(0, end).replace(/[^\p{L}\p{N}]+$/u, '');
  return begins.length >= 3 && !taken.has(begins) ? begins : null;
}

/** Where a word stands by itself in a text; -1: nowhere. */
const wordAt = (text: string, word: string): number =>
  text.search(new RegExp(`(?<![\\p{L}\\p{N}])${word}(?![\\p{L}\\p{N}])`, 'u'));

/** The sheet whose key or name stands in a path; the only one, where there is only one. */
function sheetOf<S extends { key: string; name: string }>(sheets: readonly S[], path: string): S | null {
  if (sheets.length === 1) return sheets[0];
  const words = wordsOf(path);
  const fits = sheets
    .map((sheet) => {
      const said = [sheet.key, sheet.name].map(wordsOf).filter((own) => own.every((word) => words.includes(word)));
      return { sheet, words: Math.max(0, ...said.map((own) => own.length)) };
    })
    .filter((one) => one.words > 0)
    .sort((a, b) => b.words - a.words);
  return fits.length > 1 && fits[0].words === fits[1].words ? null : (fits[0]?.sheet ?? null);
}

const bareOf = (path: string): string => path.replace(/\.[^./]*$/, '');

/** How a file's size is said: the sheet's own, so many times it, or in texels. */
function sizeRule(sheet: TemplateSheet, { width, height }: TextureFacts): Pick<SpecFile, 'size' | 'scale'> {
  if (width === sheet.width && height === sheet.height) return {};
  const scale = SCALES.find((times) => sheet.width * times === width && sheet.height * times === height);
  return scale ? { scale } : { size: { width, height } };
}

/** Rules that are alike but for their sheet become one. */
function merge(sheets: readonly TemplateSheet[], rules: readonly { rule: SpecFile; file: SkinFile }[]) {
  const merged = new Map<string, { rule: SpecFile; files: SkinFile[] }>();
  for (const { rule, file } of rules) {
    const like = JSON.stringify({ ...rule, sheets: null });
    const known = merged.get(like);
    if (!known) merged.set(like, { rule, files: [file] });
    else {
      known.rule = { ...known.rule, sheets: [...new Set([...known.rule.sheets!, ...rule.sheets!])] };
      known.files.push(file);
    }
  }
  return [...merged.values()].map(({ rule, files }) => {
    const { sheets: of, ...rest } = rule;
    return { rule: of!.length === sheets.length ? rest : rule, files };
  });
}

/** A key for a spec that was taken from a skin. */
export const derivedKey = (skin: string): string => `from-${slugOf(skin) || 'skin'}`.slice(0, 50);
