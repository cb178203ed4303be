/** Texts that go along with a livery's files: from a template, or as a change in the original's own file. */
import Mustache from 'mustache';
import { rgbOfHex } from '../colour/hex.ts';
import { LINEAR_OF_SRGB8, LINEAR_ONE } from '../colour/srgb.ts';
import { InputError } from '../errors.ts';
import { valuesInText, zonesInText, type ZoneGiven } from '../finish/zones.ts';
import { groundOf } from '../finish/derived.ts';
import { fillIn, type Livery } from '../livery/livery.ts';
import { slugOf } from '../livery/slug.ts';
import { LANGUAGES } from '../languages/index.ts';
import type { Language, SpecSidecar } from '../livery/spec.ts';
import { MAIN_MAP, type Template } from '../livery/template.ts';
import { expand } from './names.ts';
import { checkTemplateBudget } from './templateBudget.ts';
import { quoted, renamed, withEntriesBeside } from './textChange.ts';
import { withColour, withValue } from './textValues.ts';
import { PLAIN_TEXT, readExactly, readText, writeText } from '../files/textFile.ts';

/** A file of the delivery, as sidecars speak of it. */
export interface SidecarFile {
  sheet: string;
  map: string;
  /** Name inside the livery's folder. */
  name: string;
}

const listed = <T extends object>(items: readonly T[]) =>
  items.map((item, i) => ({ ...item, last: i === items.length - 1 }));

/**
 * What a sidecar's template can say, by name; lists have `last` on their last item: `particulars.<key>`, `livery.key`, `craft.key`, `craft.name`, `folder`, `slot` (as written) and `slotNumber`; `sheets` (key, name,
 * file, and the values of its own finish; of the colour files that are delivered), `zones` (key, name, hex, and the values of the finish that
 * owns it; of the game's finish zones that are used), where a finish's values are finish (its kind), finishName, roughness, gloss, metal,
 * coat, coatRoughness, sheen, flakeDensity, flakeStrength (0 to 1), flakeSize (mm), flakeTint, flakeRed, flakeGreen, flakeBlue (linear); `files` (sheet, map, name, path), `paths.<sheet>.<map>` (inside the folder), `colours` (name, key, hex, red,
 * green, blue: linear, 0 to 1, four decimals), `plates` (of those that stand on the model: name, key, partnerOf (a key, or empty), group, file, sheet, left, right, top, bottom (shares of the file), x, y, z, turn (numbers, each
 * with value and last), across, tall, lift, form, about, radius, pieces; in the game's own axes and units), `plated` (whether there are any). Sidecars
 * that are made for each sheet have `sheet`, and sections `n`.
 */
export function sidecarView(
  livery: Livery,
  template: Template,
  folder: string,
  slot: { text: string; number: number | null } | null,
  files: readonly SidecarFile[],
  zones: readonly ZoneGiven[] = [],
  plates: readonly object[] = [],
) {
  const particulars = Object.fromEntries(
    Object.entries(livery.particulars).map(([key, value]) => [key, fillIn(value, livery.particulars)]),
  );
  // What stands on the model is no sheet of it.
  const standing = new Set(template.sheets.filter((sheet) => sheet.plates).map(({ key }) => key));
  const sheets = files
    .filter((file) => file.map === MAIN_MAP && !standing.has(file.sheet))
    .map((file) => {
      const { sheet } = file;
      const name = template.sheets.find((s) => s.key === sheet)?.name ?? sheet;
      return { key: sheet, name, ...valuesInText(groundOf(livery, sheet)), file: file.name };
    })
    .filter((one, i, all) => all.findIndex((other) => other.key === one.key) === i);
  const linear = (value: number) => Number((LINEAR_OF_SRGB8[value] / LINEAR_ONE).toFixed(4));
  return {
    particulars: { name: '', number: '', author: '', team: '', registration: '', ...particulars },
    livery: { key: particulars.key ?? '' },
    craft: { key: template.key, name: template.name },
    folder,
    slot: slot?.text ?? '',
    slotNumber: slot?.number ?? 0,
    sheets: listed(sheets),
    files: listed(files.map((file) => ({ ...file, path: folder + file.name }))),
    paths: pathsBySheet(files),
    zones: listed(zonesInText(zones)),
    plates: listed(plates),
    plated: plates.length > 0,
    colours: listed(
      livery.scheme.map(({ name, hex }) => {
        const [red, green, blue] = rgbOfHex(hex).map(linear);
        return { name, key: slugOf(name), hex, red, green, blue };
      }),
    ),
  };
}

/** Paths inside the livery's folder, by sheet and map: of several files of a map the first. */
function pathsBySheet(files: readonly SidecarFile[]): Record<string, Record<string, string>> {
  const paths: Record<string, Record<string, string>> = {};
  for (const { sheet, map, name } of files) {
    paths[sheet] ??= {};
    paths[sheet][map] ??= name;
  }
  return paths;
}

const KNOWN_NAMES = new Set(
  (
    'particulars livery craft folder slot slotNumber sheets files paths colours last key name finish roughness metal sheet map path ' +
    'hex red green blue file n . zones finishName gloss coat coatRoughness sheen flakeDensity flakeStrength flakeSize flakeTint ' +
    'flakeRed flakeGreen flakeBlue plates plated partnerOf group left right top bottom x y z turn value across tall lift form about ' +
    'radius pieces'
  ).split(' '),
);

/** Every name that a template refers to. @throws InputError when it cannot be read */
function namesIn(text: string): string[] {
  type Token = [kind: string, name: string, from: number, to: number, inner?: Token[]];
  const walk = (tokens: Token[]): string[] =>
    tokens.flatMap(([kind, name, , , inner]) => {
      if (kind === 'text' || kind === '!') return [];
      if (kind === '>' || kind === '=')
        throw new InputError(`The template uses {{${kind}, which sidecars do not have.`);
      return [name, ...(Array.isArray(inner) ? walk(inner) : [])];
    });
  try {
    return walk(Mustache.parse(text) as Token[]);
  } catch (error) {
    if (error instanceof InputError) throw error;
    throw new InputError(`The template cannot be read: ${(error as Error).message.split('\n')[0]}.`);
  }
}

/**
 * Fills a template. @param inside it stands within a text of the language already: values get no quotes of their own
 * @throws InputError when it asks for something that does not exist
 */
export function fillTemplate(text: string, view: object, language: Language, inside = false): string {
  checkTemplateBudget(text, view as Record<string, unknown>);
  for (const name of namesIn(text)) {
    const [first, second] = name.split('.');
    const known = name === '.' || (KNOWN_NAMES.has(first) && (first !== 'particulars' || second !== undefined));
    if (!known) throw new InputError(`The template asks for "${name}", which is not known.`);
    if (first !== 'paths') continue;
    const found = name
      .split('.')
      .reduce<unknown>((at, key) => (at as Record<string, unknown> | undefined)?.[key], view);
    if (typeof found !== 'string')
      throw new InputError(`The template asks for the path of "${name.slice(6)}", which is not delivered.`);
  }
  const { escape } = LANGUAGES[language];
  const bare = (value: unknown) => escape(value).replace(/^"(.*)"$/s, '$1');
  return Mustache.render(text, view, undefined, { escape: inside ? bare : escape });
}

export interface MadeSidecar {
  text: string;
  bytes: Uint8Array;
  /** The original's text; null when it is written anew. */
  original: string | null;
  /** Why it will not work, a sentence each; empty when all is well. */
  problems: string[];
}

/** One sidecar's text and bytes. @param base bytes of the original's own file, where there is one @param gltf the document of plates */
export function makeSidecar(
  sidecar: SpecSidecar,
  name: string,
  view: object,
  facts: Readonly<Record<string, string>>,
  base: Uint8Array | undefined,
  gltf: () => object = () => ({}),
): MadeSidecar {
  const problems: string[] = [];
  // What is changed where it stands keeps its line ends, mixed ones too.
  const exact = sidecar.making.kind === 'changed';
  const read = base && (exact ? readExactly(base) : readText(base));
  const stored = read?.facts ?? {
    ...PLAIN_TEXT,
    mark: sidecar.mark ?? false,
    lineEnd: sidecar.lineEnds === 'crlf' ? ('\r\n' as const) : ('\n' as const),
  };
  let text = read?.text ?? '';
  let bytes = new Uint8Array();
  try {
    text =
      sidecar.making.kind === 'plates'
        ? `${JSON.stringify(gltf())}\n`
        : textOf({ ...sidecar, making: sidecar.making }, name, view, facts, read?.text, problems);
    const wrong = flaw(text, sidecar.language, read?.text.split('\n') ?? []);
    if (wrong) problems.push(`${name} would not be ${LANGUAGES[sidecar.language].name}: ${wrong}.`);
    bytes = writeText(text, stored) as Uint8Array<ArrayBuffer>;
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    problems.push(`${name}: ${error.message}`);
  }
  return {
    text,
    bytes,
    original: sidecar.making.kind === 'template' || sidecar.making.kind === 'plates' ? null : (read?.text ?? null),
    problems,
  };
}

/** What is made of words, one way or another. */
type Worded = Exclude<SpecSidecar['making'], { kind: 'plates' }>;

function textOf(
  { making, language }: Pick<SpecSidecar, 'language'> & { making: Worded },
  name: string,
  view: object,
  facts: Readonly<Record<string, string>>,
  original: string | undefined,
  problems: string[],
): string {
  const fill = (text: string, more: object = {}) => fillTemplate(text, { ...view, ...more }, language);
  if (making.kind === 'template') return fill(making.text);
  if (making.kind === 'section') return withSection(original ?? '', making, expand(making.own, facts), fill);
  if (original === undefined)
    throw new InputError('it is not in the game’s folder, and is changed there, not made anew.');
  let text = original;
  const { entries, replace, set } = changesOf(making);
  const renames = replace.map(({ word, by }) => ({ word, by: fillTemplate(by, view, language, true) }));
  const { times, text: next } = renamed(text, renames, making.kind === 'words' ? 'word' : 'name');
  times.forEach((n, i) => {
    if (n === 0) problems.push(`${name} has no word "${renames[i].word}" to replace.`);
  });
  text = entries === 'beside' ? withEntriesBeside(text, language, renames) : next;
  for (const one of set) {
    const changed =
      'colour' in one
        ? withColour(text, language, one.path, schemeHex(view, one.colour), one)
        : withValue(text, language, one.path, fill(one.value));
    if (changed === null) problems.push(`${name} has no ${'colour' in one ? 'colour' : 'value'} at "${one.path}".`);
    text = changed ?? text;
  }
  return text;
}

/** The changes that a making says, whichever kind it is. */
function changesOf(making: Extract<SpecSidecar['making'], { kind: 'changed' | 'words' | 'values' }>) {
  return { entries: undefined, replace: [], set: [], ...making };
}

function schemeHex(view: object, key: string): string {
  const { colours = [] } = view as { colours?: { key: string; hex: string }[] };
  const found = colours.find((one) => one.key === key);
  if (!found) throw new InputError(`the scheme has no colour called "${key}".`);
  return found.hex;
}

/** A text with the livery's section in it: renewed where it stands, else as the first number that is free in the sequence. */
function withSection(
  text: string,
  making: Extract<SpecSidecar['making'], { kind: 'section' }>,
  own: string,
  fill: (text: string, more?: object) => string,
): string {
  const begins = new RegExp(`^\\s*${quoted(making.begins).replace('\\{n\\}', '(\\d+)')}\\s*$`);
  const lines = text.replace(/\n$/, '').split('\n');
  if (text.trim() === '') lines.length = 0;
  const sections: { n: number; from: number; to: number }[] = [];
  for (let i = 0; i < lines.length; i++) {
    const found = begins.exec(lines[i]);
    if (!found) continue;
    const rest = lines.slice(i + 1);
    const next = rest.findIndex((line) => begins.test(line));
    const end = rest.findIndex((line) => line.trim() === making.ends.trim());
    const open = end < 0 || (next >= 0 && next < end);
    const to = i + (open ? (next < 0 ? rest.length : next) : end + 1);
    // One's own is written anew; somebody else's is theirs to mend.
    if (open && !lines.slice(i, to + 1).some((line) => line.includes(own)))
      throw new InputError(`The section of line ${i + 1} has no end.`);
    sections.push({ n: Number(found[1] ?? 0), from: i, to });
    i = to;
  }
  const held = sections.find(({ from, to }) => lines.slice(from, to + 1).some((line) => line.includes(own)));
  // The first number that no other has: a game reads on only as far as they follow each other.
  const others = new Set(sections.filter((one) => one !== held).map((one) => one.n));
  let n = 0;
  while (others.has(n)) n++;
  const section = [
    making.begins.replace('{n}', String(n)),
    ...fill(making.text, { n }).replace(/\n$/, '').split('\n'),
    making.ends,
  ];
  const before = sections.find((one) => one.n === n - 1);
  const at = held?.from ?? (before ? before.to + 1 : lines.length);
  return lines.toSpliced(at, held ? held.to - held.from + 1 : 0, ...section).join('\n') + '\n';
}

/** What keeps a text from being its language; null when nothing does. @param known lines that were there before */
function flaw(text: string, language: Language, known: readonly string[]): string | null {
  const wrong = LANGUAGES[language].flaw?.(text);
  if (wrong) return wrong;
  const stray = text.split('\n').findIndex((line) => /[ \t]\r?$/.test(line) && !known.includes(line));
  return stray < 0 ? null : `line ${stray + 1} ends with a stray space`;
}
