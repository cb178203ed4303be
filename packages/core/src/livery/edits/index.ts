/** Every kind of edit, by what it does. A new one is a file of its own and a line here. */
import { addColour } from './addColour.ts';
import { addFinish } from './addFinish.ts';
import { addLayer } from './addLayer.ts';
import { addPlate } from './addPlate.ts';
import { addReference } from './addReference.ts';
import { addSelection } from './addSelection.ts';
import { addStroke } from './addStroke.ts';
import { addVersion } from './addVersion.ts';
import { alsoBy } from './alsoBy.ts';
import { become } from './become.ts';
import { moveLayer } from './moveLayer.ts';
import { moveReference } from './moveReference.ts';
import { pinFont } from './pinFont.ts';
import { removeColour } from './removeColour.ts';
import { removeFinish } from './removeFinish.ts';
import { removeLayer } from './removeLayer.ts';
import { removePlate } from './removePlate.ts';
import { removeReference } from './removeReference.ts';
import { removeSelection } from './removeSelection.ts';
import { removeStroke } from './removeStroke.ts';
import { removeVersion } from './removeVersion.ts';
import { setColour } from './setColour.ts';
import { setFinish } from './setFinish.ts';
import { setLayer } from './setLayer.ts';
import { setMask } from './setMask.ts';
import { setNight } from './setNight.ts';
import { setParticular } from './setParticular.ts';
import { setPlate } from './setPlate.ts';
import { setSheet } from './setSheet.ts';
import { takeTemplate } from './takeTemplate.ts';

export const EDITS = {
  'add-layer': addLayer,
  'remove-layer': removeLayer,
  'move-layer': moveLayer,
  'set-layer': setLayer,
  'add-stroke': addStroke,
  'remove-stroke': removeStroke,
  'set-mask': setMask,
  'add-selection': addSelection,
  'remove-selection': removeSelection,
  'add-colour': addColour,
  'remove-colour': removeColour,
  'set-colour': setColour,
  'add-finish': addFinish,
  'remove-finish': removeFinish,
  'set-finish': setFinish,
  'set-night': setNight,
  'set-particular': setParticular,
  'set-sheet': setSheet,
  'pin-font': pinFont,
  'add-reference': addReference,
  'remove-reference': removeReference,
  'move-reference': moveReference,
  'add-plate': addPlate,
  'remove-plate': removePlate,
  'set-plate': setPlate,
  'take-template': takeTemplate,
  'also-by': alsoBy,
  'add-version': addVersion,
  'remove-version': removeVersion,
  become,
} as const;
