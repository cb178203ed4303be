import type { Template } from '../livery/template.ts';
import { Plane } from './fields.ts';
import { SheetSurface } from './surface.ts';

export interface Spot {
  /** Metres, model space. */
  position: [number, number, number];
  /** Of length 1. */
  normal: [number, number, number];
  /** Of length 1, across the normal: where the sheet's x goes. */
  tangent: [number, number, number];
  /** 1 or -1: the sheet's y goes along `hand` times normal x tangent. */
  hand: number;
  /** The side of a square as large as the texel is on the model, metres. */
  size: number;
  part: string;
}

/** The spot of the model that wears a point of a sheet (texels), by the rule that says who has a texel; null off the islands. */
export function spotOfTexel(surface: SheetSurface, x: number, y: number): Spot | null {
  const rank = surface.rankUnder(x, y);
  if (rank < 0) return null;
  const plane = new Plane(surface);
  plane.of(rank);
  const [position, normal, tangent] = [0, 1, 2].map(() => new Float32Array(3));
  plane.at(x, y, 0, position, normal, tangent);
  const three = (of: Float32Array): [number, number, number] => [of[0], of[1], of[2]];
  return {
    ...{ position: three(position), normal: three(normal), tangent: three(tangent) },
    ...{ hand: plane.hand, size: plane.size },
    part: surface.parts[surface.laid.part[rank]].key,
  };
}

/** Surfaces of a template's sheets, worked out once. */
const surfaces = new WeakMap<object, Map<string, SheetSurface>>();

export function surfaceOf(template: Template, sheet: string): SheetSurface {
  const known = surfaces.get(template) ?? new Map<string, SheetSurface>();
  surfaces.set(template, known);
  const found = known.get(sheet) ?? new SheetSurface(template, sheet);
  known.set(sheet, found);
  return found;
}

/** The part that a triangle belongs to. */
export function partOfTriangle({ parts }: Pick<Template, 'parts'>, triangle: number) {
  return parts.find((part) => triangle >= part.first && triangle < part.first + part.count) ?? null;
}
