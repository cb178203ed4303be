import type { Check, Finding } from '../finding.ts';
import { nextFree, wantedSlot } from '../target.ts';

export const slots: Check = {
  key: 'slots',
  subject: 'numbers',
  why: 'Two liveries with one number hide each other: the game shows whichever it reads last.',
  run({ livery, spec, target }) {
    if (!spec.slot) return [];
    const { from, to, called } = spec.slot;
    const free = nextFree(spec, target);
    const stop = (title: string, detail: string): Finding => ({
      check: this.key,
      level: 'stop',
      title,
      detail,
      show: { particular: 'slot' },
      ...(free !== null && {
        fix: {
          label: `Take ${free}`,
          edit: { do: 'set-particular' as const, key: 'slot', value: String(free) },
        },
      }),
    });
    const { slot } = target;
    if (slot === null)
      return [stop(`No ${called} is left`, `${spec.gameName} has ${from} to ${to}, and all of them are taken.`)];
    if (livery.particulars.slot && wantedSlot(livery) === null)
      return [stop(`"${livery.particulars.slot}" is not a ${called}`, `It is a whole number from ${from} to ${to}.`)];
    if (slot < from || slot > to)
      return [
        stop(
          `The ${called} ${slot} is not for liveries`,
          slot < from
            ? `0 to ${from - 1} are the game’s own; ${from} to ${to} are free to take.`
            : `${spec.gameName} reads ${from} to ${to}.`,
        ),
      ];
    const holder = target.taken.get(slot);
    return holder ? [stop(`The ${called} ${slot} is taken`, `${holder} has it already.`)] : [];
  },
};
