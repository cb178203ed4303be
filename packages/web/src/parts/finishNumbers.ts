/** Numbers of a finish that are set, in percent, and what they are called. */
export const FINISH_NUMBERS = [
  ['roughness', 'roughness'],
  ['metal', 'metal'],
  ['coat', 'clear coat'],
  ['coatRoughness', 'its roughness'],
  ['sheen', 'sheen'],
] as const;
