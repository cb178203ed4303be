/** The published schema of a skin's document is that by which it is read. */
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test } from 'vitest';
import { schemaText } from './skinSchema.ts';
import { seenBy } from './seenBy.ts';

test('docs/exchange.schema.json is what is read', () => {
  const file = path.resolve(import.meta.dirname, '../../../../docs/exchange.schema.json');
  expect(readFileSync(file, 'utf8')).toBe(schemaText());
});

test('others see what lies in their own folder under the same name, and the game’s own files', () => {
  const mine = [
    { name: 'own.dds', hash: 'a' },
    { name: 'list.txt', hash: 'b' },
    { name: 'x/one.dds', hash: 'c' },
    { name: 'x/two.dds', hash: 'd' },
  ];
  const skins = new Set(['list.txt', 'x/one.dds', 'x/two.dds']);
  const seen = (theirs: Record<string, string>) =>
    seenBy(mine, skins, new Set(['list.txt']), new Map(Object.entries(theirs))).map(({ name }) => name);
  expect(seen({})).toEqual(['own.dds', 'list.txt']);
  expect(seen({ 'x/one.dds': 'c', 'x/two.dds': 'other' })).toEqual(['own.dds', 'list.txt', 'x/one.dds']);
  expect(seen({ 'x/ONE.dds': 'c' })).toEqual(['own.dds', 'list.txt']);
});
