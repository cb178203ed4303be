import { z } from 'zod';
import { nothingStored, staysHere, type EditKind } from './kind.ts';
import { nameOfPlate, PLATE_GONE, withList, withoutOne } from './places.ts';

const schema = z.strictObject({ do: z.literal('remove-plate'), plate: z.string() });
type RemovePlate = z.infer<typeof schema>;

export const removePlate: EditKind<RemovePlate> = {
  schema,
  apply(livery, { plate }) {
    const { found, rest } = withoutOne(livery.plates, plate, PLATE_GONE);
    return {
      livery: withList(livery, 'plates', rest),
      inverse: { do: 'add-plate', plate: found, index: livery.plates!.indexOf(found) },
    };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (_livery, edit) => edit,
  reads: (livery, { plate }) => `Take ${nameOfPlate(livery, plate)} off`,
};
