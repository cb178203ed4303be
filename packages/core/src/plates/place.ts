/** Where plates begin, and how they are moved about. */
import type { Livery } from '../livery/livery.ts';
import type { Plate } from '../livery/plate.ts';
import type { Template } from '../livery/template.ts';
import { direction, place } from '../projectors/place.ts';
import { spotOfTexel, surfaceOf } from '../surface/locate.ts';
import { markPlace } from '../surface/markPlace.ts';
import { diagonalOf } from '../surface/triangles.ts';
import { cross, dot, plus, unit, upright, type Vec } from '../surface/vectors.ts';
import { fitPlate } from './fit.ts';
import { inBlocks, picturesOn, roomFor } from './room.ts';

const UP: Vec = [0, 1, 0];

/** Of the model's diagonal, how wide a new plate is. */
const NEW_ACROSS = 0.08;
/** Of its sheet's width, how wide the picture of a new plate is; half as high. */
const NEW_PICTURE = 0.25;

/** A place of the model that is seen: where a first mark would go. Null: there is none. */
export function placeSeen(template: Template): { position: Vec; normal: Vec } | null {
  for (const { key } of template.sheets) {
    const mark = markPlace(template, key);
    const spot = mark && spotOfTexel(surfaceOf(template, key), mark.x, mark.y);
    if (spot) return spot;
  }
  return null;
}

/**
 * A new plate at a place of the model, fitted to the surface there, with a picture where its sheet has room.
 * @returns null: there is no room
 */
export function newPlate(
  livery: Pick<Livery, 'plates'>,
  template: Template,
  sheet: { key: string; width: number; height: number },
  spot: { position: Vec; normal: Vec },
  id: string,
): Plate | null {
  const width = Math.min(sheet.width, inBlocks(sheet.width * NEW_PICTURE));
  const size = { width, height: Math.min(sheet.height, inBlocks(width / 2)) };
  const room = roomFor(picturesOn(livery.plates, sheet.key), sheet, size);
  if (!room) return null;
  const plate: Plate = {
    ...{ id, name: `Plate ${(livery.plates?.length ?? 0) + 1}`, sheet: sheet.key, ...room, ...size },
    ...{ at: place(spot.position), facing: direction(spot.normal), up: direction(upright(UP, spot.normal)) },
    across: Number((diagonalOf(template.mesh) * NEW_ACROSS).toPrecision(2)),
    lift: 0,
    form: { kind: 'flat' },
  };
  return { ...plate, ...fitPlate(plate, template) };
}

/** The plate at another place of the surface, as upright as it was. @param turns it looks out of the surface there */
export function slidPlate(
  plate: Plate,
  at: Vec,
  normal: Vec,
  turns = true,
): Partial<Pick<Plate, 'at' | 'facing' | 'up'>> {
  if (!turns) return { at: place(at) };
  const angle = angleOf(plate);
  const facing = direction(normal);
  return { at: place(at), facing, up: turnedUp(facing, angle) };
}

/** How far a plate is turned against the clock from standing upright, degrees; one that lies: from the model's bow. */
export function angleOf(plate: Pick<Plate, 'facing' | 'up'>): number {
  const out = unit(plate.facing);
  const up = upright(plate.up, out);
  const straight = upright(UP, out);
  return (Math.atan2(-dot(up, cross(straight, out)), dot(up, straight)) * 180) / Math.PI;
}

/** What is up on a plate that looks one way and is turned by so many degrees. */
export function turnedUp(facing: Vec, degrees: number): Plate['up'] {
  const out = unit(facing);
  const straight = upright(UP, out);
  const right = cross(straight, out);
  const turn = (degrees * Math.PI) / 180;
  const up = plus(plus([0, 0, 0], straight, Math.cos(turn)), right, -Math.sin(turn));
  return direction(up);
}
