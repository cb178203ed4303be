import type { Filter } from '../livery/paint.ts';
import { blur } from './blur/apply.ts';
import { grain } from './grain/apply.ts';
import { hcl } from './hcl/apply.ts';
import type { FilterEnv, FilterKind, FilterKinds, FilterRegion } from './kind.ts';
import { levels } from './levels/apply.ts';
import { recolour } from './recolour/apply.ts';
import { replace } from './replace/apply.ts';
import { sharpen } from './sharpen/apply.ts';
import { worn } from './worn/apply.ts';

const KINDS: FilterKinds = { levels, hcl, replace, recolour, blur, sharpen, grain, worn };
const kindOf = <F extends Filter>(filter: F) => KINDS[filter.kind] as unknown as FilterKind<F>;

/** How far beyond a region filters look, texels. */
export const marginOf = (filters: readonly Filter[]): number =>
  filters.reduce((sum, filter) => sum + (kindOf(filter).margin?.(filter) ?? 0), 0);

/** Whether a filter looks at each texel alone: only those can change what is below a layer, which is there for one region only. */
export const looksAtOne = (filter: Filter): boolean => !kindOf(filter).margin;

/** Applies filters in their order to 16-bit premultiplied RGBA of a region, in place. */
export function applyFilters(
  filters: readonly Filter[],
  texels: Uint16Array,
  region: FilterRegion,
  env: FilterEnv,
): void {
  for (const filter of filters) kindOf(filter).apply(filter, texels, region, env);
}
