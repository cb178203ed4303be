import { alphaDropped } from './checks/alphaDropped.ts';
import { alphaMeaning } from './checks/alphaMeaning.ts';
import { decalQuality } from './checks/decalQuality.ts';
import { guideInArt } from './checks/guideInArt.ts';
import { letteringBackwards } from './checks/letteringBackwards.ts';
import { letteringContrast } from './checks/letteringContrast.ts';
import { tooThin } from './checks/tooThin.ts';
import { asOriginal } from './checks/asOriginal.ts';
import { artHidden } from './checks/artHidden.ts';
import { decalOutside } from './checks/decalOutside.ts';
import { framesAndColliders } from './checks/framesAndColliders.ts';
import { nameCharacters } from './checks/nameCharacters.ts';
import { nameRules } from './checks/nameRules.ts';
import { sheetBare } from './checks/sheetBare.ts';
import { sizeMultipleOfFour } from './checks/sizeMultipleOfFour.ts';
import type { Check, CheckInput, Finding } from './finding.ts';

/** Every check, in the order in which they are listed. */
export const CHECKS: readonly Check[] = [
  nameCharacters,
  nameRules,
  sheetBare,
  asOriginal,
  sizeMultipleOfFour,
  alphaDropped,
  alphaMeaning,
  guideInArt,
  decalOutside,
  decalQuality,
  letteringBackwards,
  letteringContrast,
  tooThin,
  framesAndColliders,
  artHidden,
];

export interface Preflight {
  /** Worst first. */
  findings: Finding[];
  /** Subjects of the checks that found nothing. */
  fine: string[];
  checks: number;
}

export function preflight(input: CheckInput): Preflight {
  const results = CHECKS.map((check) => ({ check, found: check.run(input) }));
  const findings = results.flatMap((result) => result.found);
  return {
    findings: [...findings.filter((f) => f.level === 'stop'), ...findings.filter((f) => f.level === 'advice')],
    fine: results.filter((result) => result.found.length === 0).map((result) => result.check.subject),
    checks: CHECKS.length,
  };
}
