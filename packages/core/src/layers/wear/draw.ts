import { isFlow } from '../../livery/fields.ts';
import type { LayerOf } from '../../livery/layer.ts';
import type { MeshData } from '../../livery/template.ts';
import { Noise3, Rough3 } from '../../raster/noise3.ts';
import { directionOf, FLOW_VALUES } from '../../surface/baked/flow.ts';
import { eachRun } from '../../surface/fields.ts';
import { boxOfMesh } from '../../surface/triangles.ts';
import { acrossNormal } from '../../surface/across.ts';
import { ramp } from '../band.ts';
import { putOver, type Kind } from '../kind.ts';
import { WEAR_LOOKS, type WearHow } from './data.ts';

type Wear = LayerOf<'wear'>;

/** What is known of a sample: place and normal on the model, its size there in metres, and the fields that its wear goes by. */
interface Spot {
  x: number;
  y: number;
  z: number;
  nx: number;
  ny: number;
  nz: number;
  foot: number;
  /** As many as the fields have numbers. */
  field: Float64Array;
}

/** Coverage 0..1 of a sample. */
type Cover = (spot: Spot) => number;

const within = (value: number): number => (value < 0 ? 0 : value > 1 ? 1 : value);

/** Of a layer with nothing to it where a share is nothing, and all of it where the share is whole: in patches between. */
interface Patches {
  /** @param share 0..1, how much the place is worn; @param noise 0..1 */
  cover(share: number, noise: number): number;
  /** Whether patches can make a difference there: else any noise does. */
  torn(share: number): boolean;
}

/**
 * @param amount 0..100: none at 0; at 100 wherever there is any share
 * @param rough how much the noise tears what the share alone would make even
 */
function patchesOf({ amount, soft }: Wear, rough: number): Patches {
  const wide = 0.04 + (soft / 100) * 0.8;
  const begins = 1 + (rough + wide) / 2;
  const at = begins - (amount / 100) * (begins + (rough + wide) / 2);
  return {
    cover(share, noise) {
      const edge = share < 0.1 ? share * 10 : 1;
      return edge <= 0 ? 0 : ramp((share + (noise - 0.5) * rough - at) / wide) * edge;
    },
    torn: (share) => share > 0 && share + rough / 2 > at - wide / 2,
  };
}

/** Wears by shares: a rule of its own for each, torn by the same noise. */
function byShare(layer: Wear, rough: number, stretch: number, shareOf: (spot: Spot) => number): Cover {
  const patches = patchesOf(layer, rough);
  const noise = new Rough3(layer.seed);
  const by = 1 / layer.size;
  return (spot) => {
    const share = shareOf(spot);
    if (!patches.torn(share)) return 0;
    return patches.cover(share, noise.at(spot.x * by, spot.y * by * stretch, spot.z * by, spot.foot * by));
  };
}

/** How far a place looks along a layer's direction: -1..1. */
function facing({ heading, rise }: Wear): (spot: Spot) => number {
  const [dx, dy, dz] = directionOf(heading, rise);
  return ({ nx, ny, nz }) => nx * dx + ny * dy + nz * dz;
}

const lowest = new WeakMap<MeshData, number>();

/** The height of a model's lowest corner: looked for once, not for each tile. */
function lowestOf(mesh: MeshData): number {
  const low = lowest.get(mesh) ?? boxOfMesh(mesh).low[1];
  lowest.set(mesh, low);
  return low;
}

const MAKE: Readonly<Record<WearHow, (layer: Wear, mesh: MeshData) => Cover>> = {
  /** On what looks where it comes from, and in hollows that do not look away from it. */
  dust(layer) {
    const towards = facing(layer);
    return byShare(layer, 0.5, 1, (spot) => {
      const up = towards(spot);
      return within(0.75 * Math.max(0, up) + 0.6 * spot.field[0] * within((up + 0.4) / 0.8));
    });
  },
  /** From the lowest point up, higher where it is hollow; drawn out upwards. */
  grime(layer, mesh) {
    const low = lowestOf(mesh);
    return byShare(layer, 0.7, 0.35, ({ y, field }) => {
      const left = 1 - (y - low) / layer.reach;
      return left <= 0 ? 0 : within(left * (0.8 + 0.5 * field[0]));
    });
  },
  /** Along the way from where it began: the same across its width all the way down, as far as each runs. */
  streaks(layer) {
    const towards = facing(layer);
    const lane = new Rough3(layer.seed);
    const longest = new Noise3(layer.seed + 101);
    const by = 1 / layer.size;
    const wide = 0.06 + (layer.soft / 100) * 0.5;
    const at = 1 + wide / 2 - (layer.amount / 100) * (1 + wide);
    return (spot) => {
      const { foot, field } = spot;
      const [fx, fy, fz, far] = field;
      // Where it is level nothing runs; where it overhangs what ran falls off.
      const along = towards(spot);
      const steep = within((1 - along * along) * 6 - 0.4) * within((0.5 - along) * 4);
      if (steep <= 0 || far <= 0) return 0;
      const reach = layer.reach * (0.3 + 0.7 * longest.at(fx * by * 0.6, fy * by * 0.6, fz * by * 0.6));
      if (far >= reach) return 0;
      const here = ramp((lane.at(fx * by, fy * by, fz * by, foot * by) - at) / wide);
      const left = 1 - far / reach;
      return here * steep * left * (2 - left);
    };
  },
  /** On edges, crisp. */
  chips: (layer) => byShare(layer, 0.9, 1, ({ field }) => field[0]),
  /** Thin lines in three directions across the whole, more of them where it is worn. */
  scratches(layer) {
    const presence = new Rough3(layer.seed);
    const runs = [0, 1, 2].map((k) => {
      const dice = new Noise3(layer.seed + 7 * k);
      const [x, y, z] = [0, 1, 2].map((c) => dice.at(k, c, 5) - 0.5);
      const long = Math.sqrt(x * x + y * y + z * z) || 1;
      return {
        ...{ along: [x / long, y / long, z / long], across: acrossNormal(x / long, y / long, z / long) },
        noise: new Noise3(layer.seed + 31 * (k + 1)),
      };
    });
    const by = 1 / layer.size;
    const fine = by * 12;
    const thick = 0.03 + (layer.soft / 100) * 0.05;
    return (spot) => {
      const { x, y, z, foot, field } = spot;
      const worn = within((layer.amount / 100) * (0.6 + 0.8 * field[0]));
      const there = ramp((worn - presence.at(x * by, y * by, z * by, foot * by)) / 0.3);
      if (there <= 0) return 0;
      let most = 0;
      for (const { along, across, noise } of runs) {
        const n = noise.at(
          (x * along[0] + y * along[1] + z * along[2]) * by,
          (x * across[0] + y * across[1] + z * across[2]) * fine,
          (x * across[3] + y * across[4] + z * across[5]) * fine,
        );
        const off = n < 0.5 ? 0.5 - n : n - 0.5;
        // A line is as thin as a sample at least, and then only a share of it.
        const wide = Math.max(thick, foot * fine * 0.5);
        most = Math.max(most, off < wide ? ((wide - off) / wide) * (thick / wide) : 0);
      }
      return most * there;
    };
  },
  /** A cone from its place along its direction, thinner the farther. */
  soot(layer) {
    const [dx, dy, dz] = directionOf(layer.heading, layer.rise);
    return byShare(layer, 0.6, 1, (spot) => {
      const [x, y, z] = [spot.x - layer.ahead, spot.y - layer.height, spot.z - layer.starboard];
      const along = x * dx + y * dy + z * dz;
      const left = along < 0 ? 1 + along / layer.size : 1 - along / layer.reach;
      if (left <= 0) return 0;
      const wide = layer.size + 0.3 * Math.max(0, along);
      const aside = x * x + y * y + z * z - along * along;
      const core = 1 - aside / (wide * wide);
      return core <= 0 ? 0 : left * core;
    });
  },
  /** On what meets it, up to its reach, fine. */
  salt(layer, mesh) {
    const towards = facing(layer);
    const low = lowestOf(mesh);
    return byShare(layer, 1, 1, (spot) => {
      const left = 1 - (spot.y - low) / layer.reach;
      if (left <= 0) return 0;
      return within((0.45 + 0.55 * towards(spot)) * (1 - 0.6 * spot.field[0]) * (0.4 + 0.6 * left));
    });
  },
  /** By how much of the sun a place gets: even, without patches. */
  sun(layer) {
    const towards = facing(layer);
    const noise = new Rough3(layer.seed);
    const by = 1 / layer.size;
    const uneven = 0.5 * (1 - layer.soft / 100);
    return (spot) => {
      const { x, y, z, foot, field } = spot;
      // The sky gets to what the sun does not.
      const open = (0.35 + 0.65 * towards(spot)) * (1 - field[0]) * (layer.amount / 100);
      if (open <= 0) return 0;
      const even = uneven > 0 ? 1 + uneven * (noise.at(x * by, y * by, z * by, foot * by) - 0.5) : 1;
      return within(open * even);
    };
  },
};

/** Each texel by where it lies on the model and what the model is like there: the same on both sides of a seam. */
export const wear: Kind<LayerOf<'wear'>> = {
  bounds: () => null,
  draw(layer, region, env, out) {
    if (layer.amount === 0) return;
    const colour = env.colour(layer.paint);
    const fields = WEAR_LOOKS[layer.how].fields(layer).map((name) => ({
      ...env.field(name, region.step),
      values: isFlow(name) ? FLOW_VALUES : 1,
    }));
    const surface = fields[0]?.surface ?? env.surface(region.step);
    const { mesh } = surface.subject;
    const { indices } = mesh;
    const { triangle } = surface.laid;
    const cover = MAKE[layer.how](layer, mesh);
    const many = fields.reduce((sum, { values }) => sum + values, 0);
    const spot: Spot = { x: 0, y: 0, z: 0, nx: 0, ny: 0, nz: 0, foot: 0, field: new Float64Array(many) };
    /** Of each number of the fields its value at the sheet's origin, and what a sample to the right and one down add. */
    const planes = new Float64Array(many * 3);
    let [origin, right, down] = [spot.field, spot.field, spot.field];
    eachRun(
      surface,
      region,
      (plane, rank) => {
        const t = triangle[rank] * 3;
        let o = 0;
        for (const { corners, values } of fields)
          for (let c = 0; c < values; c++, o += 3)
            planes.set(
              plane.between(
                corners[indices[t] * values + c],
                corners[indices[t + 1] * values + c],
                corners[indices[t + 2] * values + c],
              ),
              o,
            );
        ({ origin, right, down } = plane);
        spot.foot = plane.size;
        return true;
      },
      (first, x0, y, count) => {
        for (let k = 0; k < count; k++) {
          const x = x0 + k;
          spot.x = origin[0] + right[0] * x + down[0] * y;
          spot.y = origin[1] + right[1] * x + down[1] * y;
          spot.z = origin[2] + right[2] * x + down[2] * y;
          const nx = origin[3] + right[3] * x + down[3] * y;
          const ny = origin[4] + right[4] * x + down[4] * y;
          const nz = origin[5] + right[5] * x + down[5] * y;
          const long = Math.sqrt(nx * nx + ny * ny + nz * nz);
          const by = long > 0 ? 1 / long : 0;
          spot.nx = nx * by;
          spot.ny = ny * by;
          spot.nz = nz * by;
          for (let c = 0, o = 0; c < many; c++, o += 3)
            spot.field[c] = planes[o] + planes[o + 1] * x + planes[o + 2] * y;
          const share = cover(spot);
          if (share > 1 / 131072) putOver(out, first + k, colour, share > 1 - 1e-9 ? 1 : share);
        }
      },
    );
  },
};
