/** What the channels of a map mean, by what its file is called. Common practice, no source: letters stand for red, green, blue and alpha. */
import type { Channel } from '../livery/spec.ts';
import { stemOf } from '../paths.ts';
import { wordsOf } from './words.ts';

const LETTERS: Readonly<Record<string, string>> = {
  o: 'occlusion',
  r: 'roughness',
  m: 'metal',
  h: 'height',
  s: 'smoothness',
  g: 'gloss',
};
const ORDER: readonly Channel[] = ['red', 'green', 'blue', 'alpha'];
/** Three or four values by their first letters; "ao" and "a" are occlusion. */
const BY_LETTERS = /^(?=.*[rmsg])(ao|[aormhsg]){3,4}$/;
const LONG: readonly [RegExp, Partial<Record<Channel, string>>][] = [
  // glTF 2.0, 5.22.3 and 3.9.3: roughness in green, metal in blue, occlusion in red.
  [/^(metallicroughness|metalrough|roughmetal)$/, { green: 'roughness', blue: 'metal' }],
  [/^occlusionroughnessmetal\w*$/, { red: 'occlusion', green: 'roughness', blue: 'metal' }],
];

/**
 * The channels of a map, as its file's name says them; undefined: it does not.
 * @param map its key
 * @example
 * import { channelsNamed } from './intake/channelNames.ts';
 * channelsNamed('packed', 'coat_orm.tga'); // { red: 'occlusion', green: 'roughness', blue: 'metal' }
 */
export function channelsNamed(map: string, file: string): Partial<Record<Channel, string>> | undefined {
  const words = wordsOf(stemOf(file));
  if (map === 'roughness' || map === 'metal') {
    const shiny = words.some((word) => /^(smooth|smoothness|gloss|glossiness|glossy|gls)$/.test(word));
    const value = map === 'roughness' && shiny ? 'gloss' : map;
    return { red: value, green: value, blue: value };
  }
  if (map !== 'packed') return undefined;
  for (const word of words.toReversed()) {
    const long = LONG.find(([pattern]) => pattern.test(word));
    if (long) return long[1];
    if (!BY_LETTERS.test(word)) continue;
    const letters = word.replace('ao', 'o').replace('a', 'o').split('');
    if (letters.length < 3 || new Set(letters).size !== letters.length) continue;
    return Object.fromEntries(letters.map((letter, i) => [ORDER[i], LETTERS[letter]]));
  }
  return undefined;
}
