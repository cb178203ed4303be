/** One value of an XML text, by a path of XPath 1.0's abbreviated syntax, with everything around it left as it is. */
import { SaxesParser } from 'saxes';
import { lastOf } from '../held.ts';
import { InputError } from '../errors.ts';

/** A parser that says in a sentence why a text is not well-formed (XML 1.0). */
export function xmlParser(): SaxesParser<{ xmlns: false }> {
  const parser = new SaxesParser({ xmlns: false });
  parser.on('error', (error) => {
    throw new InputError(`It is not well-formed XML: ${error.message}.`);
  });
  return parser;
}

interface Step {
  name: string;
  /** Which of several by that name, from 1. */
  nth: number | null;
  with: { name: string; value: string } | null;
}

/**
 * Steps of `a/b[2]/c[@key="v"]/@attribute`; the last may be an attribute.
 * @throws InputError when the path says something else
 */
function readPath(path: string): { steps: Step[]; attribute: string | null } {
  const parts = path.replace(/^\//, '').split('/');
  const last = lastOf(parts);
  const attribute = last.startsWith('@') ? last.slice(1) : null;
  if (attribute !== null) parts.pop();
  const steps = parts.map((part) => {
    const found = /^([^\s[\]@"']+)(?:\[(?:(\d+)|@([^\s=\]]+)\s*=\s*(?:"([^"]*)"|'([^']*)'))\])?$/.exec(part);
    if (!found) throw new InputError(`"${path}" is no path: parts are written like name, name[2], name[@key="value"].`);
    const [, name, nth, by, double, single] = found;
    return {
      name,
      nth: nth === undefined ? null : Number(nth),
      with: by === undefined ? null : { name: by, value: double ?? single },
    };
  });
  if (steps.length === 0) throw new InputError(`"${path}" names no element.`);
  return { steps, attribute };
}

/**
 * Where the first value at a path stands in a text: [first character, first after it]; null when there is none.
 * An element's value is its text without the spaces about it, and only of elements that hold nothing else.
 * @throws InputError when the text is not well-formed (XML 1.0) or the path cannot be read
 */
export function xmlValueAt(text: string, path: string): readonly [number, number] | null {
  const { steps, attribute } = readPath(path);
  /** Of each open element: how many of the steps it and those around it match, its children by name, where its content begins. */
  const open: { matched: number; seen: Map<string, number>; begins: number; leaf: boolean }[] = [];
  const root = { matched: 0, seen: new Map<string, number>(), begins: 0, leaf: false };
  let found: readonly [number, number] | null = null;
  let attributes = new Map<string, { value: string; at: readonly [number, number] }>();
  const parser = xmlParser();
  parser.on('attribute', ({ name, value }) => {
    // The parser stands behind the closing quote.
    const end = parser.position - 1;
    const begin = text.lastIndexOf(text[end], end - 1) + 1;
    attributes.set(name, { value, at: [begin, end] });
  });
  parser.on('opentag', ({ name }) => {
    const around = open.at(-1) ?? root;
    around.leaf = false;
    const nth = (around.seen.get(name) ?? 0) + 1;
    around.seen.set(name, nth);
    const step = steps[open.length];
    const fits =
      around.matched === open.length &&
      step?.name === name &&
      (step.nth === null || step.nth === nth) &&
      (step.with === null || attributes.get(step.with.name)?.value === step.with.value);
    const matched = fits ? open.length + 1 : around.matched;
    open.push({ matched, seen: new Map(), begins: parser.position, leaf: true });
    if (fits && matched === steps.length && open.length === steps.length && attribute !== null)
      found ??= attributes.get(attribute)?.at ?? null;
    attributes = new Map();
  });
  parser.on('closetag', ({ isSelfClosing }) => {
    const { matched, begins, leaf } = open.pop()!;
    if (found || attribute !== null || isSelfClosing || !leaf) return;
    if (matched !== steps.length || open.length + 1 !== steps.length) return;
    const content = text.slice(begins, text.lastIndexOf('</', parser.position));
    const from = begins + content.length - content.trimStart().length;
    found = [from, Math.max(from, begins + content.trimEnd().length)];
  });
  parser.write(text).close();
  return found;
}
