import { z } from 'zod';
import { NightLook } from '../night.ts';
import { nothingStored, staysHere, type EditKind } from './kind.ts';

/** Null: maps that hold light no longer follow the day. */
const schema = z.strictObject({ do: z.literal('set-night'), night: NightLook.nullable() });
type SetNight = z.infer<typeof schema>;

export const setNight: EditKind<SetNight> = {
  schema,
  apply({ night: before, ...livery }, { night }) {
    return {
      livery: night ? { ...livery, night } : livery,
      inverse: { do: 'set-night', night: before ?? null },
    };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (_livery, edit) => edit,
  reads: (livery, { night }) =>
    night ? (livery.night ? 'Set the night' : 'Let the night follow the day') : 'Paint the night by hand',
};
