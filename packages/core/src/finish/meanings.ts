/** What a channel of a packed map can mean, and which value of it a finish has. */
import { FINISH_CHANNELS, type LiveryFinish } from '../livery/finish.ts';

/** Values that a finish gives, percent, by what channels are called. */
const VALUE_OF: Readonly<Record<Meaning, (finish: LiveryFinish) => number>> = {
  roughness: ({ roughness }) => roughness,
  gloss: ({ roughness }) => 100 - roughness,
  metal: ({ metal }) => metal,
  coat: ({ coat }) => coat,
  coatRoughness: ({ coatRoughness }) => coatRoughness,
  coatGloss: ({ coatRoughness }) => 100 - coatRoughness,
  sheen: ({ sheen }) => sheen,
  flake: ({ flake }) => (flake ? (flake.density * flake.strength) / 100 : 0),
};

export type Meaning = (typeof FINISH_CHANNELS)[number];

/** Words for them in templates, letters alone (common practice, no source). */
const WORDS: Readonly<Record<Meaning, RegExp>> = {
  roughness: /^rough(ness)?$/,
  gloss: /^(gloss(iness)?|smooth(ness)?|shin(e|iness))$/,
  metal: /^metal(lic|ness|licness)?$/,
  coat: /^(clear)?coat(strength|amount|intensity)?$/,
  coatRoughness: /^(clear)?coatrough(ness)?$/,
  coatGloss: /^(clear)?coat(gloss|smooth(ness)?)$/,
  sheen: /^(sheen|fuzz)$/,
  flake: /^flakes?$/,
};

/**
 * What a channel means by its name in the template; null: nothing that a finish says (occlusion, height, a mask ...).
 * @example
 * import { meaningOf } from './finish/meanings.ts';
 * meaningOf('Clear coat'); // 'coat'
 */
export function meaningOf(name: string): Meaning | null {
  const plain = plainly(name);
  return FINISH_CHANNELS.find((meaning) => WORDS[meaning].test(plain)) ?? null;
}

const plainly = (name: string): string => name.toLowerCase().replace(/[^a-z]/g, '');

/** Light that reaches a place: all of it where nothing is known. */
export const isOcclusion = (name: string): boolean => /^(ambient)?occlusion$|^ao$/.test(plainly(name));

/** What a finish's channel holds, 0 to 255. */
export const valueOf = (finish: LiveryFinish, meaning: Meaning): number =>
  Math.round((VALUE_OF[meaning](finish) * 255) / 100);
