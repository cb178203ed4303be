/** JSON that somebody else wrote: what neither a store nor a program should meet is refused before anything is done with it. */
import { InputError } from '../errors.ts';
import { brokenText } from '../livery/words.ts';

/** Objects and lists in one another. Documents of ours need a dozen. */
const DEEPEST = 64;
/** Names that mean something to the language itself: no key of ours is one. */
const TAKEN = new Set(['__proto__', 'constructor', 'prototype']);

/**
 * Looks through a value that came as JSON, whatever it is meant to be.
 * @throws InputError in one sentence when it is nested too deep, has a key that no document has, or text that is none
 */
export function checkPlain(value: unknown, what: string): void {
  const text = (words: string) => {
    const broken = brokenText(words);
    if (broken) throw new InputError(`${what} ${broken}; take it out and try again.`);
  };
  // Without recursion: a deep one must not end the stack.
  const left: [value: unknown, depth: number][] = [[value, 0]];
  for (let next = left.pop(); next; next = left.pop()) {
    const [one, depth] = next;
    if (typeof one === 'string') text(one);
    if (typeof one !== 'object' || one === null) continue;
    if (depth === DEEPEST) throw new InputError(`${what} is nested more than ${DEEPEST} deep.`);
    if (Array.isArray(one)) {
      for (const inner of one) left.push([inner, depth + 1]);
      continue;
    }
    for (const key of Object.keys(one)) {
      if (TAKEN.has(key)) throw new InputError(`${what} has a key "${key}", which nothing here can be called.`);
      text(key);
      left.push([(one as Record<string, unknown>)[key], depth + 1]);
    }
  }
}

/** @throws InputError when it is not JSON, or not as checkPlain wants it */
export function readJson(text: string, what: string): unknown {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new InputError(`${what} is not JSON.`);
  }
  checkPlain(value, what);
  return value;
}
