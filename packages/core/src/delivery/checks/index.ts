/** Every check of preflight; a new one is a file of its own and a line here. */
import { alphaDropped } from './alphaDropped.ts';
import { alphaFilled } from './alphaFilled.ts';
import { alphaMeaning } from './alphaMeaning.ts';
import { alphaNeeded } from './alphaNeeded.ts';
import { artHidden } from './artHidden.ts';
import { asOriginal } from './asOriginal.ts';
import { boxesTouched } from './boxesTouched.ts';
import { colourSpaces } from './colourSpaces.ts';
import { decalOutside } from './decalOutside.ts';
import { decalQuality } from './decalQuality.ts';
import { encodedMarks } from './encodedMarks.ts';
import { finishIgnored } from './finishIgnored.ts';
import { finishZones } from './finishZones.ts';
import { flakeUnseen } from './flakeUnseen.ts';
import { framesAndColliders } from './framesAndColliders.ts';
import { guesses } from './guesses.ts';
import { guideInArt } from './guideInArt.ts';
import { islandEdges } from './islandEdges.ts';
import { letteringBackwards } from './letteringBackwards.ts';
import { letteringContrast } from './letteringContrast.ts';
import { lightHolds } from './lightHolds.ts';
import { marksBehind } from './marksBehind.ts';
import { marksStretched } from './marksStretched.ts';
import { nameCharacters } from './nameCharacters.ts';
import { nameRules } from './nameRules.ts';
import { nightUnseen } from './nightUnseen.ts';
import { originalFormat } from './originalFormat.ts';
import { pairs } from './pairs.ts';
import { particularsNeeded } from './particularsNeeded.ts';
import { plates } from './plates.ts';
import { references } from './references.ts';
import { safeNames } from './safeNames.ts';
import { seamSteps } from './seamSteps.ts';
import { sheetBare } from './sheetBare.ts';
import { shineTooSmall } from './shineTooSmall.ts';
import { sidecars } from './sidecars.ts';
import { sizes } from './sizes.ts';
import { slots } from './slots.ts';
import { targetFolder } from './targetFolder.ts';
import { tooThin } from './tooThin.ts';
import { wayUpside } from './wayUpside.ts';
import type { Check } from '../finding.ts';

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
  finishZones,
  finishIgnored,
  flakeUnseen,
  shineTooSmall,
  nightUnseen,
  boxesTouched,
  guideInArt,
  decalOutside,
  islandEdges,
  marksBehind,
  marksStretched,
  seamSteps,
  decalQuality,
  letteringBackwards,
  letteringContrast,
  tooThin,
  encodedMarks,
  framesAndColliders,
  plates,
  artHidden,
];
