import { PLAIN_FINISH } from './finish.ts';
import { newColourId, newLayerId, type Sha256 } from './ids.ts';
import type { Layer } from './layer.ts';
import type { Livery, LiverySheet } from './livery.ts';
import { slugOf } from './slug.ts';
import { FIRST_NIGHT } from './night.ts';
import { beginningOf, lightMapsOf, mapsOf, type Template, type TemplateSheet } from './template.ts';

/** The scheme that a new livery begins with: quiet paints that are easy to replace. */
const FIRST_SCHEME: readonly [name: string, hex: string][] = [
  ['Ground', '#e8e4da'],
  ['Main', '#2f5d62'],
  ['Line', '#d9573f'],
  ['Lettering', '#20282b'],
];

/** The same layer under an id of this livery's own. */
const renewed = (layer: Layer): Layer => ({ ...layer, id: newLayerId() });

/** A sheet as a new livery has it. */
export function newSheet(template: Template, sheet: TemplateSheet): LiverySheet {
  return {
    key: sheet.key,
    finish: PLAIN_FINISH,
    ready: false,
    kept: false,
    maps: mapsOf(sheet).map(({ key, alpha }) => ({
      key,
      alpha,
      layers: beginningOf(template, sheet.key, key).map(renewed),
    })),
  };
}

/** A new livery for a template, with what the template begins with. @param template the template's document, @param hash under which it is stored, @param team for whom it is */
export function newLivery(template: Template, hash: Sha256, name: string, team = ''): Livery {
  return {
    schema: 1,
    particulars: {
      name,
      key: slugOf(name).slice(0, 32).replace(/-+$/, ''),
      number: '1',
      registration: '',
      team,
      author: '',
    },
    // Of its own: a colour that comes from another livery is told from these by its id.
    scheme: FIRST_SCHEME.map(([colour, hex]) => ({ id: newColourId(), name: colour, hex })),
    ...(template.sheets.some((sheet) => lightMapsOf(sheet).length > 0) && {
      night: FIRST_NIGHT,
    }),
    sheets: template.sheets.map((sheet) => newSheet(template, sheet)),
    pins: { template: hash, spec: template.spec, renderer: 1, fonts: {} },
  };
}
