import { z } from 'zod';
import { HEX } from '../../colour/hex.ts';
import { ColourId, newColourId } from '../../livery/ids.ts';
import type { ItemKind } from './kind.ts';
import { sameName } from './kind.ts';

const value = z.string().regex(HEX);

/** A colour of the scheme, sRGB. */
export const colour: ItemKind<z.infer<typeof value>> = {
  called: 'Colours',
  value,
  found: ({ scheme }) => scheme.map(({ id, name, hex }) => ({ name, value: hex, places: [id] })),
  read: ({ scheme }, place) => scheme.find(({ id }) => id === place)?.hex ?? null,
  write({ scheme }, place, hex, { name }) {
    const id = ColourId.parse(place);
    return scheme.some((one) => one.id === id)
      ? [{ do: 'set-colour', colour: id, set: { hex } }]
      : [{ do: 'add-colour', colour: { id, name, hex }, index: scheme.length }];
  },
  newPlace: newColourId,
  likeness(a, b) {
    const [name, same] = [sameName(a.name, b.name), a.value === b.value];
    return name && same ? 3 : same ? 2 : name ? 1 : 0;
  },
  words: (hex) => hex,
};
