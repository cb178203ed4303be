/** The sixteen blend modes of W3C Compositing and Blending Level 1, by their published names. */
export const W3C_MODES = [
  'normal',
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
  'hue',
  'saturation',
  'color',
  'luminosity',
] as const;

/** All blend modes: those of the W3C, and nine more that layered files of several programs share. */
export const BLEND_MODES = [
  ...W3C_MODES,
  'linear-dodge',
  'linear-burn',
  'vivid-light',
  'linear-light',
  'pin-light',
  'darker-color',
  'lighter-color',
  'divide',
  'subtract',
] as const;
export type BlendMode = (typeof BLEND_MODES)[number];
