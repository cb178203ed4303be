import type { PlannedCard, PreflightAnswer } from '../../lib/types.ts';

/** Files of a delivery that are written: all but those that are left out. */
export const toWrite = ({ files }: PreflightAnswer): PlannedCard[] => files.filter((file) => file.leftOut === null);

/** How many findings stop it. */
export const stopsOf = ({ preflight }: PreflightAnswer): number =>
  preflight.findings.filter((finding) => finding.level === 'stop').length;
