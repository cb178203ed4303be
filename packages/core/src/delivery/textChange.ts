/** Changes in texts of games that leave everything else as it stands: words, entries, values by path. */
import { diffLines } from 'diff';
import {
  applyEdits,
  findNodeAtLocation,
  getNodePath,
  modify,
  parseTree,
  type Node,
  type ParseError,
} from 'jsonc-parser';
import { SaxesParser } from 'saxes';
import { rgbOfHex } from '../colour/hex.ts';
import { InputError } from '../errors.ts';
import type { SpecSidecar } from '../livery/spec.ts';
import { xmlValueAt } from './xmlPath.ts';

export type Language = SpecSidecar['language'];

/** A word or path, and what it becomes. */
export interface Rename {
  readonly word: string;
  readonly by: string;
}

const quoted = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
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

/** A text with all words replaced at once. @returns also how often each was found */
export function renamed(
  text: string,
  renames: readonly Rename[],
  parted: Parted = 'name',
): { text: string; times: number[] } {
  const times = renames.map(() => 0);
  if (renames.length === 0) return { text, times };
  const by = new Map(renames.map(({ word }, i) => [word, i]));
  const next = text.replace(wordsAt([...by.keys()], parted), (word) => {
    const i = by.get(word)!;
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
export function entriesWith(text: string, language: Language, words: readonly string[]): [number, number][] {
  const places = [...text.matchAll(wordsAt(words))].map((found) => found.index);
  if (places.length === 0) return [];
  const spans = entrySpans(text, language);
  const found = places.map((at): [number, number] => {
    const around = spans.filter(([from, to]) => from <= at && at < to);
    // The innermost that is one of several of its kind; without such, its line.
    return around.sort((a, b) => a[1] - a[0] - (b[1] - b[0]))[0] ?? lineAround(text, at);
  });
  const merged: [number, number][] = [];
  for (const [from, to] of found.sort((a, b) => a[0] - b[0] || b[1] - a[1])) {
    const last = merged.at(-1);
    if (last && from < last[1]) last[1] = Math.max(last[1], to);
    // Lines that follow one another are one entry.
    else if (last && language === 'text' && from === last[1]) last[1] = to;
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
  if (language === 'json') return ownLine ? `,${end}${indent}` : ', ';
  if (text[to - 1] === '\n') return '';
  return ownLine ? end + indent : '';
}

function lineAround(text: string, at: number): [number, number] {
  const end = text.indexOf('\n', at);
  return [text.lastIndexOf('\n', at - 1) + 1, end < 0 ? text.length : end + 1];
}

/** Spans of what stands in a text beside others of its kind. */
function entrySpans(text: string, language: Language): [number, number][] {
  switch (language) {
    case 'json':
      return jsonEntries(text);
    case 'xml':
      return xmlEntries(text);
    case 'ini':
    case 'toml':
      return sections(text, /^\s*\[/);
    case 'script':
      return blocks(text);
    default:
      return [];
  }
}

function jsonEntries(text: string): [number, number][] {
  const tree = parseTree(text);
  const spans: [number, number][] = [];
  const walk = (node: Node) => {
    // Members of a list, and of an object whose members are alike: records by their name.
    const records =
      node.type === 'object' && (node.children ?? []).every((one) => one.children?.[1]?.type === 'object');
    for (const child of node.children ?? []) {
      if (node.type === 'array' || (records && (node.children ?? []).length > 0 && node.parent !== undefined))
        spans.push([child.offset, child.offset + child.length]);
      walk(child);
    }
  };
  if (tree) walk(tree);
  return spans;
}

function xmlEntries(text: string): [number, number][] {
  interface Open {
    name: string;
    from: number;
    inside: { name: string; span: [number, number] }[];
  }
  const open: Open[] = [{ name: '', from: 0, inside: [] }];
  const spans: [number, number][] = [];
  const parser = new SaxesParser({ xmlns: false });
  let begins = 0;
  parser.on('error', (error) => {
    throw new InputError(`It is not well-formed XML: ${error.message}.`);
  });
  parser.on('opentagstart', ({ name }) => {
    begins = text.lastIndexOf(`<${name}`, parser.position - 1);
  });
  parser.on('opentag', ({ name }) => open.push({ name, from: begins, inside: [] }));
  parser.on('closetag', () => {
    const { name, from, inside } = open.pop()!;
    const several = new Map<string, number>();
    for (const one of inside) several.set(one.name, (several.get(one.name) ?? 0) + 1);
    for (const one of inside) if (several.get(one.name)! > 1) spans.push(one.span);
    open.at(-1)!.inside.push({ name, span: [from, parser.position] });
  });
  parser.write(text).close();
  return spans;
}

/** From each line that begins a section to the next one. */
function sections(text: string, begins: RegExp): [number, number][] {
  const starts: number[] = [];
  let at = 0;
  for (const line of text.split('\n')) {
    if (begins.test(line)) starts.push(at);
    at += line.length + 1;
  }
  return starts.map((from, i) => [from, starts[i + 1] ?? text.length]);
}

/** Blocks in braces, from the beginning of the line that opens them (or names them, above) to the end of the one that closes them. */
function blocks(text: string): [number, number][] {
  const spans: [number, number][] = [];
  const open: number[] = [];
  for (let i = 0; i < text.length; i++) {
    const c = text[i];
    if (c === '"' || c === "'") {
      const end = text.indexOf(c, i + 1);
      const line = text.indexOf('\n', i + 1);
      if (end > 0 && (line < 0 || end < line)) i = end;
    } else if (c === '{') {
      let from = text.lastIndexOf('\n', i - 1) + 1;
      if (text.slice(from, i).trim() === '' && from > 0) from = text.lastIndexOf('\n', from - 2) + 1;
      open.push(from);
    } else if (c === '}') {
      const from = open.pop();
      if (from !== undefined) spans.push([from, lineAround(text, i)[1]]);
    }
  }
  return spans;
}

/** A value that stands in a text. */
export interface TextValue {
  path: string;
  value: string;
  /** From 1. */
  line: number;
}

const MOST_VALUES = 2000;

/** The values of a text that can be set by their path, in the order in which they stand. @throws InputError when it is not its language */
export function valuesIn(text: string, language: Language): TextValue[] {
  const found: TextValue[] = [];
  const lineOf = lineCounter(text);
  const add = (path: string, value: string, at: number) => {
    if (found.length < MOST_VALUES) found.push({ path, value, line: lineOf(at) });
  };
  if (language === 'json') {
    const tree = jsonTree(text);
    const walk = (node: Node) => {
      if (node.children && node.type !== 'property') for (const child of node.children) walk(child);
      else if (node.type === 'property' && node.children?.[1]) walk(node.children[1]);
      else if (node.value !== undefined) add(getNodePath(node).join('.'), String(node.value), node.offset);
    };
    walk(tree);
  } else if (language === 'xml') {
    xmlValues(text, add);
  } else if (language === 'ini') {
    let section = '';
    let at = 0;
    for (const line of text.split('\n')) {
      const head = /^\s*\[([^\]]*)\]/.exec(line);
      if (head) section = head[1].trim();
      const pair = INI_LINE.exec(line);
      if (pair) add(section ? `${section}.${pair[2]}` : pair[2], pair[3], at);
      at += line.length + 1;
    }
  }
  return found;
}

function xmlValues(text: string, add: (path: string, value: string, at: number) => void): void {
  const open: { path: string; seen: Map<string, number>; begins: number; leaf: boolean }[] = [
    { path: '', seen: new Map(), begins: 0, leaf: false },
  ];
  const parser = new SaxesParser({ xmlns: false });
  parser.on('error', (error) => {
    throw new InputError(`It is not well-formed XML: ${error.message}.`);
  });
  parser.on('opentag', ({ name, attributes }) => {
    const around = open.at(-1)!;
    around.leaf = false;
    const nth = (around.seen.get(name) ?? 0) + 1;
    around.seen.set(name, nth);
    const path = `${around.path}${around.path && '/'}${name}${nth > 1 ? `[${nth}]` : ''}`;
    for (const [key, value] of Object.entries(attributes)) add(`${path}/@${key}`, String(value), parser.position - 1);
    open.push({ path, seen: new Map(), begins: parser.position, leaf: true });
  });
  parser.on('closetag', ({ isSelfClosing }) => {
    const { path, begins, leaf } = open.pop()!;
    if (isSelfClosing || !leaf) return;
    const content = text.slice(begins, text.lastIndexOf('</', parser.position));
    if (content.trim()) add(path, content.trim(), begins);
  });
  parser.write(text).close();
}

/** Which line a character stands in, from 1. */
function lineCounter(text: string): (at: number) => number {
  const starts = [0];
  for (let i = text.indexOf('\n'); i >= 0; i = text.indexOf('\n', i + 1)) starts.push(i + 1);
  return (at) => {
    let [low, high] = [0, starts.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (starts[middle] <= at) low = middle;
      else high = middle - 1;
    }
    return low + 1;
  };
}

const JSON_ERRORS: Readonly<Record<number, string>> = {
  1: 'something that has no meaning there',
  2: 'a number that is none',
  3: 'a name in quotes is wanted',
  4: 'a value is wanted',
  5: 'a colon is wanted',
  6: 'a comma is wanted',
  7: 'a brace is not closed',
  8: 'a bracket is not closed',
  9: 'it goes on after its end',
  10: 'comments are not allowed',
  12: 'quotes are not closed',
};

/** @throws InputError with the line, when it is no JSON */
export function jsonTree(text: string): Node {
  const errors: ParseError[] = [];
  const tree = parseTree(text, errors, { disallowComments: true, allowTrailingComma: false });
  if (!tree || errors.length > 0) {
    const [first] = errors;
    const line = lineCounter(text)(first?.offset ?? 0);
    throw new InputError(`line ${line}: ${JSON_ERRORS[first?.error] ?? 'it cannot be read'}`);
  }
  return tree;
}

/** A JSON text with another value at a path; null when there is none. The text around it stays as it is. */
function withJson(text: string, path: string, said: string): string | null {
  const where = path.split('.').map((key) => (/^\d+$/.test(key) ? Number(key) : key));
  const errors: ParseError[] = [];
  const tree = parseTree(text, errors);
  const node = tree && errors.length === 0 ? findNodeAtLocation(tree, where) : undefined;
  if (!node) return null;
  // The template gives a literal where it names a value, and plain text otherwise.
  const literal = /^(".*"|-?\d[\d.eE+-]*|true|false|null)$/s.test(said) ? (JSON.parse(said) as unknown) : said;
  const typed = node.type === 'number' && typeof literal === 'string' ? Number(literal) : literal;
  return applyEdits(text, modify(text, where, typed, {}));
}

/** Key, value and remark of a line; a colour in hex digits is no remark. */
const INI_LINE = /^(\s*([^=;#]+?)\s*=\s*)(#[0-9a-fA-F]{6}(?:[0-9a-fA-F]{2})?(?![0-9a-fA-F])|[^;#]*?)(\s*(?:[;#].*)?)$/;

/** An INI-like text with another value for `section.key` (or `key` before any section); null when there is none. */
function withIni(text: string, path: string, value: string): string | null {
  const found = iniLine(text, path);
  if (!found) return null;
  const { lines, i, match } = found;
  return lines.with(i, match[1] + value + match[4]).join('\n');
}

function iniLine(text: string, path: string) {
  const dot = path.lastIndexOf('.');
  const [section, key] = [dot < 0 ? '' : path.slice(0, dot), path.slice(dot + 1)];
  let now = '';
  const lines = text.split('\n');
  for (const [i, line] of lines.entries()) {
    const head = /^\s*\[([^\]]*)\]/.exec(line);
    if (head) now = head[1].trim();
    const match = INI_LINE.exec(line);
    if (match && now === section && match[2] === key) return { lines, i, match };
  }
  return null;
}

/** A text with another value at a path; null when nothing stands there. @param value as its language writes it */
export function withValue(text: string, language: Language, path: string, value: string): string | null {
  if (language === 'json') return withJson(text, path, value);
  if (language !== 'xml') return withIni(text, path, value);
  const at = xmlValueAt(text, path);
  return at && text.slice(0, at[0]) + value + text.slice(at[1]);
}

/** How a colour is put into a value. */
export interface ColourValue {
  readonly as: 'linear' | 'bytes' | 'hex';
  readonly channel?: 'red' | 'green' | 'blue';
}

const CHANNEL = { red: 0, green: 1, blue: 2 };

/**
 * A text with a colour at a path: the numbers that stand there take its channels, with what is between them and an alpha after them left as they
 * are. A number that already stands for the very channel, to 8 bits of sRGB, stays as somebody typed it: 0.0025 stays 0.0025.
 * @param hex `#rrggbb`, sRGB; null: nothing stands at the path, or no colour
 */
export function withColour(
  text: string,
  language: Language,
  path: string,
  hex: string,
  { as, channel }: ColourValue,
): string | null {
  const rgb = rgbOfHex(hex);
  const span = valueSpan(text, language, path);
  if (!span) return null;
  const before = text.slice(...span);
  const numbers = [...before.matchAll(/-?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/g)];
  const replaced = (after: string) => text.slice(0, span[0]) + after + text.slice(span[1]);
  if (as === 'hex') {
    const found = /[0-9a-fA-F]{6}/.exec(before);
    if (!found) return null;
    const upper = found[0] === found[0].toUpperCase() && /[A-F]/.test(found[0]);
    const digits = upper ? hex.slice(1).toUpperCase() : hex.slice(1);
    if (digits.toLowerCase() === found[0].toLowerCase()) return text;
    return replaced(before.slice(0, found.index) + digits + before.slice(found.index + 6));
  }
  const wanted = channel ? [rgb[CHANNEL[channel]]] : rgb;
  if (numbers.length < wanted.length) return null;
  let after = before;
  // From the last, so that places stay.
  for (let i = wanted.length - 1; i >= 0; i--) {
    const { 0: typed, index } = numbers[i];
    const same = as === 'bytes' ? Number(typed) === wanted[i] : byteOfLinear(Number(typed)) === wanted[i];
    if (!same) after = after.slice(0, index) + writtenAs(as, wanted[i]) + after.slice(index + typed.length);
  }
  return replaced(after);
}

const writtenAs = (as: 'linear' | 'bytes', byte: number): string =>
  as === 'bytes' ? String(byte) : String(Number(linearOfByte(byte).toFixed(6)));

/** The linear value 0..1 of an sRGB byte (IEC 61966-2-1). */
function linearOfByte(byte: number): number {
  const v = byte / 255;
  return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
}

/** The sRGB byte that a linear number 0..1 rounds to (IEC 61966-2-1). */
export function byteOfLinear(value: number): number {
  const v = Math.min(1, Math.max(0, value));
  return Math.round((v <= 0.0031308 ? v * 12.92 : 1.055 * v ** (1 / 2.4) - 0.055) * 255);
}

/** Where the value at a path stands; of JSON also a list. */
function valueSpan(text: string, language: Language, path: string): readonly [number, number] | null {
  if (language === 'xml') return xmlValueAt(text, path);
  if (language === 'json') {
    const where = path.split('.').map((key) => (/^\d+$/.test(key) ? Number(key) : key));
    const tree = parseTree(text);
    const node = tree && findNodeAtLocation(tree, where);
    return node ? [node.offset, node.offset + node.length] : null;
  }
  const found = iniLine(text, path);
  if (!found) return null;
  const { lines, i, match } = found;
  const begins = lines.slice(0, i).reduce((sum, line) => sum + line.length + 1, 0) + match[1].length;
  return [begins, begins + match[3].length];
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
