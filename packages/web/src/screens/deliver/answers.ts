import type { PlannedCard, PreflightAnswer } from '@wet-lacquer/sync/answers.ts';

/** Files of a delivery that are written: all but those that are left out. */
export const toWrite = ({ files }: PreflightAnswer): PlannedCard[] => files.filter((file) => file.leftOut === null);

/** How many findings stop it. @param overruled names of those that somebody lets go on */
export const stopsOf = ({ preflight }: PreflightAnswer, overruled: ReadonlySet<string> = new Set()): number =>
  preflight.findings.filter(({ level, overrule }) => level === 'stop' && !(overrule && overruled.has(overrule))).length;
