import { layersOf } from '../../livery/livery.ts';
import { partBefore } from '../../surface/behind.ts';
import { spotOfTexel, surfaceOf, type Spot } from '../../surface/locate.ts';
import { long, plus, unit, type Vec } from '../../surface/vectors.ts';
import type { Check } from '../finding.ts';
import { regionOf, samplesOf } from './coverage.ts';

/** Less of a mark behind something is seen past by whoever walks by (common practice, no source). */
const LEAST = 0.06;
/** A mark that looks so little one way goes round the model. */
const ROUND = 0.4;
/** Places along a mark's longer side that are looked at, about. */
const ACROSS = 48;

export const marksBehind: Check = {
  key: 'marks-behind',
  subject: 'marks behind fittings',
  why: 'What stands before a mark on the model (a rail, a lamp, a locker) hides it, though the flat sheet shows it whole.',
  needsModel: true,
  run(input) {
    const { livery, template } = input;
    const nameOf = (key: string) => template.parts.find((part) => part.key === key)?.name ?? key;
    return template.sheets.flatMap((sheet) =>
      layersOf(livery, sheet.key).flatMap((layer) => {
        if (sheet.plates || layer.hidden || (layer.kind !== 'decal' && layer.kind !== 'lettering')) return [];
        const { width, height, step } = regionOf(input, sheet.key, layer);
        const coarse = step * 2 ** Math.max(0, Math.round(Math.log2(Math.max(width, height) / ACROSS)));
        const surface = surfaceOf(template, sheet.key);
        const spots: { spot: Spot; alpha: number }[] = [];
        let faces: Vec = [0, 0, 0];
        for (const { x, y, alpha } of samplesOf(input, sheet.key, layer, coarse)) {
          const spot = spotOfTexel(surface, x, y);
          if (!spot) continue;
          spots.push({ spot, alpha });
          faces = plus(faces, spot.normal, alpha);
        }
        // Straight on is one direction for all of it; what goes right round the model is looked at from where it lies.
        const all = spots.reduce((sum, { alpha }) => sum + alpha, 0);
        const straight = long(faces) > ROUND * all ? unit(faces) : null;
        const before = new Map<string, number>();
        for (const { spot, alpha } of spots) {
          const part = partBefore(template, spot.position, straight ?? spot.normal, spot.part);
          if (part) before.set(part, (before.get(part) ?? 0) + alpha);
        }
        const hidden = [...before.values()].reduce((sum, one) => sum + one, 0);
        if (all === 0 || hidden < all * LEAST) return [];
        const names = [...new Set([...before].sort((a, b) => b[1] - a[1]).map(([key]) => nameOf(key)))].slice(0, 3);
        return [
          {
            check: this.key,
            level: 'advice' as const,
            title: `${Math.round((hidden / all) * 100)} % of “${layer.name}” is behind ${names.join(' and ')}`,
            detail: `On the model ${names.length > 1 ? 'they stand' : 'it stands'} before it as it is looked at straight on.`,
            show: { sheet: sheet.key, layer: layer.id },
          },
        ];
      }),
    );
  },
};
