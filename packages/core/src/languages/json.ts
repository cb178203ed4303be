import {
  applyEdits,
  findNodeAtLocation,
  getNodePath,
  modify,
  parseTree,
  type Node,
  type ParseError,
} from 'jsonc-parser';
import { InputError } from '../errors.ts';
import { asQuoted, flawOf, lineCounter, type FoundValue, type Span, type TextLanguage } from './kind.ts';

const ERRORS: Readonly<Record<number, string>> = {
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

/** @throws InputError with the line, when it is no JSON (RFC 8259) */
export function jsonTree(text: string): Node {
  const errors: ParseError[] = [];
  const tree = parseTree(text, errors, { disallowComments: true, allowTrailingComma: false });
  if (!tree || errors.length > 0) {
    const [first] = errors;
    const line = lineCounter(text)(first?.offset ?? 0);
    throw new InputError(`line ${line}: ${ERRORS[first?.error] ?? 'it cannot be read'}`);
  }
  return tree;
}

/** Members and places in lists, parted by dots. */
const jsonPath = (path: string): (string | number)[] =>
  path.split('.').map((key) => (/^\d+$/.test(key) ? Number(key) : key));

function* valuesUnder(node: Node): Generator<FoundValue> {
  const { children } = node;
  // Of a property, its value.
  if (children) for (const child of node.type === 'property' ? children.slice(1) : children) yield* valuesUnder(child);
  else if (node.value !== undefined)
    yield { path: getNodePath(node).join('.'), value: String(node.value), at: node.offset };
}

export const json: TextLanguage = {
  name: 'JSON',
  called: 'JSON',
  endings: ['json'],
  begins: (text) => /^[[{]\s*["{[\]}]/.test(text),
  escape: asQuoted,
  flaw: flawOf(jsonTree),
  entries(text) {
    const tree = parseTree(text);
    const spans: Span[] = [];
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
  },
  comma: true,
  values: (text) => valuesUnder(jsonTree(text)),
  valueAt(text, path) {
    const tree = parseTree(text);
    const node = tree && findNodeAtLocation(tree, jsonPath(path));
    return node ? [node.offset, node.offset + node.length] : null;
  },
  withValue(text, path, said) {
    const where = jsonPath(path);
    const errors: ParseError[] = [];
    const tree = parseTree(text, errors);
    const node = tree && errors.length === 0 ? findNodeAtLocation(tree, where) : undefined;
    if (!node) return null;
    // The template gives a literal where it names a value, and plain text otherwise.
    const literal = /^(".*"|-?\d[\d.eE+-]*|true|false|null)$/s.test(said) ? (JSON.parse(said) as unknown) : said;
    const typed = node.type === 'number' && typeof literal === 'string' ? Number(literal) : literal;
    return applyEdits(text, modify(text, where, typed, {}));
  },
};
