import { alphaDropped } from './checks/alphaDropped.ts';
import { alphaMeaning } from './checks/alphaMeaning.ts';
import { decalQuality } from './checks/decalQuality.ts';
import { guesses } from './checks/guesses.ts';
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
import { alphaNeeded } from './checks/alphaNeeded.ts';
import { colourSpaces } from './checks/colourSpaces.ts';
import { boxesTouched } from './checks/boxesTouched.ts';
import { particularsNeeded } from './checks/particularsNeeded.ts';
import { references } from './checks/references.ts';
import { safeNames } from './checks/safeNames.ts';
import { sheetBare } from './checks/sheetBare.ts';
import { sidecars } from './checks/sidecars.ts';
import { slots } from './checks/slots.ts';
import { targetFolder } from './checks/targetFolder.ts';
import { sizes } from './checks/sizes.ts';
import { encodedMarks } from './checks/encodedMarks.ts';
import { islandEdges } from './checks/islandEdges.ts';
import { originalFormat } from './checks/originalFormat.ts';
import { alphaFilled } from './checks/alphaFilled.ts';
import { lightHolds } from './checks/lightHolds.ts';
import { pairs } from './checks/pairs.ts';
import { wayUpside } from './checks/wayUpside.ts';
import type { Check, CheckInput, Finding } from './finding.ts';

/** Every check, in the order in which they are listed. */
export const CHECKS: readonly Check[] = [
  nameCharacters,
  particularsNeeded,
  nameRules,
  safeNames,
  slots,
  sidecars,
  references,
  targetFolder,
  guesses,
  sheetBare,
  asOriginal,
  originalFormat,
  alphaFilled,
  lightHolds,
  pairs,
  wayUpside,
  sizes,
  alphaDropped,
  alphaMeaning,
  alphaNeeded,
  colourSpaces,
  boxesTouched,
  guideInArt,
  decalOutside,
  islandEdges,
  decalQuality,
  letteringBackwards,
  letteringContrast,
  tooThin,
  encodedMarks,
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

/** @param overruled names of findings that stop no longer; see Finding */
export function preflight(input: CheckInput, overruled: readonly string[] = []): Preflight {
  const checks = CHECKS.filter((check) => !check.needsModel || !input.template.boards);
  const results = checks.map((check) => ({
    check,
    found: check.run(input).map((finding) => (isOverruled(finding, overruled) ? letGo(finding) : finding)),
  }));
  // A sheet that is delivered at several sizes has its findings once.
  const seen = new Set<string>();
  const findings = results.flatMap((result) => result.found).filter((finding) => isNew(seen, finding));
  return {
    findings: [...findings.filter((f) => f.level === 'stop'), ...findings.filter((f) => f.level === 'advice')],
    fine: results.filter((result) => result.found.length === 0).map((result) => result.check.subject),
    checks: checks.length,
  };
}

const isOverruled = ({ overrule }: Finding, names: readonly string[]) =>
  overrule !== undefined && names.includes(overrule);

const letGo = (finding: Finding): Finding => ({ ...finding, level: 'advice', overruled: true });

function isNew(seen: Set<string>, { check, title, detail }: Finding): boolean {
  const key = JSON.stringify([check, title, detail]);
  return !seen.has(key) && !!seen.add(key);
}
