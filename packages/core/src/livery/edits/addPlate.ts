import { z } from 'zod';
import { Plate } from '../plate.ts';
import { nothingStored, staysHere, type EditKind } from './kind.ts';
import { sheetIndex, withFreeId, withOne } from './places.ts';

const schema = z.strictObject({ do: z.literal('add-plate'), plate: Plate, index: z.number().int().min(0).optional() });
type AddPlate = z.infer<typeof schema>;

export const addPlate: EditKind<AddPlate> = {
  schema,
  apply(livery, { plate, index }) {
    sheetIndex(livery, plate.sheet);
    const all = withOne(livery.plates, plate, 'A plate with this id is there already.');
    const at = Math.min(index ?? all.length - 1, all.length - 1);
    return {
      livery: { ...livery, plates: all.toSpliced(-1, 1).toSpliced(at, 0, plate) },
      inverse: { do: 'remove-plate', plate: plate.id },
    };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (livery, edit) => ({ ...edit, plate: withFreeId(livery.plates, edit.plate) }),
  reads: (_livery, { plate }) => `Put on ${plate.name}`,
};
