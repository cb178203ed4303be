/** What an encoding does to a sheet that a painter should know, each with a place to look at and, where there is one, a remedy. */
import { bandedFades } from './bandedFades.ts';
import { droppedAlpha } from './droppedAlpha.ts';
import { noGain } from './noGain.ts';
import { shiftedColours } from './shiftedColours.ts';
import { thinLettering } from './thinLettering.ts';
import type { ProofFinding, ProofInput } from './finding.ts';

/** Looks at a sheet's finished level 0. */
export function proofFindings(input: ProofInput): ProofFinding[] {
  return [thinLettering, bandedFades, droppedAlpha, shiftedColours, noGain].flatMap((look) => look(input));
}
