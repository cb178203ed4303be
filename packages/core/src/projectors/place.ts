/** Where projectors begin, and how one becomes another in the same place. */
import type { Projector, ProjectorKind, ProjectorOf } from '../livery/projector.ts';
import type { Subject, Template } from '../livery/template.ts';
import { nearestOn } from '../surface/cutLine.ts';
import { faceNormal } from '../surface/edges.ts';
import { spotOfTexel } from '../surface/locate.ts';
import { symmetryPlane, type SymmetryPlane } from '../surface/symmetryPlane.ts';
import type { SheetSurface } from '../surface/surface.ts';
import { boxOfMesh, cornersOfTriangle, diagonalOf } from '../surface/triangles.ts';
import { cross, dot, minus, plus, unit, upright, type Vec } from '../surface/vectors.ts';
import { linesOf } from './along/pieces.ts';
import { paintedOf } from './projection.ts';

type Three = [number, number, number];

/** As it is written down: a tenth of a millimetre, a millionth of a direction. */
export const place = (p: Vec): Three => [round(p[0], 1e4), round(p[1], 1e4), round(p[2], 1e4)];
export const direction = (d: Vec): Three => [round(d[0], 1e6), round(d[1], 1e6), round(d[2], 1e6)];
const round = (v: number, by: number): number => Math.round(v * by) / by || 0;

const UP: Vec = [0, 1, 0];
const AXES: readonly Vec[] = [UP, [1, 0, 0], [0, 0, 1]];

/** A plane that lies flat on a place of the surface. @param up what is to be up on it, as far as it lies in the surface */
export const flatAt = (at: Vec, normal: Vec, up: Vec, scale: number): ProjectorOf<'flat'> => ({
  kind: 'flat',
  scale,
  at: place(at),
  facing: direction(unit(normal)),
  up: direction(upright(up, unit(normal))),
  limit: 70,
  soft: 10,
});

/**
 * The plane in which a layer looks as it does on its sheet about a point of it.
 * @returns null off the islands; else the projector, and whether the sheet is laid out mirrored there
 */
export function standOn(
  surface: SheetSurface,
  x: number,
  y: number,
): { on: ProjectorOf<'flat'>; mirrored: boolean } | null {
  const spot = spotOfTexel(surface, x, y);
  if (!spot) return null;
  const out = unit(spot.normal);
  const tangent = unit(spot.tangent);
  // Where the sheet's y goes down, but for what the islands turn round.
  const down = cross(out, tangent);
  const up: Vec = [-down[0] * spot.hand, -down[1] * spot.hand, -down[2] * spot.hand];
  return {
    on: flatAt(spot.position, out, up, Number(spot.size.toPrecision(6))),
    mirrored: dot(cross(up, out), spot.tangent) < 0,
  };
}

/** What a kind of projector has where another was: the same place, upright, as large. */
export function become(on: Projector, kind: ProjectorKind, subject: Subject): Projector {
  if (on.kind === kind) return on;
  const { scale, partner, not } = on;
  const base = { scale, ...(partner && { partner }), ...(not && { not }) };
  const { at, facing, up } = stanceOf(on, subject);
  const size = diagonalOf(subject.mesh);
  switch (kind) {
    case 'flat':
      return { ...base, ...flatAt(at, facing, up, scale), ...base };
    case 'folded':
      return {
        ...base,
        kind,
        at: place(at),
        facing: direction(facing),
        up: direction(up),
        reach: round(size / 4, 1e4),
      };
    case 'round': {
      // About the middle of the model, along what lies most across the view: up, or the longest way.
      const { low, high } = boxOfMesh(subject.mesh);
      const middle: Vec = [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, (low[2] + high[2]) / 2];
      const axis: Vec =
        Math.abs(up[1]) > 0.7 && high[1] - low[1] > Math.max(high[0] - low[0], high[2] - low[2]) ? UP : [1, 0, 0];
      const foot = plus(middle, axis, dot(minus(at, middle), axis));
      return {
        ...base,
        kind,
        at: place(foot),
        axis: direction(axis),
        facing: direction(upright(minus(at, foot), axis)),
      };
    }
    case 'along': {
      // Waterlines and frames, where it is nearly one.
      const axis = AXES.find((one) => Math.abs(dot(one, up)) > 0.8);
      const normal = axis ?? unit(up);
      const line = { by: 'cut' as const, normal: direction(normal), offset: round(dot(at, normal), 1e4) };
      return { ...base, kind, line, reach: round(size / 10, 1e4) };
    }
  }
}

/** Where a projector's middle lies on the model, out of the surface there, and what is up. */
export function stanceOf(on: Projector, subject: Subject): { at: Three; facing: Three; up: Three } {
  const near = (to: Vec) => {
    const found = nearestOn(subject, paintedOf(subject, on.not), to);
    return found && { at: found.place, facing: faceNormal(subject.mesh, found.triangle) ?? ([0, 0, 1] as Three) };
  };
  switch (on.kind) {
    case 'flat':
    case 'folded': {
      const facing = unit(on.facing);
      return { at: [...on.at], facing, up: upright(on.up, facing) };
    }
    case 'round': {
      const facing = upright(on.facing, unit(on.axis));
      const found = near(plus(on.at, facing, on.radius ?? diagonalOf(subject.mesh)));
      return { at: found?.at ?? [...on.at], facing, up: unit(on.axis) };
    }
    case 'along': {
      const { line } = on;
      if (line.by === 'places') {
        const facing = unit(line.facing);
        const [from, to] = [line.places[0], line.places[line.places.length - 1]];
        const middle = line.places[Math.floor((line.places.length - 1) / 2)];
        const along = minus(to, from);
        return { at: [...middle], facing, up: upright(cross(facing, along), facing) };
      }
      const normal = unit(line.normal);
      const [longest] = linesOf(on, subject).sort((a, b) => b.length - a.length);
      if (!longest) return { at: [...plus([0, 0, 0], normal, line.offset)], facing: [0, 0, 1], up: [...normal] };
      const piece = longest.pieces[Math.floor(longest.pieces.length / 4)];
      const facing = faceNormal(subject.mesh, piece.triangle) ?? ([0, 0, 1] as Three);
      return { at: [...piece.from], facing, up: upright(normal, facing) };
    }
  }
}

/** The point of a flat or folded projector's plane before a place of the model, in units of the plane. */
export function fromPlane(on: ProjectorOf<'flat'> | ProjectorOf<'folded'>, at: Vec): { x: number; y: number } {
  const facing = unit(on.facing);
  const up = upright(on.up, facing);
  const by = minus(at, on.at);
  return { x: dot(by, cross(up, facing)) / on.scale, y: -dot(by, up) / on.scale };
}

/** Where a point of a projector's plane lies before it is brought to the surface: on the plane itself; null where it has none. */
export function onPlane(on: Projector, u: number, v: number): Three | null {
  if (on.kind !== 'flat' && on.kind !== 'folded') return null;
  const facing = unit(on.facing);
  const up = upright(on.up, facing);
  return plus(plus(on.at, cross(up, facing), u * on.scale), up, -v * on.scale);
}

/** A flat or folded projector that was slid to another place of the surface, as upright as it was. */
export const slidTo = <P extends ProjectorOf<'flat'> | ProjectorOf<'folded'>>(on: P, at: Vec, normal: Vec): P => ({
  ...on,
  at: place(at),
  facing: direction(unit(normal)),
  up: direction(upright(on.up, unit(normal))),
});

/**
 * A projector whose middle was slid to a place of the surface; one that looks along an axis of the model goes on looking there.
 * @param turns whether it turns with the surface
 */
export function slid(on: Projector, at: Vec, normal: Vec, turns = viewOf(on) === null): Projector {
  switch (on.kind) {
    case 'flat':
    case 'folded':
      return turns ? slidTo(on, at, normal) : { ...on, at: place(at) };
    case 'round': {
      const axis = unit(on.axis);
      const foot = plus(on.at, axis, dot(minus(at, on.at), axis));
      return { ...on, at: place(foot), facing: direction(upright(minus(at, foot), axis)) };
    }
    case 'along': {
      const { line } = on;
      if (line.by === 'cut') return { ...on, line: { ...line, offset: round(dot(at, line.normal), 1e4) } };
      const by = minus(at, line.places[Math.floor((line.places.length - 1) / 2)]);
      return { ...on, line: { ...line, places: line.places.map((p) => place(plus(p, by))) } };
    }
  }
}

/** The side of the model from which a flat projector looks; null: another direction, or another kind. */
export const viewOf = (on: Projector): View | null =>
  on.kind === 'flat'
    ? (sides.find((view) => VIEWS[view].every((v, k) => Math.abs(v - on.facing[k]) < 1e-4)) ?? null)
    : null;

/** What is up becomes the model's own up, or, on what looks up or down, its forward. */
export function levelled<P extends ProjectorOf<'flat'> | ProjectorOf<'folded'>>(on: P): P {
  const facing = unit(on.facing);
  const up = upright(Math.abs(facing[1]) > 0.9 ? [1, 0, 0] : UP, facing);
  return { ...on, up: direction(up) };
}

/** Directions from which a model is looked at, by name: x forward, y up, z to starboard. */
export const VIEWS = {
  starboard: [0, 0, 1],
  port: [0, 0, -1],
  bow: [1, 0, 0],
  stern: [-1, 0, 0],
  top: [0, 1, 0],
  bottom: [0, -1, 0],
} as const satisfies Record<string, Vec>;
export type View = keyof typeof VIEWS;
const sides = Object.keys(VIEWS) as View[];

/** A flat projector that looks at the model from one side, its middle on what is seen there at the place where it was. */
export function seenFrom(on: ProjectorOf<'flat'>, from: Vec, subject: Subject): ProjectorOf<'flat'> {
  const turned = levelled({ ...on, facing: direction(unit(from)) });
  const facing = unit(turned.facing);
  let front = -Infinity;
  for (const t of paintedOf(subject, on.not)) {
    const [a, b, c] = cornersOfTriangle(subject.mesh, t).map((p) => ({
      ...fromPlane(turned, p),
      depth: dot(p, facing),
    }));
    const area = (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
    if (area === 0) continue;
    const v = (-a.x * (c.y - a.y) + a.y * (c.x - a.x)) / area;
    const w = (-(b.x - a.x) * a.y + (b.y - a.y) * a.x) / area;
    if (v < 0 || w < 0 || v + w > 1) continue;
    front = Math.max(front, a.depth + (b.depth - a.depth) * v + (c.depth - a.depth) * w);
  }
  if (!Number.isFinite(front)) return turned;
  return { ...turned, at: place(plus(turned.at, facing, front - dot(turned.at, facing))) };
}

const found = new WeakMap<object, ReturnType<typeof symmetryPlane>>();

/** The plane between a model's two sides: the template's own, else the one that is found; null: its sides are not alike. */
export function planeBetween({ plane, mesh }: Pick<Template, 'plane' | 'mesh'>): SymmetryPlane | null {
  if (plane) return plane;
  if (!found.has(mesh)) found.set(mesh, symmetryPlane(mesh));
  return found.get(mesh) ?? null;
}

/** A projector's partner on the other side of a plane. */
export const partnerOver = ({ normal, offset }: SymmetryPlane, readable: boolean): Projector['partner'] => ({
  normal: [...normal],
  offset,
  readable,
});
