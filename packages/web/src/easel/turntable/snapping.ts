/** What a mark or a plate that is slid along the model is held by. */
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { layersIn } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { planeBetween, stanceOf } from '@wet-lacquer/core/projectors/place.ts';
import { paintedOf } from '@wet-lacquer/core/projectors/projection.ts';
import { faceNormal } from '@wet-lacquer/core/surface/edges.ts';
import { heldNear, type SnapPlane } from '@wet-lacquer/core/surface/snap.ts';
import type { Vec } from '@wet-lacquer/core/surface/vectors.ts';
import type { ModelSpot, Stage } from '../../parts/stage.ts';
import { SNAP_PX } from '../flat/snapping.ts';

export interface Slid {
  position: Vec;
  normal: Vec;
  /** What holds it there, to be read. */
  held: string | null;
}

/** The middle of the model, and the height and the station of everything else that lies or stands on it. */
export function planesOf(livery: Livery, template: Template, moving: string): SnapPlane[] {
  const middle = planeBetween(template);
  const planes: SnapPlane[] = middle ? [{ ...middle, name: 'in the middle' }] : [];
  const add = (name: string, [x, y]: Vec) =>
    planes.push(
      { normal: [0, 1, 0], offset: y, name: `as high as ${name}` },
      { normal: [1, 0, 0], offset: x, name: `as far forward as ${name}` },
    );
  const known = new Set<string>();
  for (const layer of layersIn(livery)) {
    const one = layer.across ?? layer.id;
    if (!layer.on || layer.hidden || layer.id === moving || known.has(one)) continue;
    known.add(one);
    // A line goes over the whole model: only what has a middle of its own is told.
    if (layer.on.kind === 'flat' || layer.on.kind === 'folded') add(layer.name, stanceOf(layer.on, template).at);
  }
  for (const plate of livery.plates ?? []) if (plate.id !== moving && !plate.hidden) add(plate.name, plate.at);
  return planes;
}

/**
 * Follows a slide over the model: where what is slid goes for a spot under the pointer.
 * @param not parts that it does not lie on @param moving the layer or plate that is slid
 */
export function slideOver(stage: Stage, livery: Livery, template: Template, moving: string, not?: readonly string[]) {
  const across = layersIn(livery).find(({ id }) => id === moving)?.across;
  const siblings = across ? layersIn(livery).filter((one) => one.across === across) : [];
  const planes = planesOf({ ...livery, sheets: withoutLayers(livery, siblings) }, template, moving);
  const triangles = paintedOf(template, not);
  return (spot: ModelSpot, free: boolean): Slid => {
    const within = SNAP_PX * stage.metresAPixel(spot.position);
    const found = free ? null : heldNear(template, triangles, spot.position, planes, within);
    const normal = found && faceNormal(template.mesh, found.triangle);
    if (!found || !normal) return { position: spot.position, normal: spot.normal, held: null };
    return { position: found.place, normal, held: found.names.join(' and ') };
  };
}

/** How far a slide has gone, and what holds it there. */
export const slideSays = (from: Vec, to: Vec, held: string | null): string =>
  `${Math.hypot(...to.map((v, k) => v - from[k])).toFixed(2)} m${held ? `, ${held}` : ''}`;

const withoutLayers = (livery: Livery, gone: readonly object[]): Livery['sheets'] =>
  livery.sheets.map((sheet) => ({
    ...sheet,
    maps: sheet.maps.map((map) => ({ ...map, layers: map.layers.filter((one) => !gone.includes(one)) })),
  }));
