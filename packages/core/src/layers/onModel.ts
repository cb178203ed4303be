/** Layers that are drawn in a plane of their own and brought to the model by a projector. */
import { holdLatest } from '../held.ts';
import { partnerOf } from '../livery/arrange.ts';
import { dataOf, type Layer } from '../livery/layer.ts';
import { fillIn } from '../livery/livery.ts';
import type { Projector } from '../livery/projector.ts';
import { projectionsOf } from '../projectors/index.ts';
import { Footprint, type Projection } from '../projectors/projection.ts';
import { TILE } from '../raster/image.ts';
import { eachRun } from '../surface/fields.ts';
import { GUTTER, type SheetSurface } from '../surface/surface.ts';
import type { Box, Kind, LayerEnv, Region } from './kind.ts';
import { PlanePicture } from './planePicture.ts';

/** One place of a layer on the model: how its plane lies there, what is drawn in it, and within what box of the plane. */
interface Stand {
  projection: Projection;
  bounds: Box | null;
  picture: PlanePicture;
  /** For each triangle of the mesh 1 where something of it can be seen. */
  reached: Uint8Array;
}

/** What is worked out of layers on a model, by what they look like and where they lie; and pictures by what they look like. */
const known = new WeakMap<object, Map<string, Stand[]>>();
const pictures = new Map<string, PlanePicture>();
/** Of one model; while something is dragged there is a new one at every step. */
const MOST_STANDS = 60;
const MOST_PICTURES = 40;

/** Numbers of fonts and pictures, so that another file of one name is another look. */
const numbers = new WeakMap<object, number>();
let numbered = 0;
function numberOf(file: object): number {
  const found = numbers.get(file) ?? ++numbered;
  numbers.set(file, found);
  return found;
}

/** What a layer's picture in its plane depends on, but for what is outside it. */
function lookOf(layer: Layer, env: LayerEnv): string {
  const { id: _id, name: _name, parts: _parts, mask: _mask, filters: _filters, on: _on, ...own } = layer;
  const text = layer.kind === 'lettering' ? fillIn(layer.text, env.particulars) : '';
  return JSON.stringify([own, text]);
}

/** Colours of the scheme, the file of a font, the pixels of a picture. */
function outsideOf(layer: Layer, env: LayerEnv): string {
  let out = '';
  for (const paint of dataOf(layer).paints(layer)) out += `${env.colour(paint).join()};`;
  if (layer.kind === 'lettering') out += numberOf(env.font(layer.font));
  if (layer.kind === 'decal') out += numberOf(env.picture(layer));
  return out;
}

/** No triangle that means anything is larger than this many units of a plane. */
const FAR = 1e7;

/** What was worked out last for a layer, and from what outside it. */
const last = new WeakMap<Layer, { outside: string; particulars: object; stands: Stand[] }>();

function standsOf(layer: Layer, on: Projector, kind: Kind<Layer>, env: LayerEnv): Stand[] {
  const outside = outsideOf(layer, env);
  const before = last.get(layer);
  if (before?.outside === outside && before.particulars === env.particulars) return before.stands;
  const { subject } = env.surface(1);
  let own = known.get(subject.mesh);
  if (!own) known.set(subject.mesh, (own = new Map<string, Stand[]>()));
  const look = lookOf(layer, env) + outside;
  const key = JSON.stringify(on) + look;
  const stands = own.get(key) ?? makeStands(layer, on, kind, env, look);
  holdLatest(own, key, stands, MOST_STANDS);
  last.set(layer, { outside, particulars: env.particulars, stands });
  return stands;
}

function makeStands(layer: Layer, on: Projector, kind: Kind<Layer>, env: LayerEnv, look: string): Stand[] {
  const { own, partner } = projectionsOf(on, env.surface(1).subject);
  const stand = (projection: Projection, drawn: Layer, name: string): Stand => {
    const bounds = kind.bounds(drawn, env);
    const picture = pictures.get(name) ?? new PlanePicture((region, out) => kind.draw(drawn, region, env, out));
    holdLatest(pictures, name, picture, MOST_PICTURES);
    const reached = reachedOf(projection, bounds, (region) => kind.reaches?.(drawn, region) !== false);
    return { projection, bounds, picture, reached };
  };
  const stands = [stand(own, layer, look)];
  // In the mirror x goes the other way: what is mirrored there is the layer itself, what can be read is its partner at x = 0.
  if (partner && on.partner) {
    const other = on.partner.readable ? partnerOf(layer, { across: 'x', at: 0 }, true) : null;
    stands.push(other ? stand(turned(partner), other, `${look} partner`) : stand(partner, layer, look));
  }
  return stands;
}

const turnedKnown = new WeakMap<Projection, Projection>();

/** The same plane with x the other way round. */
function turned(of: Projection): Projection {
  const found = turnedKnown.get(of);
  if (found) return found;
  const boxes = of.boxes.slice();
  for (let o = 0; o < boxes.length; o += 4)
    if (boxes[o] <= boxes[o + 2]) [boxes[o], boxes[o + 2]] = [-boxes[o + 2], -boxes[o]];
  const made: Projection = {
    boxes,
    onto: (t, plane) => of.onto(t, plane),
    at(x, y, out) {
      const share = of.at(x, y, out);
      out.u = (out.round > 0 ? out.round : 0) - out.u;
      out.rightU = -out.rightU;
      out.downU = -out.downU;
      return share;
    },
  };
  turnedKnown.set(of, made);
  return made;
}

/** Which triangles show something, by the box of the plane that each lies in. */
function reachedOf({ boxes }: Projection, bounds: Box | null, reaches: (region: Region) => boolean): Uint8Array {
  const reached = new Uint8Array(boxes.length / 4);
  for (let t = 0, o = 0; t < reached.length; t++, o += 4) {
    const [left, top, right, bottom] = [boxes[o], boxes[o + 1], boxes[o + 2], boxes[o + 3]];
    if (!(left <= right)) continue;
    if (bounds && (left > bounds.right || right < bounds.left || top > bounds.bottom || bottom < bounds.top)) continue;
    if (!(right - left < FAR && bottom - top < FAR)) continue;
    // As so many samples as that the box is held, in a few of them.
    const step = Math.max(right - left, bottom - top, 1e-6);
    reached[t] = reaches({ x: left - step, y: top - step, width: 3, height: 3, step }) ? 1 : 0;
  }
  return reached;
}

/** What a layer can touch of a sheet at its own size: tiles, and the box about them all. */
interface Touched {
  tiles: Uint8Array;
  box: Box;
}
/** Surfaces that are let go of elsewhere are not held here. */
const touchedKnown = new WeakMap<Stand[], WeakMap<SheetSurface, Touched>>();

function touchedBy(stands: Stand[], surface: SheetSurface): Touched {
  const bySheet = touchedKnown.get(stands) ?? new WeakMap<SheetSurface, Touched>();
  touchedKnown.set(stands, bySheet);
  const found = bySheet.get(surface);
  if (found) return found;
  const [across, down] = [Math.ceil(surface.width / TILE), Math.ceil(surface.height / TILE)];
  const tiles = new Uint8Array(across * down);
  const box = { left: surface.width, top: surface.height, right: 0, bottom: 0 };
  const { triangle, corners } = surface.laid;
  for (let rank = 0; rank < triangle.length; rank++) {
    if (!stands.some(({ reached }) => reached[triangle[rank]])) continue;
    const [ax, ay, bx, by, cx, cy] = corners.subarray(rank * 6, rank * 6 + 6);
    const left = Math.max(0, Math.min(ax, bx, cx) - GUTTER - 1);
    const top = Math.max(0, Math.min(ay, by, cy) - GUTTER - 1);
    const right = Math.min(surface.width, Math.max(ax, bx, cx) + GUTTER + 1);
    const bottom = Math.min(surface.height, Math.max(ay, by, cy) + GUTTER + 1);
    if (left >= right || top >= bottom) continue;
    box.left = Math.min(box.left, left);
    box.top = Math.min(box.top, top);
    box.right = Math.max(box.right, right);
    box.bottom = Math.max(box.bottom, bottom);
    for (let y = Math.floor(top / TILE); y * TILE < bottom; y++)
      for (let x = Math.floor(left / TILE); x * TILE < right; x++) tiles[y * across + x] = 1;
  }
  const made = { tiles, box };
  bySheet.set(surface, made);
  return made;
}

/** The texels of the sheet that a layer on the model can touch; without size where it touches none. */
export function boundsOnModel(layer: Layer, on: Projector, kind: Kind<Layer>, env: LayerEnv): Box {
  const { box } = touchedBy(standsOf(layer, on, kind, env), env.surface(1));
  return box.left < box.right ? box : { left: 0, top: 0, right: 0, bottom: 0 };
}

/** Whether a layer on the model can touch a region of the sheet. */
export function reachesOnModel(layer: Layer, on: Projector, kind: Kind<Layer>, region: Region, env: LayerEnv): boolean {
  const surface = env.surface(1);
  const { tiles } = touchedBy(standsOf(layer, on, kind, env), surface);
  const [across, down] = [Math.ceil(surface.width / TILE), Math.ceil(surface.height / TILE)];
  const left = Math.max(0, Math.floor(region.x / TILE));
  const top = Math.max(0, Math.floor(region.y / TILE));
  const right = Math.min(across, Math.ceil((region.x + region.width * region.step) / TILE));
  const bottom = Math.min(down, Math.ceil((region.y + region.height * region.step) / TILE));
  for (let y = top; y < bottom; y++) for (let x = left; x < right; x++) if (tiles[y * across + x]) return true;
  return false;
}

/**
 * Draws a layer where its projector brings it: each texel by the mean of its own footprint on the layer's plane.
 * `out` as for a kind's own draw.
 */
export function drawOnModel(
  layer: Layer,
  on: Projector,
  kind: Kind<Layer>,
  region: Region,
  env: LayerEnv,
  out: Uint16Array,
): void {
  const surface = env.surface(region.step);
  const { triangle } = surface.laid;
  const foot = new Footprint();
  const mean = new Float64Array(4);
  for (const { projection, bounds, picture, reached } of standsOf(layer, on, kind, env)) {
    const left = bounds?.left ?? -Infinity;
    const top = bounds?.top ?? -Infinity;
    const right = bounds?.right ?? Infinity;
    const bottom = bounds?.bottom ?? Infinity;
    let [fresh, even] = [false, false];
    eachRun(
      surface,
      region,
      (plane, rank) => {
        const t = triangle[rank];
        if (!reached[t]) return false;
        even = projection.onto(t, plane);
        fresh = true;
        return true;
      },
      (first, x0, y, count) => {
        for (let k = 0; k < count;) {
          const x = x0 + k;
          const i = first + k;
          const share = projection.at(x, y, foot);
          if (share <= 0) {
            k++;
            continue;
          }
          // A texel that sees more of the plane than any triangle that means anything sees nothing.
          if (!(farthestOf(foot) <= FAR)) {
            k++;
            continue;
          }
          // Where texels see more or less of it than their neighbours each is looked at as it sees it, wherever a region begins.
          if (fresh) {
            picture.look(foot);
            fresh = !even;
          }
          const wide = (Math.abs(foot.rightU) + Math.abs(foot.downU)) / 2;
          const high = (Math.abs(foot.rightV) + Math.abs(foot.downV)) / 2;
          // Some of the run at once, where it is of one texel or of none.
          const many = even ? Math.min(count - k, STRETCH) : 1;
          const farU = foot.u + foot.rightU * (many - 1);
          const farV = foot.v + foot.rightV * (many - 1);
          const lowU = Math.min(foot.u, farU) - wide;
          const highU = Math.max(foot.u, farU) + wide;
          const lowV = Math.min(foot.v, farV) - high;
          const highV = Math.max(foot.v, farV) + high;
          const wraps = foot.round > 0 && (lowU < picture.hair || highU > foot.round - picture.hair);
          if (highV < top - 1 || lowV > bottom + 1 || (foot.round === 0 && (highU < left - 1 || lowU > right + 1))) {
            k += many;
            continue;
          }
          const all = wraps ? null : picture.over(lowU, lowV, highU, highV);
          if (all) {
            if (all[3] > 0) for (let n = 0; n < many; n++) putMean(out, (i + n) * 4, all, share);
            k += many;
            continue;
          }
          for (let n = 0; n < many; n++) {
            picture.mean(foot, mean);
            if (mean[3] > 0) putMean(out, (i + n) * 4, mean, share);
            foot.u += foot.rightU;
            foot.v += foot.rightV;
          }
          k += many;
        }
      },
    );
  }
}

/** How much of its plane a texel sees, both its sides together; NaN where nobody can say. */
const farthestOf = ({ rightU, rightV, downU, downV }: Footprint): number =>
  Math.abs(rightU) + Math.abs(rightV) + Math.abs(downU) + Math.abs(downV);

/** Samples of a run that are looked at together. */
const STRETCH = 16;

/** Puts a premultiplied texel (0..65535) over what is there, as far as its share goes. */
function putMean(out: Uint16Array, o: number, texel: ArrayLike<number>, share: number): void {
  const [r, g, b, a] = [texel[0], texel[1], texel[2], texel[3]];
  const rest = 1 - (a * share) / 65535;
  out[o] = (r * share + out[o] * rest + 0.5) | 0;
  out[o + 1] = (g * share + out[o + 1] * rest + 0.5) | 0;
  out[o + 2] = (b * share + out[o + 2] * rest + 0.5) | 0;
  out[o + 3] = (a * share + out[o + 3] * rest + 0.5) | 0;
}
