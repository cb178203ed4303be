/** What is worth doing next for a first livery, told from what there is. */
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';

export type StepKey = 'ground' | 'stripe' | 'number' | 'proof' | 'deliver' | 'game';

export interface Facts {
  livery: Pick<Livery, 'sheets'>;
  /** The painter has looked at its proof, or at its game since it was delivered. */
  proofed: boolean;
  seen: boolean;
  delivered: boolean;
}

interface Step {
  key: StepKey;
  /** As a sentence that says what to do. */
  says: string;
  why: string;
  done(facts: Facts): boolean;
}

const some = (
  livery: Facts['livery'],
  is: (layer: Livery['sheets'][number]['maps'][number]['layers'][number]) => boolean,
) => livery.sheets.some(({ maps }) => maps.some(({ layers }) => layers.some(is)));

export const STEPS: readonly Step[] = [
  {
    key: 'ground',
    says: 'Put a ground on',
    why: 'one colour over the whole sheet; what comes later lies on it',
    done: ({ livery }) => some(livery, ({ phase, kind }) => phase === 'Base' || kind === 'brush'),
  },
  {
    key: 'stripe',
    says: 'Lay a stripe or a band',
    why: 'drag its line on the sheet, or type its place on the right',
    done: ({ livery }) => some(livery, ({ phase }) => phase === 'Pattern'),
  },
  {
    key: 'number',
    says: 'Add its number',
    why: 'it reads from the particulars: change it there once, and it changes everywhere',
    done: ({ livery }) => some(livery, ({ phase }) => phase === 'Marks'),
  },
  {
    key: 'proof',
    says: 'Look at the proof',
    why: 'what the game’s compression makes of it, before anything is delivered',
    done: ({ proofed, delivered }) => proofed || delivered,
  },
  {
    key: 'deliver',
    says: 'Deliver it',
    why: 'the files, in the game’s own format, name and place',
    done: ({ delivered }) => delivered,
  },
  {
    key: 'game',
    says: 'See it in the game',
    why: 'its stand-in loads what was delivered, and nothing else',
    done: ({ seen }) => seen,
  },
];

/** The first step that is not done, and how many are; null: all are. */
export function nextStep(facts: Facts): { step: Step; done: number } | null {
  const step = STEPS.find((one) => !one.done(facts));
  return step ? { step, done: STEPS.filter((one) => one.done(facts)).length } : null;
}
