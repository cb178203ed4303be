/** Documents as earlier versions wrote them, kept for ever: each opens, and says what it said then. */
import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { smallLivery } from '../testing/scenes.ts';
import { Livery } from './livery.ts';
import { LIVERY_SCHEMA, readLivery } from './migrate.ts';

const folder = new URL('../testing/frozen/', import.meta.url);
const frozen = readdirSync(folder).filter((name) => name.startsWith('livery-'));
const read = (name: string) => JSON.parse(readFileSync(new URL(name, folder), 'utf8')) as Livery;

describe('frozen documents', () => {
  test('there is one of every version at least', () => {
    const versions = new Set(frozen.map((name) => read(name).schema));
    for (let version = 1; version <= LIVERY_SCHEMA; version++) expect(versions).toContain(version);
  });

  test.each(frozen)('%s opens with all its layers, and opens again as it was written', (name) => {
    const before = read(name);
    const livery = readLivery(before);
    expect(Livery.parse(livery)).toEqual(livery);
    expect(readLivery(structuredClone(livery))).toEqual(livery);
    const layers = (one: Livery) => one.sheets.map(({ key, maps }) => [key, maps]);
    expect(layers(livery)).toEqual(layers(before));
    expect([livery.scheme, livery.particulars, livery.pins]).toEqual([before.scheme, before.particulars, before.pins]);
  });

  test('a sheet from before there was a checklist is not called done', () => {
    expect(readLivery(read('livery-1-first.json')).sheets.map(({ ready }) => ready)).toEqual([false, false, false]);
  });
});

test.each<[unknown, RegExp]>([
  [null, /does not say its version/],
  [{}, /does not say its version/],
  [{ schema: '1' }, /does not say its version/],
  [{ schema: LIVERY_SCHEMA + 1 }, /of version/],
  [{ schema: 0 }, /no way from version 0/],
  [{ schema: 1, sheets: 7 }, /particulars|sheets/],
  [{ ...smallLivery([]), more: 1 }, /more/],
])('%j is none, in one sentence', (value, why) => expect(() => readLivery(value)).toThrow(why));
