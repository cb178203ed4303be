/** Where the values of a sheet's surface are: in maps of its own, else in what follows from the finishes. */
import { SURFACE_MAP } from '@wet-lacquer/core/finish/derived.ts';
import { isOcclusion, meaningOf } from '@wet-lacquer/core/finish/meanings.ts';
import { CHANNELS } from '@wet-lacquer/core/livery/layerBase.ts';
import { holdsOf, mapsOf, type TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import type { Reading, SurfaceTextures } from './lit.ts';

/** Which map of a sheet has the values of its surface, and in which channels. */
export function valuesOf(sheet: TemplateSheet): { map: string; reads: SurfaceTextures['reads'] } {
  for (const { key, channels } of mapsOf(sheet)) {
    const reads: Partial<Record<keyof SurfaceTextures['reads'], Reading>> = {};
    for (const [name, means] of Object.entries(channels ?? {})) {
      const at = {
        channel: CHANNELS.indexOf(name as (typeof CHANNELS)[number]) as Reading['channel'],
        inverted: false,
      };
      const meaning = meaningOf(means);
      if (meaning === 'gloss') reads.roughness = { ...at, inverted: true };
      else if (meaning === 'roughness' || meaning === 'metal' || meaning === 'coat') reads[meaning] = at;
      else if (isOcclusion(means)) reads.occlusion = at;
    }
    if (reads.roughness) return { map: key, reads };
  }
  const own = (channel: Reading['channel']) => ({ channel, inverted: false });
  return { map: SURFACE_MAP, reads: { roughness: own(0), metal: own(1), coat: own(2) } };
}

const bends = (sheet: TemplateSheet) => mapsOf(sheet).find((map) => holdsOf(map) === 'normal');

/** The map of a sheet that holds directions; null: it has none. */
export const normalOf = (sheet: TemplateSheet): string | null => bends(sheet)?.key ?? null;

/** Whether green of those directions grows towards the sheet's foot. */
export const greenDown = (sheet: TemplateSheet): boolean => bends(sheet)?.green === 'down';
