/** A livery taken onto another model: what one thread does of it. */
import { renderAlone } from '@wet-lacquer/core/compose/renderSheet.ts';
import { sceneOf } from '@wet-lacquer/core/compose/scene.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { packPixels } from '@wet-lacquer/core/files/pixels.ts';
import type { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { sheetNamed, type Template } from '@wet-lacquer/core/livery/template.ts';
import { Fitting, proposeFit, proposePairs, type Fit } from '@wet-lacquer/core/transfer/fit.ts';
import { planTransfer, type Drawn, type TransferPlan } from '@wet-lacquer/core/transfer/plan.ts';
import { Points } from '@wet-lacquer/core/transfer/points.ts';
import { canReach, fitOf, joined, takeRows, type SheetFit, type TakenTile } from '@wet-lacquer/core/transfer/take.ts';
import { padded, paddingOf, type OldPicture } from '@wet-lacquer/core/transfer/sampling.ts';
import { Origin } from '@wet-lacquer/core/transfer/texels.ts';
import { png } from './pictures.ts';
import { sourcesOf, type Scene } from './scene.ts';
import { sharedImage } from './shared.ts';

/** Two models and how the one goes onto the other. */
export interface Pairing {
  old: Template;
  now: Template;
  fit: Fit;
  /** Says which it is, so that a thread works out each once. */
  key: string;
}

/** What a thread worked out last. */
let held: { key: string; fitting: Fitting; origins: Map<string, Origin>; paddings: Map<string, Int32Array> } | null =
  null;

function heldFor({ old, now, fit, key }: Pairing) {
  if (held?.key !== key) held = { key, fitting: new Fitting(old, now, fit), origins: new Map(), paddings: new Map() };
  return held;
}

function originOf(pairing: Pairing, sheet: string): Origin {
  const { fitting, origins } = heldFor(pairing);
  const known = origins.get(sheet) ?? new Origin(fitting, sheet);
  origins.set(sheet, known);
  return known;
}

/** How one model goes onto another. @throws InputError when it cannot be told */
export function fitModels({ old, now }: { old: Template; now: Template }): Fit {
  const fit = proposeFit(old, now);
  if (!fit)
    throw new InputError(
      'One of the two models has no surface that could be laid over the other’s, or they differ in size beyond all measure.',
    );
  return fit;
}

/** Which part comes from which, when models lie as a fit says. */
export const pairParts = ({ old, now, fit }: { old: Template; now: Template; fit: Fit }): Fit['pairs'] =>
  proposePairs(old, now, fit);

/** How well the sheets of the new model fit, with a picture each as PNG; and by how much parts are stretched. */
export async function lookAtFit(pairing: Pairing): Promise<{
  sheets: (Omit<SheetFit, 'image'> & { png: Uint8Array })[];
  pairs: { part: string; by: Fitting['pairs'][number]['by']; whole: boolean }[];
}> {
  const { fitting } = heldFor(pairing);
  const sheets = [];
  for (const sheet of pairing.now.sheets) {
    const { image, ...rest } = fitOf(originOf(pairing, sheet.key), sheet);
    sheets.push({ ...rest, png: new Uint8Array(await png(image)) });
  }
  return { sheets, pairs: fitting.pairs.map(({ part, by, whole }) => ({ part: part.key, by, whole })) };
}

/** What becomes of each layer. */
export async function planMove(task: {
  scene: Scene;
  pairing: Pairing;
  hash: Sha256;
  name: string;
}): Promise<TransferPlan> {
  const { scene, pairing, hash, name } = task;
  const points = new Points(heldFor(pairing).fitting);
  return planTransfer(scene.livery, pairing.old, pairing.now, hash, name, points, await sourcesOf(scene));
}

/** A layer as it is by itself, carried on beyond the islands, and the new sheets that it can come to lie on; null: it is nowhere. */
export async function drawOld(task: {
  scene: Scene;
  pairing: Pairing;
  drawn: Drawn;
}): Promise<(OldPicture & { reaches: string[] }) | null> {
  const { scene, pairing, drawn } = task;
  const { sheet, map, layer } = drawn;
  const { paddings } = heldFor(pairing);
  const padding = paddings.get(sheet) ?? paddingOf(pairing.old, sheet);
  paddings.set(sheet, padding);
  const of = sceneOf(scene.livery, sheet, map, await sourcesOf(scene));
  const found = padded(renderAlone(of, layer, sheetNamed(pairing.old, sheet)), padding);
  if (!found) return null;
  const { fitting } = heldFor(pairing);
  const reaches = pairing.now.sheets.map(({ key }) => key).filter((key) => canReach(fitting, key, sheet, found));
  return { ...found, image: sharedImage(found.image), reaches };
}

/** What rows of tiles of a new sheet have of layers, each by the number of its old sheet. */
export function takeBand(task: {
  pairing: Pairing;
  sheet: string;
  pictures: (OldPicture | null)[][];
  from: number;
  to: number;
}): TakenTile[][] {
  const { pairing, sheet, pictures, from, to } = task;
  return takeRows(originOf(pairing, sheet), sheetNamed(pairing.now, sheet), pictures, from, to);
}

/** Tiles as stored pixels, without what is empty around them; null: there are none. */
export function packTaken(
  tiles: TakenTile[],
): { bytes: Uint8Array; left: number; top: number; width: number; height: number } | null {
  const found = joined(tiles);
  if (!found) return null;
  const { left, top, image } = found;
  return { bytes: packPixels(image), left, top, width: image.width, height: image.height };
}
