import { describe, expect, test } from 'vitest';
import { words } from '../livery/words.ts';
import { checkPlain, readJson } from './json.ts';

describe('JSON from outside', () => {
  test.each([
    ['{"a":{"__proto__":1}}', /key "__proto__"/],
    ['[{"constructor":1}]', /key "constructor"/],
    ['{"prototype":[]}', /key "prototype"/],
    ['{"a":"x\\u0000"}', /character 0/],
    ['{"\\u0000":1}', /character 0/],
    ['["\\ud83d"]', /half a character/],
    ['{"a', /not JSON/],
  ])('%s is refused', (text, why) => expect(() => readJson(text, 'The file')).toThrow(why));

  test('nested a hundred thousand deep is one sentence, not the end of the stack', () => {
    expect(() => readJson('['.repeat(100_000) + ']'.repeat(100_000), 'The file')).toThrow(/nested more than 64 deep/);
    let deep: unknown = 1;
    for (let i = 0; i < 70; i++) deep = { deep };
    expect(() => checkPlain(deep, 'The file')).toThrow(/nested/);
  });

  test('what documents hold passes', () => {
    const value = { a: [1, null, true, 'ö', '\u{1f600}', { valueOf: 'x', to: ['\t\n'] }] };
    expect(readJson(JSON.stringify(value), 'The file')).toEqual(value);
  });
});

test('text is measured in characters, and is text', () => {
  const name = words(4, 1);
  const ok = (text: string) => name.safeParse(text).success;
  expect(['a', '\u{1f600}'.repeat(4), 'äöüß'].map(ok)).toEqual([true, true, true]);
  expect(['', '\u{1f600}'.repeat(5), 'a\0', '\ud800'].map(ok)).toEqual([false, false, false, false]);
});
