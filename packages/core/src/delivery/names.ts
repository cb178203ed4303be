import { InputError } from '../errors.ts';
import { fillIn, type Livery } from '../livery/livery.ts';
import { slugOf } from '../livery/slug.ts';
import type { Template } from '../livery/template.ts';

type Facts = Readonly<Record<string, string>>;

/** A sheet's file, as far as names are made of it. */
interface NamedSheet {
  key: string;
  width: number;
  height: number;
}

/** What patterns can refer to of a sheet's file. */
export const sheetFacts = ({ key, width, height }: NamedSheet): Facts => ({
  'sheet.key': key,
  'file.width': String(width),
  'file.height': String(height),
  'file.level': '0',
  'file.format': '',
});

/** What patterns can refer to. @param slot the number that the livery has in its game, as the game writes it */
export function nameFacts(
  livery: Pick<Livery, 'particulars'>,
  template: Pick<Template, 'key'>,
  slot: string | null = null,
  sheet?: NamedSheet,
): Facts {
  const facts: Record<string, string> = {
    'craft.key': template.key,
    'livery.key': livery.particulars.key ?? '',
    'particulars.author': '',
    'particulars.number': '',
  };
  for (const [key, value] of Object.entries(livery.particulars))
    facts[`particulars.${key}`] = fillIn(value, livery.particulars);
  if (slot !== null) facts.slot = slot;
  return sheet ? { ...facts, ...sheetFacts(sheet) } : facts;
}

/** Words of a value: at spaces, signs, and where small letters meet capitals. */
const words = (value: string) => value.replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2').match(/[\p{L}\p{N}]+/gu) ?? [];
const title = (word: string) => word.charAt(0).toUpperCase() + word.slice(1).toLowerCase();
const SEPARATORS: Readonly<Record<string, string>> = { space: ' ', hyphen: '-', underscore: '_', plus: '+', none: '' };

/** Filters of patterns, by name; what stands after a colon is given to them. */
const FILTERS: Readonly<Record<string, (value: string, with_: string) => string | null>> = {
  lower: (value) => value.toLowerCase(),
  upper: (value) => value.toUpperCase(),
  slug: slugOf,
  /** Every word with a capital. */
  title: (value) => value.replace(/[\p{L}\p{N}]+/gu, title),
  /** Words joined by a separator: space, hyphen, underscore, plus or none. */
  join: (value, by) => (Object.hasOwn(SEPARATORS, by) ? words(value).join(SEPARATORS[by]) : null),
  /** The digits in it, padded with zeros to so many. */
  digits: (value, count) => {
    const n = Number(count);
    return Number.isInteger(n) && n > 0 && n <= 20 ? (value.match(/\d/g) ?? []).join('').padStart(n, '0') : null;
  },
  /** The first so many characters. */
  max: (value, count) => (/^\d{1,3}$/.test(count) ? [...value].slice(0, Number(count)).join('') : null),
};

/**
 * Fills `{name|filter|filter:with}` in a pattern.
 * @throws InputError when the pattern names something unknown
 * @example
 * import { expand } from './delivery/names.ts';
 * expand('wraps/{livery.key}_{sheet.key|upper}.dds', { 'livery.key': 'tern', 'sheet.key': 'bow' }); // 'wraps/tern_BOW.dds'
 */
export function expand(pattern: string, facts: Facts): string {
  return pattern.replace(/\{([^}|]+)((?:\|[a-z]+(?::[a-z0-9]+)?)*)\}/g, (_, name: string, filters: string) => {
    if (!Object.hasOwn(facts, name))
      throw new InputError(`The name pattern "${pattern}" asks for "${name}", which is not known.`);
    return filters
      .split('|')
      .filter(Boolean)
      .reduce((value, filter) => {
        const [key, with_ = ''] = filter.split(':');
        const made = Object.hasOwn(FILTERS, key) ? FILTERS[key](value, with_) : undefined;
        if (made === undefined || made === null)
          throw new InputError(`The name pattern "${pattern}" uses the filter "${filter}", which is not known.`);
        return made;
      }, facts[name]);
  });
}

export interface NearMiss {
  /** The name that was probably meant. */
  known: string;
  /** What is wrong, in words, with the character's place. */
  says: string;
}

/**
 * The known name that is nearest to another one, and where they part; null when none is within two changes.
 * @param wrong which of them is at fault: the name that was asked for, or the one that was found
 */
export function nearMiss(name: string, known: readonly string[], wrong: 'asked' | 'found' = 'asked'): NearMiss | null {
  let best: { name: string; far: number } | null = null;
  for (const one of known) {
    // Another case is the nearest that a wrong name can be.
    const far = distance(name.toLowerCase(), one.toLowerCase());
    if (name !== one && far <= 2 && (!best || far < best.far)) best = { name: one, far };
  }
  if (!best) return null;
  const [a, b] = wrong === 'asked' ? [[...name], [...best.name]] : [[...best.name], [...name]];
  const at = a.findIndex((character, i) => character !== b[i]);
  const place = at < 0 ? a.length : at;
  const show = (character: string | undefined) =>
    character === undefined ? 'nothing' : character === ' ' ? 'a space' : `"${character}"`;
  const only = a[place]?.toLowerCase() === b[place]?.toLowerCase() ? ', only its case differs' : '';
  return { known: best.name, says: `character ${place + 1} is ${show(a[place])}, not ${show(b[place])}${only}` };
}

/** Least number of characters to put in, take out or change (Levenshtein, 1966). */
function distance(a: string, b: string): number {
  if (Math.abs(a.length - b.length) > 2) return 3;
  let row = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++)
      next.push(Math.min(next[j - 1] + 1, row[j] + 1, row[j - 1] + (a[i - 1] === b[j - 1] ? 0 : 1)));
    row = next;
  }
  return row[b.length];
}
