import type { LayerOf } from '../../livery/layer.ts';
import { eachAlong } from '../../surface/fields.ts';
import { halfPlaneCoverage } from '../../shapes/coverage.ts';
import { ramp } from '../band.ts';
import { putOver, type Kind } from '../kind.ts';

type Belt = LayerOf<'belt'>;

/** Directions of a template's model: x forward, y up, z to starboard. */
const AXES: Readonly<Record<Belt['along'], readonly [number, number, number]>> = {
  height: [0, 1, 0],
  length: [1, 0, 0],
  width: [0, 0, 1],
};

/** Each texel by where it lies on the model: the same on both sides of a seam. Hard edges cover the exact share of a texel. */
export const belt: Kind<LayerOf<'belt'>> = {
  bounds: () => null,
  draw({ along, from, to, soft, paint }, region, env, out) {
    const colour = env.colour(paint);
    const [low, high] = from < to ? [from, to] : [to, from];
    eachAlong(env.surface(region.step), region, AXES[along], (i, at, right, down) => {
      const slope = Math.sqrt(right * right + down * down);
      let coverage;
      if (soft > slope) coverage = ramp((at - low) / soft) - ramp((at - high) / soft);
      else if (slope < 1e-12) coverage = at >= low && at < high ? 1 : 0;
      else {
        const a = Math.abs(right) / slope;
        const b = Math.abs(down) / slope;
        coverage = halfPlaneCoverage((at - low) / slope, a, b) - halfPlaneCoverage((at - high) / slope, a, b);
      }
      if (coverage > 1e-9) putOver(out, i, colour, coverage > 1 - 1e-9 ? 1 : coverage);
    });
  },
};
