/** What of the surface is shown on sheet and model: the art, its finishes as flat colours, or one value as grey. */
import { SURFACE_MAP } from '@wet-lacquer/core/finish/derived.ts';
import { meaningOf, type Meaning } from '@wet-lacquer/core/finish/meanings.ts';
import { ZONE_MAP, type Channel } from '@wet-lacquer/core/livery/spec.ts';
import { lightMapsOf, MAIN_MAP, mapsOf, type Template, type TemplateSheet } from '@wet-lacquer/core/livery/template.ts';

export const SHOWS = [
  { key: 'paint', name: 'Paint', says: 'The paint itself' },
  { key: 'zones', name: 'Finishes', says: 'Finishes, each in a colour of its own' },
  { key: 'night', name: 'Night', says: 'In the dark: what is lit, and what is left of the day' },
  { key: 'roughness', name: 'Roughness', says: 'Roughness: darker is shinier' },
  { key: 'metal', name: 'Metal', says: 'Metal: brighter is more metallic' },
  { key: 'coat', name: 'Clear coat', says: 'Clear coat: brighter is more of it' },
] as const;
export type Shows = (typeof SHOWS)[number]['key'];

/** What a template has anything to show of. */
export const showsOf = (template: Template) =>
  SHOWS.filter(({ key }) => key !== 'night' || template.sheets.some((sheet) => nightOf(sheet) !== undefined));

/** The map of a sheet that holds light, the first where it has several. */
export const nightOf = (sheet: TemplateSheet) => lightMapsOf(sheet).at(0);

const OWN: Readonly<Record<Exclude<Shows, 'paint' | 'zones' | 'night'>, Channel>> = {
  roughness: 'red',
  metal: 'green',
  coat: 'blue',
};

/** The map of a sheet that is drawn for it, and which of its channels: what is delivered, where the sheet has a map of that value. */
export function shownOn(
  template: Template,
  sheet: string,
  shows: Shows,
  map = MAIN_MAP,
): { map: string; channel: Channel | null } {
  if (shows === 'paint') return { map, channel: null };
  if (shows === 'zones') return { map: ZONE_MAP, channel: null };
  const of = template.sheets.find(({ key }) => key === sheet);
  if (shows === 'night') return { map: (of && nightOf(of)?.key) ?? MAIN_MAP, channel: null };
  for (const { key, channels } of of ? mapsOf(of) : [])
    for (const [channel, name] of Object.entries(channels ?? {}))
      if (meaningOf(name) === (shows satisfies Meaning)) return { map: key, channel: channel as Channel };
  return { map: SURFACE_MAP, channel: OWN[shows] };
}
