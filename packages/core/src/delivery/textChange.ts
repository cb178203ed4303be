/** Changes of words and entries in texts of games that leave everything else as it stands. */
import { diffLines } from 'diff';
import { heldIn } from '../held.ts';
import { LANGUAGES } from '../languages/index.ts';
import { lineAround, type Span } from '../languages/kind.ts';
import type { Language } from '../livery/spec.ts';

/** A word or path, and what it becomes. */
export interface Rename {
  readonly word: string;
  readonly by: string;
}

/** A text as a pattern that matches just it. */
export const quoted = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
/** What makes a word longer: letters and digits, and in words of plain text `_` too; names of files are made of words parted by it. */
const JOINS = { name: '[\\p{L}\\p{N}]', word: '[\\p{L}\\p{N}_]' };
export type Parted = keyof typeof JOINS;

/** Words where they stand as whole words, the longest first; case counts. */
const wordsAt = (words: readonly string[], parted: Parted = 'name'): RegExp =>
  new RegExp(
    [...words]
      .sort((a, b) => b.length - a.length)
      .map((word) => {
        const begins = /^[\p{L}\p{N}_]/u.test(word) ? `(?<!${JOINS[parted]})` : '';
        const ends = /[\p{L}\p{N}_]$/u.test(word) ? `(?!${JOINS[parted]})` : '';
        return `${begins}${quoted(word)}${ends}`;
      })
      .join('|'),
    'gu',
  );

/**
 * A text with all words replaced at once.
 * @returns also how often each was found
 * @example
 * import { renamed } from './delivery/textChange.ts';
 * renamed('lion_hull.dds lioness', [{ word: 'lion', by: 'tern' }]); // { text: 'tern_hull.dds lioness', times: [1] }
 */
export function renamed(
  text: string,
  renames: readonly Rename[],
  parted: Parted = 'name',
): { text: string; times: number[] } {
  const times = renames.map(() => 0);
  if (renames.length === 0) return { text, times };
  const by = new Map(renames.map(({ word }, i) => [word, i]));
  const next = text.replace(wordsAt([...by.keys()], parted), (word) => {
    const i = heldIn(by, word);
    times[i]++;
    return renames[i].by;
  });
  return { text: next, times };
}

/** A line that is another after a change. */
export interface ChangedLine {
  /** From 1, in the text as it was; of a line that is new, the one before it. */
  line: number;
  before: string | null;
  after: string | null;
}

/** The entries of a text that mention some words: where each begins and ends, in order, none within another. */
export function entriesWith(text: string, language: Language, words: readonly string[]): Span[] {
  const places = [...text.matchAll(wordsAt(words))].map((found) => found.index);
  if (places.length === 0) return [];
  const { entries, lines } = LANGUAGES[language];
  const spans = entries?.(text) ?? [];
  const found = places.map((at): Span => {
    const around = spans.filter(([from, to]) => from <= at && at < to);
    // The innermost that is one of several of its kind; without such, its line.
    return around.sort((a, b) => a[1] - a[0] - (b[1] - b[0]))[0] ?? lineAround(text, at);
  });
  const merged: Span[] = [];
  for (const [from, to] of found.sort((a, b) => a[0] - b[0] || b[1] - a[1])) {
    const last = merged.at(-1);
    if (last && from < last[1]) last[1] = Math.max(last[1], to);
    else if (last && lines && from === last[1]) last[1] = to;
    else merged.push([from, to]);
  }
  return merged;
}

/** A text in which each entry that mentions the words has a copy beside it with the words replaced, unless that is there already. */
export function withEntriesBeside(text: string, language: Language, renames: readonly Rename[]): string {
  let out = '';
  let at = 0;
  for (const [from, to] of entriesWith(
    text,
    language,
    renames.map(({ word }) => word),
  )) {
    const copy = renamed(text.slice(from, to), renames).text;
    if (text.includes(copy)) continue;
    out += text.slice(at, to) + between(text, language, from, to) + copy;
    at = to;
  }
  return out + text.slice(at);
}

/** What parts an entry from a copy behind it. */
function between(text: string, language: Language, from: number, to: number): string {
  const start = text.lastIndexOf('\n', from - 1) + 1;
  const indent = /^[ \t]*/.exec(text.slice(start, from))![0];
  const ownLine = text.slice(start, from).trim() === '';
  const end = text.includes('\r\n') ? '\r\n' : '\n';
  if (LANGUAGES[language].comma) return ownLine ? `,${end}${indent}` : ', ';
  if (text[to - 1] === '\n') return '';
  return ownLine ? end + indent : '';
}

/** The lines that differ between a text and what it became. */
export function changedLines(before: string, after: string): ChangedLine[] {
  const out: ChangedLine[] = [];
  let line = 1;
  let gone: string[] = [];
  const flush = (come: readonly string[]) => {
    const first = line - gone.length;
    for (let i = 0; i < Math.max(gone.length, come.length); i++)
      out.push({ line: first + Math.min(i, gone.length), before: gone[i] ?? null, after: come[i] ?? null });
    gone = [];
  };
  for (const { added, removed, value } of diffLines(before, after)) {
    const lines = value.replace(/\n$/, '').split('\n');
    if (removed) {
      flush([]);
      gone = lines;
      line += lines.length;
    } else if (added) flush(lines);
    else {
      flush([]);
      line += lines.length;
    }
  }
  flush([]);
  return out;
}
