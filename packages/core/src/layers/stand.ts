/** Layers put on the model, and taken back to a sheet: they look there as they did, as far as a plane and a sheet agree. */
import { scaledBy } from '../livery/arrange.ts';
import { dataOf, type Layer } from '../livery/layer.ts';
import { sheetNamed, type Template } from '../livery/template.ts';
import { standOn, stanceOf } from '../projectors/place.ts';
import { nearestOn } from '../surface/cutLine.ts';
import { partOfTriangle } from '../surface/locate.ts';
import { SheetSurface } from '../surface/surface.ts';
import { paintedOf } from '../projectors/projection.ts';
import { cornersOfTriangle } from '../surface/triangles.ts';
import { cross, dot, plus, type Vec } from '../surface/vectors.ts';
import { turnedWithin } from './data.ts';

/** Whether a layer is drawn in a plane that can be put on the model. */
export const canStand = (layer: Layer): boolean => !dataOf(layer).onModel && !dataOf(layer).ofSheet;

/** The other hand of a layer, where a sheet is laid out mirrored. */
const otherHand = (layer: Layer): Record<string, unknown> =>
  dataOf(layer).mirrored?.(layer, { across: 'x', readable: false }) ?? {};

/**
 * A layer of a sheet as it is on the model, its own place brought to where a point of the sheet lies.
 * @returns null where the sheet has nothing of the model
 */
export function stoodUp(layer: Layer, surface: SheetSurface, at: { x: number; y: number }): Layer | null {
  const found = standOn(surface, at.x, at.y);
  if (!found) return null;
  const moved = 'x' in layer ? { x: 0, y: 0 } : {};
  const put = { ...layer, ...moved, ...(found.mirrored && otherHand(layer)) } as Layer;
  // What is up on a mark is up on its plane: it stands there unturned.
  const { turns } = dataOf(layer);
  if (!turns) return { ...put, on: found.on } as Layer;
  const turn = ((put as unknown as Record<string, number>)[turns] * Math.PI) / 180;
  const right = cross(found.on.up, found.on.facing);
  const up = plus(plus([0, 0, 0], found.on.up, Math.cos(turn)), right, Math.sin(turn));
  return { ...put, [turns]: 0, on: { ...found.on, up } } as Layer;
}

/**
 * A layer on the model as it is on the sheet that wears its place: as large and as much turned as there.
 * @returns null where it lies on nothing that has a sheet
 */
export function laidOut(layer: Layer, template: Template): { sheet: string; layer: Layer } | null {
  const { on, across: _across, ...own } = layer;
  if (!on) return null;
  const stance = stanceOf(on, template);
  const found = nearestOn(template, paintedOf(template, on.not), stance.at);
  const sheet = found && partOfTriangle(template, found.triangle)?.sheet;
  if (!found || !sheet) return null;
  const { indices, uvs } = template.mesh;
  const { width, height } = sheetNamed(template, sheet);
  const shares = sharesOf(found.place, cornersOfTriangle(template.mesh, found.triangle));
  const uv = (c: 0 | 1) =>
    shares.reduce((sum, share, k) => sum + share * uvs[indices[found.triangle * 3 + k] * 2 + c], 0);
  const at = { x: uv(0) * width, y: uv(1) * height };
  const there = standOn(new SheetSurface(template, sheet), at.x, at.y);
  if (!there) return null;
  const larger = on.scale / there.on.scale;
  // How far the plane's up is turned from what is up on the sheet there.
  const right = cross(there.on.up, there.on.facing);
  const turned = (Math.atan2(dot(stance.up, right), dot(stance.up, there.on.up)) * 180) / Math.PI;
  const sized = scaledBy(own as Layer, larger);
  const { turns } = dataOf(layer);
  const moved = 'x' in sized ? turnedAbout(sized, at, turned) : {};
  const placed = {
    ...sized,
    ...moved,
    ...(turns && { [turns]: turnedWithin((sized as unknown as Record<string, number>)[turns] + turned) }),
  } as Layer;
  return { sheet, layer: there.mirrored ? ({ ...placed, ...otherHand(placed) } as Layer) : placed };
}

/** Where a layer's own place goes when its plane is turned, and put at a place of the sheet. */
function turnedAbout(layer: { x: number; y: number }, at: { x: number; y: number }, degrees: number) {
  const [cos, sin] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return { x: at.x + layer.x * cos - layer.y * sin, y: at.y + layer.x * sin + layer.y * cos };
}

/** How much of each corner of a triangle is at a place on it. */
function sharesOf(p: Vec, [a, b, c]: readonly Vec[]): readonly [number, number, number] {
  const n = cross([b[0] - a[0], b[1] - a[1], b[2] - a[2]], [c[0] - a[0], c[1] - a[1], c[2] - a[2]]);
  const of = (q: Vec, r: Vec) =>
    dot(cross([q[0] - p[0], q[1] - p[1], q[2] - p[2]], [r[0] - p[0], r[1] - p[1], r[2] - p[2]]), n) / (dot(n, n) || 1);
  const [u, v] = [of(b, c), of(c, a)];
  return [u, v, 1 - u - v];
}
