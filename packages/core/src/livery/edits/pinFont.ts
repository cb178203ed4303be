import { z } from 'zod';
import { Sha256 } from '../ids.ts';
import { nothingStored, staysHere, type EditKind } from './kind.ts';

/** What a font's key stands for, so that the lettering looks the same for ever. */
const schema = z.strictObject({ do: z.literal('pin-font'), font: z.string().max(60), hash: Sha256.nullable() });
type PinFont = z.infer<typeof schema>;

export const pinFont: EditKind<PinFont> = {
  schema,
  apply(livery, { font, hash }) {
    const fonts = { ...livery.pins.fonts };
    const before = Object.hasOwn(fonts, font) ? fonts[font] : null;
    if (hash === null) delete fonts[font];
    else fonts[font] = hash;
    const pins = { ...livery.pins, fonts };
    return { livery: { ...livery, pins }, inverse: { do: 'pin-font', font, hash: before } };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (_livery, edit) => edit,
  reads: (_livery, { font }) => `Letter with ${font}`,
};
