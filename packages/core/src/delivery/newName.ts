/** A skin under a new name: which words and paths become what, in names of files and in texts, as a delivery spec that does it. */
import type { DeliverySpec, Language, SpecSidecar } from '../livery/spec.ts';
import type { Livery } from '../livery/livery.ts';
import { MAIN_MAP, originalKey, type Template } from '../livery/template.ts';
import { followerName, isOriginal, planDelivery } from './plan.ts';
import { NO_TARGET } from './target.ts';
import { changedLines, renamed, type ChangedLine, type Rename } from './textChange.ts';

/** A text that the template keeps. */
export interface KeptText {
  readonly name: string;
  readonly language: Language;
  /** With its line ends as they are. */
  readonly text: string;
}

/** What is to be made of a kept text: changed under its new name, with copies of its entries beside the old ones, or left alone. */
export type TextWish = 'changed' | 'beside' | 'alone';

export interface NewName {
  readonly renames: readonly Rename[];
  /** By the names of the kept texts; the others are left alone. */
  readonly texts: Readonly<Record<string, TextWish>>;
  /** Values that are bound, by the names of the texts. */
  readonly values: Readonly<Record<string, Extract<SpecSidecar['making'], { kind: 'changed' }>['set']>>;
}

/** One file as it goes out. */
export interface RenamedFile {
  readonly from: string;
  readonly to: string;
  readonly what: 'painted' | 'as it came' | 'text';
  /** Of texts. */
  readonly lines: readonly ChangedLine[];
  /** Why it would not work, a sentence each. */
  readonly problems: readonly string[];
}

/** Words without a new one, or that are none, change nothing. */
const told = (renames: readonly Rename[]): Rename[] =>
  renames
    .map(({ word, by }) => ({ word: word.trim(), by: by.trim() }))
    .filter(({ word, by }, i, all) => word && by && word !== by && all.findIndex((one) => one.word === word) === i);

/** A text as patterns of names say it: sidecars write `{{particulars.number}}`, names `{particulars.number}`. */
const asPattern = (by: string) => by.replace(/\{\{\{?\s*([\w.-]+)\s*\}?\}\}/g, '{$1}');
const forNames = (renames: readonly Rename[]) => told(renames).map(({ word, by }) => ({ word, by: asPattern(by) }));

/**
 * What becomes of each file and of each line, as a delivery by `specUnderNewName` would have it.
 * @param made that spec
 */
export function previewNewName(
  livery: Livery,
  template: Template,
  spec: DeliverySpec,
  made: DeliverySpec,
  texts: readonly KeptText[],
): RenamedFile[] {
  const kept = new Map(texts.map(({ name, text }) => [name, new TextEncoder().encode(text)]));
  const plan = planDelivery(livery, template, made, { ...NO_TARGET, kept });
  const before = planDelivery(livery, template, { ...spec, sidecars: [] }).files;
  const drawn = plan.files.flatMap((file, i): RenamedFile[] => {
    if (file.kind === 'sidecar') return [];
    const companion = file.kind === 'companion';
    const from = companion ? file.file.name : (before[i]?.name ?? file.name);
    const painted =
      file.kind === 'sheet' && !file.leftOut && !isOriginal(livery, template, file.master.key, file.spec.map);
    return [
      {
        from,
        to: file.name,
        what: painted || file.kind === 'thumbnail' ? 'painted' : 'as it came',
        lines: [],
        problems: [],
      },
    ];
  });
  const changed = plan.files.flatMap((file): RenamedFile[] => {
    const making =
      file.kind === 'sidecar' ? made.sidecars.find(({ name }) => name === file.pattern)?.making : undefined;
    if (file.kind !== 'sidecar' || making?.kind !== 'changed' || !making.of) return [];
    const { problems, text } = file;
    const was = texts.find(({ name }) => name === making.of)?.text ?? '';
    return [{ from: making.of, to: file.name, what: 'text', lines: changedLines(was, text), problems }];
  });
  return [...drawn, ...changed];
}

const wishesFor = (wishes: NewName['texts'], name: string): TextWish =>
  Object.hasOwn(wishes, name) ? wishes[name] : 'alone';

/**
 * The spec that puts a skin out under a new name: names of files with the words replaced, a sidecar for each text, and what nobody painted goes
 * along wherever its name is another.
 * @param key and version of the new spec
 */
export function specUnderNewName(
  template: Pick<Template, 'beside' | 'sheets' | 'originals'>,
  spec: DeliverySpec,
  texts: readonly KeptText[],
  { renames, texts: wishes, values }: NewName,
  { key, version }: { key: string; version: number },
): DeliverySpec {
  const words = told(renames);
  const forName = forNames(renames);
  // What a pattern asks for in braces is no name.
  const rename = (name: string) =>
    name
      .split(/(\{[^}]*\})/)
      .map((piece) => (piece.startsWith('{') ? piece : renamed(piece, forName).text))
      .join('');
  const files = spec.files.map((file) => {
    const name = rename(file.name);
    const { untouched: _untouched, ...rest } = file;
    return name === file.name ? file : { ...rest, name, untouched: 'send' as const };
  });
  const made = texts.filter(({ name }) => wishesFor(wishes, name) !== 'alone');
  const sidecars = made.map(({ name, language, text }): SpecSidecar => {
    const beside = wishesFor(wishes, name) === 'beside';
    // Only words that are there: one that is missing would be a finding.
    const { times } = renamed(text, words);
    const replace = words.filter((_, i) => times[i] > 0);
    return {
      name: beside ? name : rename(name),
      language,
      making: {
        kind: 'changed',
        of: name,
        ...(beside && { entries: 'beside' as const }),
        replace,
        set: [...(values[name] ?? [])],
      },
    };
  });
  const names = new Set(made.map(({ name }) => name));
  const along = spec.companions ?? [];
  // Whatever else has the old name in its own goes along under the new one.
  const others = (template.beside ?? []).filter(
    ({ name }) => rename(name) !== name && !names.has(name) && !along.some(({ file }) => file === name),
  );
  const companions = [...along, ...others.map(({ name }) => ({ file: name, name }))]
    .filter(({ file }) => !names.has(file))
    .map(({ file, name }) => ({ file, name: rename(name) }));
  // Files that follow a sheet have their names from the template, or from the file that came.
  const pairs = template.sheets.flatMap((sheet) =>
    (sheet.followers ?? []).flatMap((follower) => {
      const rule = spec.files.find(({ map, sheets }) => map === MAIN_MAP && (!sheets || sheets.includes(sheet.key)));
      if (follower.stem === null || !rule) return [];
      const file = followerName(
        rule,
        follower,
        template.originals?.[originalKey(sheet.key, 'colour', follower.key)] ?? null,
      );
      return rename(file) === file ? [] : [{ file, as: rename(file) }];
    }),
  );
  const elsewhere = spec.sidecars.filter((one) => !sidecars.some(({ name }) => name === one.name));
  return {
    ...spec,
    key,
    version,
    files,
    folder: rename(spec.folder),
    sidecars: [...elsewhere, ...sidecars],
    ...(companions.length > 0 ? { companions } : { companions: undefined }),
    ...(pairs.length > 0 && { pairs: [...(spec.pairs ?? []), ...pairs] }),
  };
}

/** Parts of names that tell files of one skin apart, not the skin. */
const COMMON = /^(textures?|tex|images?|maps?|skins?|liver(y|ies)|data|common|default|\d+|[a-z])$/i;

/** Words that run through the names of a skin's files and through its texts, the likeliest to be its own name first. */
export function wordsToRename(names: readonly string[], texts: readonly KeptText[]): string[] {
  const found = new Map<string, number>();
  const count = (word: string, by: number) => {
    if (word.length > 2 && !COMMON.test(word)) found.set(word, (found.get(word) ?? 0) + by);
  };
  for (const name of names) {
    const words = new Set<string>();
    for (const folder of name.split('/').slice(0, -1)) words.add(folder);
    const parts = name
      .slice(name.lastIndexOf('/') + 1)
      .replace(/\.[^.]*$/, '')
      .split(/[_\-. ]+/);
    const signs = name.slice(name.lastIndexOf('/') + 1).match(/[_\-. ]+/g) ?? [];
    // Every run of parts from the first on: "red_lion" of "red_lion_hull_d".
    let run = '';
    parts.forEach((part, i) => words.add((run += (i > 0 ? signs[i - 1] : '') + part)));
    for (const word of words) count(word, 1);
  }
  const all = [...found]
    .filter(([, times]) => times > 1 && times >= names.length / 4)
    .map(([word, times]) => ({
      word,
      times: times + texts.reduce((n, { text }) => n + (text.includes(word) ? 2 : 0), 0),
    }))
    .sort((a, b) => b.times - a.times || b.word.length - a.word.length);
  // A beginning of a longer one that is found as often says less.
  return all
    .filter(({ word, times }) => !all.some((o) => o.word !== word && o.word.startsWith(word) && o.times >= times))
    .slice(0, 6)
    .map(({ word }) => word);
}
