/** Specs that somebody else wrote: each is refused in one sentence, or planned in a moment, and whatever leads out of its folder stops the delivery. */
import { describe, expect, test } from 'vitest';
import { InputError } from '../errors.ts';
import { readSpec, type DeliverySpec } from '../livery/spec.ts';
import { randomFrom } from '../testing/images.ts';
import { layerOf, smallLivery, smallTemplate } from '../testing/scenes.ts';
import { safeNames } from './checks/safeNames.ts';
import { pathsOf, planDelivery, written } from './plan.ts';
import { whyNoPath } from './safePath.ts';
import { SHIPPED_SPECS } from '../games/index.ts';
import { NO_TARGET } from './target.ts';

const RUNS = Number(process.env.FUZZ_RUNS ?? 1200);
const MOST_MS = 10_000;

/** What people and attackers put where a word is wanted. */
const WORDS = [
  '../../x',
  '/etc/x',
  'C:\\x',
  'a//b',
  '..',
  '.',
  'con',
  'x ',
  'x.',
  'a:b',
  'a\0b',
  '\u202e',
  'é'.repeat(300),
  '',
  '{',
  '}',
  '{}',
  '{constructor}',
  '{__proto__}',
  '{livery.key|lower|upper}',
  '{particulars.name}',
  '{sheet.key|digits:9}',
  '{livery.key|nothing}',
  '{particulars.number}/{particulars.author}',
  '{{#files}}'.repeat(9) + '{{/files}}'.repeat(9),
  '{{{particulars.name}}}',
  '{{#sheets}}',
  '{{=<% %>=}}<%#files%><%#files%><%#files%>x<%/files%><%/files%><%/files%>',
  '(a+)+$',
  '[',
  '\\',
  '$&',
  '*',
  '{n}',
  'a'.repeat(399),
  '{{#colours}}{{#colours}}{{#colours}}{{hex}}{{/colours}}{{/colours}}{{/colours}}',
];
const NUMBERS = [0, -1, 1, 1e9, 2 ** 31, 2 ** 53, 0.5, 16384, 16385, 255, 256];
const OTHERS: unknown[] = [null, true, false, [], {}, [[]], ['x'], 'dds', 'bc7', 'full'];
const PARTICULARS = ['../up', 'CON', 'a/b', 'x:y', 'a\u202eb', 'Night', '7', '', 'ä'.repeat(190)];

/** A document with a few of its values replaced, wherever they stand. */
function mutated(document: unknown, random: () => number): unknown {
  const copy = structuredClone(document);
  const places: { at: Record<string, unknown>; key: string }[] = [];
  const walk = (value: unknown): void => {
    if (typeof value !== 'object' || value === null) return;
    for (const key of Object.keys(value)) {
      places.push({ at: value as Record<string, unknown>, key });
      walk((value as Record<string, unknown>)[key]);
    }
  };
  walk(copy);
  const pick = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)];
  for (let n = 1 + Math.floor(random() * 3); n > 0; n--) {
    const { at, key } = pick(places);
    const dice = random();
    if (dice < 0.1) delete at[key];
    else if (typeof at[key] === 'string') at[key] = dice < 0.9 ? pick(WORDS) : at[key] + pick(WORDS);
    else if (typeof at[key] === 'number') at[key] = pick(NUMBERS);
    else if (dice < 0.3) at[key] = pick(OTHERS);
  }
  return copy;
}

describe(`${RUNS} specs with values of all kinds`, () => {
  test('are refused in one sentence, or planned at once with every dangerous path found', () => {
    const random = randomFrom(31);
    const template = smallTemplate();
    const layers = [layerOf('solid', { id: 'a', paint: { scheme: 'red' } })];
    let [refused, planned, stopped] = [0, 0, 0];
    for (let run = 0; run < RUNS; run++) {
      const shipped = Object.values(SHIPPED_SPECS);
      const value = mutated(shipped[run % shipped.length], random);
      const livery = smallLivery(layers);
      const particulars = { ...livery.particulars };
      for (const key of ['name', 'key', 'number', 'author'])
        if (random() < 0.3) particulars[key] = PARTICULARS[Math.floor(random() * PARTICULARS.length)];
      const began = performance.now();
      try {
        const spec: DeliverySpec = readSpec(value, 'This');
        const plan = planDelivery({ ...livery, particulars }, template, spec);
        const found = safeNames.run({ livery, template, spec, plan, target: NO_TARGET } as never);
        const bad = [...pathsOf(plan), ...written(plan).map(({ name }) => name)].filter((path) => whyNoPath(path));
        if (plan.package === null) expect(found.length > 0).toBe(pathsOf(plan).some((path) => whyNoPath(path)));
        else expect(found.length > 0).toBe(bad.length > 0);
        if (found.length > 0) stopped++;
        planned++;
      } catch (error) {
        if (!(error instanceof InputError)) throw error;
        expect(error.message).toMatch(/^[^\n]{3,900}$/);
        refused++;
      }
      expect(performance.now() - began, JSON.stringify(value).slice(0, 400)).toBeLessThan(MOST_MS);
    }
    expect(Math.min(refused, planned)).toBeGreaterThan(RUNS / 30);
    expect(stopped).toBeGreaterThan(RUNS / 60);
  }, 3_600_000);
});
