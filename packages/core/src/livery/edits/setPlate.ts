import { z } from 'zod';
import { Plate, PlateSettings } from '../plate.ts';
import { nothingStored, staysHere, type EditKind } from './kind.ts';
import { listed, nameOfPlate, PLATE_GONE, sheetIndex } from './places.ts';

const { partner, group, own, hidden } = PlateSettings.shape;

/** Only the named settings change. Null takes one off that need not be. */
const schema = z.strictObject({
  do: z.literal('set-plate'),
  plate: z.string(),
  set: PlateSettings.extend({
    partner: partner.nullable(),
    group: group.nullable(),
    own: own.nullable(),
    hidden: hidden.nullable(),
  }),
});
type SetPlate = z.infer<typeof schema>;

export const setPlate: EditKind<SetPlate> = {
  schema,
  apply(livery, { plate, set }) {
    const { plates = [] } = livery;
    const found = listed(plates, plate, PLATE_GONE);
    const before = Object.fromEntries(Object.keys(set).map((key) => [key, found[key as keyof Plate] ?? null]));
    const next = Object.fromEntries(
      Object.entries({ ...found, ...set }).filter(([, value]) => value !== null),
    ) as Plate;
    sheetIndex(livery, next.sheet);
    return {
      livery: { ...livery, plates: plates.with(plates.indexOf(found), next) },
      inverse: { do: 'set-plate', plate, set: before },
    };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (_livery, edit) => edit,
  reads: (livery, { plate, set }) => `Set ${Object.keys(set).join(', ')} of ${nameOfPlate(livery, plate)}`,
};
