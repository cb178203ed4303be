import { z } from 'zod';
import { InputError } from '../../errors.ts';
import { Livery } from '../livery.ts';
import { strokesIn } from '../strokes.ts';
import { staysHere, type EditKind } from './kind.ts';

/** The livery becomes what it was at another time; its named versions stay. */
const schema = z.strictObject({ do: z.literal('become'), livery: Livery });
type Become = z.infer<typeof schema>;

export const become: EditKind<Become> = {
  schema,
  apply(livery, edit) {
    if (edit.livery.pins.template !== livery.pins.template)
      throw new InputError('That state is on another version of its template: it cannot be gone back to.');
    const { versions: _theirs, ...state } = edit.livery;
    const { versions, ...before } = livery;
    return {
      livery: { ...state, ...(versions && { versions }) },
      inverse: { do: 'become', livery: before },
    };
  },
  stored: (edit) => strokesIn(edit.livery).map(({ blob }) => blob),
  spread: staysHere,
  reaim: (_livery, edit) => edit,
  reads: () => 'Go back to an earlier state',
};
