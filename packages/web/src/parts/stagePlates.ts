import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { meshOfPlate, standingPlates } from '@wet-lacquer/core/plates/panel.ts';
import type { StagePlate } from './stage.ts';

/** A livery's plates as a stage shows them, each in its sheet. */
export const stagePlates = (plates: Livery['plates'], template: Template): StagePlate[] =>
  standingPlates({ plates }).map((stands) => ({
    id: stands.plate.id,
    mesh: meshOfPlate(stands, template),
    wears: stands.plate.sheet,
  }));
