import type { Edit } from '@wet-lacquer/core/livery/edit.ts';
import { newEditId } from '@wet-lacquer/core/livery/ids.ts';
import { person } from '../easel/person.ts';
import { send } from './api.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';

/** Makes one step of a livery that is not open in an easel. @param base the revision that it was decided on */
export const sendStep = (liveryId: string, base: number, edit: Edit, label: string): Promise<unknown> =>
  send('POST', `/liveries/${liveryId}/entries`, {
    base,
    entries: [{ id: newEditId(), person: person(), edit, undoes: null, redoes: null, label: cutTo(label, 120) }],
  });
