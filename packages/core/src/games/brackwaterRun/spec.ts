import { DeliverySpec, ZONE_MAP, type SpecZone } from '../../livery/spec.ts';
import { fileRule } from '../rules.ts';
import { spec1 } from './spec1.ts';

const PAINTS: SpecZone['kinds'] = ['gloss', 'satin', 'matt', 'metallic', 'pearl', 'own'];

/** The game's own zones, with the exact colours of its coat maps. */
const ZONES: readonly SpecZone[] = [
  { key: 'shell', name: 'Shell', hex: '#d02020', kinds: PAINTS },
  { key: 'band', name: 'Band', hex: '#20a020', kinds: PAINTS },
  { key: 'trim', name: 'Trim', hex: '#2040d0', kinds: [...PAINTS, 'chrome', 'brushed'] },
  { key: 'bright', name: 'Bright parts', hex: '#e0e0e0', kinds: ['chrome', 'brushed', 'metallic'] },
  { key: 'grip', name: 'Grip', hex: '#202020', kinds: ['rubber', 'fabric', 'matt'] },
  { key: 'weave', name: 'Weave', hex: '#a06010', kinds: ['carbon', 'fabric'] },
  { key: 'panes', name: 'Panes', hex: '#20c0c0', kinds: ['glass', 'gloss'] },
  { key: 'safety', name: 'Safety marks', hex: '#f0e020', kinds: ['reflective'] },
];

/** With the finish zones: a coat map of half its size beside each sheet whose finishes somebody set, and their values in finish.toml. */
export const spec = DeliverySpec.parse({
  ...spec1,
  version: 2,
  files: [
    ...spec1.files,
    fileRule({
      map: ZONE_MAP,
      name: '{livery.key}_{sheet.key}_coatmap.dds',
      format: 'bgra8',
      header: 'legacy',
      colourSpace: 'ids',
      mipFilter: 'box',
      scale: 0.5,
    }),
  ],
  sidecars: [
    {
      name: 'finish.toml',
      language: 'toml',
      making: {
        kind: 'template',
        text: `[livery]
key = {{livery.key}}
name = {{particulars.name}}
number = {{particulars.number}}
craft = {{craft.key}}
{{#sheets}}

[[sheet]]
key = {{key}}
{{/sheets}}
{{#zones}}

[[zone]]
key = {{key}}
colour = {{hex}}
kind = {{finish}}
roughness = {{roughness}}
metal = {{metal}}
coat = {{coat}}
coat_roughness = {{coatRoughness}}
flake = {{flakeDensity}}
flake_size = {{flakeSize}}
flake_tint = {{flakeTint}}
{{/zones}}
`,
      },
    },
  ],
  zones: ZONES,
  lacks: undefined,
});
