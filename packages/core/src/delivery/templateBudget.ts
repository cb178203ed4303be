/** What filling a text template takes, reckoned before it is done: lists inside lists repeat each other. */
import Mustache from 'mustache';
import { InputError } from '../errors.ts';

/** Sections in one another. */
const DEEPEST = 8;
/** Parts of the template that are written, however often, and characters that come out. */
const MOST_STEPS = 100_000;
const MOST_CHARACTERS = 4_000_000;
/** Characters that a value is taken to have. */
const VALUE = 200;

type Token = [kind: string, value: string, start: number, end: number, inside?: Token[] | string, ...rest: unknown[]];

/** @throws InputError when a template would take more than a text may, or is none */
export function checkTemplateBudget(text: string, view: Readonly<Record<string, unknown>>): void {
  let tokens: Token[];
  try {
    tokens = Mustache.parse(text) as unknown as Token[];
  } catch (error) {
    throw new InputError(`The template cannot be read: ${(error as Error).message}.`);
  }
  let [steps, characters] = [0, 0];
  const go = (all: readonly Token[], times: number, depth: number): void => {
    if (depth > DEEPEST) throw new InputError(`The template has sections more than ${DEEPEST} deep.`);
    for (const [kind, value, , , inside] of all) {
      steps += times;
      characters += times * (kind === 'text' ? value.length : VALUE);
      if (steps > MOST_STEPS || characters > MOST_CHARACTERS)
        throw new InputError('The template repeats itself too often: lists inside lists make it too long.');
      if ((kind !== '#' && kind !== '^') || !Array.isArray(inside)) continue;
      const list = Object.hasOwn(view, value) ? view[value] : undefined;
      go(inside, times * (kind === '#' && Array.isArray(list) ? Math.max(1, list.length) : 1), depth + 1);
    }
  };
  go(tokens, 1, 0);
}
