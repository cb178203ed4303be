/** What painters do to plates, each as one step with a name. */
import type { SingleEdit } from '@wet-lacquer/core/livery/edit.ts';
import type { Plate } from '@wet-lacquer/core/livery/plate.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';
import { newPlate, placeSeen } from '@wet-lacquer/core/plates/place.ts';
import { standing } from '@wet-lacquer/core/plates/panel.ts';
import { place } from '@wet-lacquer/core/projectors/place.ts';
import { plus, type Vec } from '@wet-lacquer/core/surface/vectors.ts';
import type { EaselDocument } from '../document.ts';
import { lookAt } from '../flat/view.ts';
import { takeInHand } from '../hand.ts';
import { announce, choosePlate, useSession } from '../session.ts';

export type PlateSet = Extract<SingleEdit, { do: 'set-plate' }>['set'];

/** Where the model is looked at, as long as it is shown. */
let looking: (() => { position: Vec; normal: Vec } | null) | null = null;

/** Tells where the model is looked at. @returns what ends that */
export function tellLooking(where: NonNullable<typeof looking>): () => void {
  looking = where;
  return () => {
    if (looking === where) looking = null;
  };
}

export const setPlate = (doc: EaselDocument, plate: Plate, set: PlateSet, label: string): void =>
  doc.commit({ do: 'set-plate', plate: plate.id, set }, `${label} ${plate.name}`);

/** Puts a new plate on the model where it is looked at, and goes to its picture. */
export function addPlate(doc: EaselDocument): void {
  const { livery, template } = doc.use.getState();
  const { sheet: here } = useSession.getState();
  const sheets = template.sheets.filter(({ plates }) => plates);
  const sheet = sheets.find(({ key }) => key === here) ?? sheets[0];
  const spot = looking?.() ?? placeSeen(template);
  if (!sheet || !spot) return announce('There is no place for a plate on this model');
  const plate = newPlate(livery, template, sheet, spot, crypto.randomUUID());
  if (!plate) {
    useSession.setState({
      trouble: `There is no room left on ${sheet.name}: make the picture of a plate smaller, or let two plates show one.`,
    });
    return;
  }
  doc.commit({ do: 'add-plate', plate }, `Put on ${plate.name}`);
  choosePlate(plate.id);
  announce(`${plate.name} put on`);
}

/** Goes to where a plate is painted. */
export function showPicture({ sheet, left, top, width, height }: Plate): void {
  const { sheet: here } = useSession.getState();
  takeInHand('place');
  lookAt({ left, top, width, height }, sheet !== here);
  useSession.setState({ sheet, map: 'colour', run: null });
}

export function removePlate(doc: EaselDocument, plate: Plate): void {
  doc.commit({ do: 'remove-plate', plate: plate.id }, `Take ${plate.name} off`);
  choosePlate(null);
  announce(`${plate.name} taken off`);
}

/** One more of the same picture, beside it. */
export function duplicatePlate(doc: EaselDocument, plate: Plate): void {
  const copy = { ...plate, id: crypto.randomUUID(), name: cutTo(`${plate.name} copy`, 80) };
  const at = place(plus(plate.at, standing(plate).axes.right, plate.across * 1.1));
  doc.commit({ do: 'add-plate', plate: { ...copy, at } }, `Duplicate ${plate.name}`);
  choosePlate(copy.id);
}
