import { InputError } from '@wet-lacquer/core/errors.ts';
import { applyEdit } from '@wet-lacquer/core/livery/edit.ts';
import type { AppliedEntry } from '@wet-lacquer/core/livery/history.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';

/**
 * The states that a livery went through, worked out backwards as they are asked for: 0 is the livery as it is, 1 as it was before the
 * last step. Null where the way back is not known.
 */
export function statesBack(livery: Livery, steps: readonly AppliedEntry[]): (back: number) => Livery | null {
  const states: (Livery | null)[] = [livery];
  return (back) => {
    while (states.length <= back) {
      const later = states[states.length - 1];
      const step = steps[steps.length - states.length];
      states.push(later && step ? before(later, step) : null);
    }
    return states[back];
  };
}

function before(livery: Livery, { inverse }: AppliedEntry): Livery | null {
  try {
    return applyEdit(livery, inverse).livery;
  } catch (error) {
    if (error instanceof InputError) return null;
    throw error;
  }
}
