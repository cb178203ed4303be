/** Layers that lie on the model, on another one. */
import type { Layer, LayerOf } from '../livery/layer.ts';
import type { Projector } from '../livery/projector.ts';
import { partnerOver, place, planeBetween } from '../projectors/place.ts';
import type { SymmetryPlane } from '../surface/symmetryPlane.ts';
import { directionOf } from '../surface/baked/flow.ts';
import { boxOfMesh, diagonalOf } from '../surface/triangles.ts';
import { cross, dot, plus, unit, upright, type Vec } from '../surface/vectors.ts';
import { affineBack, affinely, type Pair } from './fit.ts';
import type { Points } from './points.ts';

type Three = [number, number, number];

/** As directions are written down. */
const direction = (d: Vec): Three => {
  const long = unit(d);
  return [0, 1, 2].map((c) => Math.round(long[c] * 1e6) / 1e6 || 0) as Three;
};
const short = (v: number): number => Number(v.toPrecision(7));

/** Parts of the old model by the keys that the new one has for them. */
const partsOf = ({ fitting }: Points, keys: readonly string[]): string[] =>
  fitting.pairs.filter(({ from }) => from && keys.includes(from.key)).map(({ part }) => part.key);

/** The projector on the new model: in the corresponding place, as large as what it lies on became. @returns null: nothing comes from where it lies */
export function projectorOn(on: Projector, points: Points): Projector | null {
  const { partner, not, ...own } = on;
  const placed = placedOn(own as Projector, points);
  if (!placed) return null;
  const left = not && partsOf(points, not);
  const plane =
    partner &&
    (planeBetween(points.now as { plane?: SymmetryPlane; mesh: Points['now']['mesh'] }) ?? planeOn(partner, points));
  return {
    ...placed,
    ...(plane && partner && { partner: stays(points) ? partner : partnerOver(plane, partner.readable) }),
    ...(left && left.length > 0 && { not: left }),
  };
}

const stays = (points: Points): boolean => points.fitting.pairs.every((pair) => points.stays(pair));

function placedOn(on: Projector, points: Points): Projector | null {
  switch (on.kind) {
    case 'flat':
    case 'folded': {
      const found = points.anchor(on.at, on.facing);
      if (!found) return null;
      if (points.stays(found.pair)) return on;
      const facing = unit(on.facing);
      const up = upright(on.up, facing);
      const grown = grownBy(points, found.pair, [cross(up, facing), up]);
      const base = {
        ...{
          at: place(found.at),
          facing: direction(points.direction(on.facing)),
          up: direction(points.direction(on.up)),
        },
        scale: short(on.scale * grown),
      };
      if (on.kind === 'folded') return { ...on, ...base, reach: short(on.reach * grown) };
      const deep = points.longer(found.pair, facing);
      return { ...on, ...base, ...(on.depth !== undefined && { depth: short(on.depth * deep) }) };
    }
    case 'round': {
      const axis = unit(on.axis);
      const facing = upright(on.facing, axis);
      const found = points.anchor(plus(on.at, facing, on.radius ?? 0), facing);
      if (!found) return null;
      if (points.stays(found.pair)) return on;
      const grown = grownBy(points, found.pair, [facing, cross(axis, facing)]);
      return {
        ...on,
        at: place(affinely(points.back(found.pair), on.at)),
        axis: direction(points.direction(axis)),
        facing: direction(points.direction(facing)),
        scale: short(on.scale * grownBy(points, found.pair, [axis, cross(axis, facing)])),
        ...(on.radius !== undefined && { radius: short(on.radius * grown) }),
      };
    }
    case 'along': {
      const { line } = on;
      if (line.by === 'cut') {
        const { pair, by } = wholeOf(points);
        if (points.stays(pair)) return on;
        const normal = unit(line.normal);
        const turned = unit(points.direction(normal));
        const offset = dot(turned, affinely(by, plus([0, 0, 0], normal, line.offset)));
        const grown = grownBy(points, pair, [normal, upright([1, 0, 0], normal)]);
        return {
          ...on,
          line: { by: 'cut', normal: direction(turned), offset: place([offset, 0, 0])[0] },
          ...{ scale: short(on.scale * grown), reach: short(on.reach * grown) },
        };
      }
      const found = line.places.map((at) => points.anchor(at, null));
      const kept = found.filter((one) => one !== null);
      if (kept.length < 2) return null;
      if (kept.length === found.length && kept.every(({ pair }) => points.stays(pair))) return on;
      const facing = unit(line.facing);
      const grown = grownBy(points, kept[0].pair, [
        upright([1, 0, 0], facing),
        cross(facing, upright([1, 0, 0], facing)),
      ]);
      return {
        ...on,
        line: { ...line, places: kept.map(({ at }) => place(at)), facing: direction(points.direction(facing)) },
        ...{ scale: short(on.scale * grown), reach: short(on.reach * grown) },
      };
    }
  }
}

/** How much larger what lies in a plane became, by two directions in it. */
const grownBy = (points: Points, pair: Pair, [a, b]: readonly [Vec, Vec]): number =>
  Math.sqrt(points.longer(pair, a) * points.longer(pair, b));

/** What goes over the whole model goes as most of its parts do. */
function wholeOf(points: Points): { pair: Pair; by: ReturnType<typeof affineBack> } {
  const { pairs } = points.fitting;
  const kinds: Pair['by'][] = ['as it lies', 'the whole', 'the part'];
  const many = (kind: Pair['by']) => pairs.filter(({ by, from }) => from && by === kind).length;
  // One by itself says nothing of the others.
  const kind = many('the whole') > many('as it lies') ? kinds[1] : kinds[0];
  const pair = pairs.find(({ by, from }) => from && by === kind) ?? pairs[0];
  return { pair, by: points.back(pair) };
}

function planeOn({ normal, offset }: { normal: Three; offset: number }, points: Points): SymmetryPlane {
  const turned = unit(points.direction(normal));
  const { by } = wholeOf(points);
  return { normal: turned, offset: dot(turned, affinely(by, plus([0, 0, 0], unit(normal), offset))) };
}

const AXES = { length: [1, 0, 0], height: [0, 1, 0], width: [0, 0, 1] } as const;

/** A belt between the corresponding planes. @returns null when they would no longer lie along an axis */
export function beltOn(layer: LayerOf<'belt'>, points: Points): LayerOf<'belt'> | null {
  const { pair, by } = wholeOf(points);
  if (points.stays(pair)) return layer;
  const axis = AXES[layer.along];
  const turned = points.direction(axis);
  const along = (['length', 'height', 'width'] as const).find((one) => Math.abs(dot(AXES[one], turned)) > 0.999);
  if (!along) return null;
  // Through the middle of the model: what is off the axis says nothing.
  const { low, high } = boxOfMesh(points.fitting.old.mesh);
  const middle: Vec = [0, 1, 2].map((c) => (low[c] + high[c]) / 2) as Three;
  const planes = [layer.from, layer.to].map((at) => {
    const on = plus(middle, axis, at - dot(middle, axis));
    return short(dot(AXES[along], affinely(by, on)));
  });
  const grown = points.longer(pair, axis);
  return { ...layer, along, from: Math.min(...planes), to: Math.max(...planes), soft: short(layer.soft * grown) };
}

/** Wear by the corresponding directions and from the corresponding place. */
export function wearOn(layer: LayerOf<'wear'>, points: Points): LayerOf<'wear'> {
  const { pair } = wholeOf(points);
  if (points.stays(pair)) return layer;
  const larger = diagonalOf(points.now.mesh) / diagonalOf(points.fitting.old.mesh);
  const by = points.fitting.fit.size === 'true' ? 1 : larger;
  const [x, y, z] = points.direction(directionOf(layer.heading, layer.rise));
  const degrees = (v: number) => Math.round((v * 180 * 1e4) / Math.PI) / 1e4;
  const from = points.anchor([layer.ahead, layer.height, layer.starboard], null)?.at;
  return {
    ...layer,
    size: Math.min(1000, Math.max(0.0001, short(layer.size * by))),
    reach: Math.min(10_000, Math.max(0.001, short(layer.reach * by))),
    heading: degrees(Math.atan2(z, x)) || 0,
    rise: degrees(Math.asin(Math.max(-1, Math.min(1, y)))),
    ...(from && { ahead: short(from[0]), height: short(from[1]), starboard: short(from[2]) }),
  };
}

/** A layer that lies on the model, on the other one. @returns null: it has no place there */
export function onNewModel(layer: Layer, points: Points): Layer | null {
  if (layer.kind === 'belt') return beltOn(layer, points);
  if (layer.kind === 'wear') return wearOn(layer, points);
  const on = layer.on && projectorOn(layer.on, points);
  return on ? ({ ...layer, on } as Layer) : null;
}
