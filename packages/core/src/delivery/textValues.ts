/** Values in texts of games by their path: read, and set with everything around them as it stands. */
import {
  applyEdits,
  findNodeAtLocation,
  getNodePath,
  modify,
  parseTree,
  type Node,
  type ParseError,
} from 'jsonc-parser';
import { rgbOfHex } from '../colour/hex.ts';
import { InputError } from '../errors.ts';
import type { Language } from './textChange.ts';
import { xmlParser, xmlValueAt } from './xmlPath.ts';

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
      const { children } = node;
      // Of a property, its value.
      if (children) for (const child of node.type === 'property' ? children.slice(1) : children) walk(child);
      else if (node.value !== undefined) add(getNodePath(node).join('.'), String(node.value), node.offset);
    };
    walk(tree);
  } else if (language === 'xml') {
    xmlValues(text, add);
  } else if (language === 'ini') {
    for (const { section, key, value, at } of iniPairs(text)) add(section ? `${section}.${key}` : key, value, at);
  }
  return found;
}

function xmlValues(text: string, add: (path: string, value: string, at: number) => void): void {
  const open: { path: string; seen: Map<string, number>; begins: number; leaf: boolean }[] = [
    { path: '', seen: new Map(), begins: 0, leaf: false },
  ];
  const parser = xmlParser();
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

/** Members and places in lists, parted by dots. */
const jsonPath = (path: string): (string | number)[] =>
  path.split('.').map((key) => (/^\d+$/.test(key) ? Number(key) : key));

/** A JSON text with another value at a path; null when there is none. The text around it stays as it is. */
function withJson(text: string, path: string, said: string): string | null {
  const where = jsonPath(path);
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

interface IniPair {
  section: string;
  key: string;
  value: string;
  /** Where its line begins, and its value. */
  at: number;
  valueAt: number;
}

/** The keys of an INI-like text with their values, in the order in which they stand. */
function* iniPairs(text: string): Generator<IniPair> {
  let section = '';
  let at = 0;
  for (const line of text.split('\n')) {
    const head = /^\s*\[([^\]]*)\]/.exec(line);
    if (head) section = head[1].trim();
    const pair = INI_LINE.exec(line);
    if (pair) yield { section, key: pair[2], value: pair[3], at, valueAt: at + pair[1].length };
    at += line.length + 1;
  }
}

/** A text with another value at a path; null when nothing stands there. @param value as its language writes it */
export function withValue(text: string, language: Language, path: string, value: string): string | null {
  if (language === 'json') return withJson(text, path, value);
  const at = valueSpan(text, language, path);
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
    const tree = parseTree(text);
    const node = tree && findNodeAtLocation(tree, jsonPath(path));
    return node ? [node.offset, node.offset + node.length] : null;
  }
  // `section.key`, or `key` before any section.
  const dot = path.lastIndexOf('.');
  const [section, key] = [dot < 0 ? '' : path.slice(0, dot), path.slice(dot + 1)];
  for (const pair of iniPairs(text))
    if (pair.section === section && pair.key === key) return [pair.valueAt, pair.valueAt + pair.value.length];
  return null;
}
