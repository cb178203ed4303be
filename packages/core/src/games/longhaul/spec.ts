import { DeliverySpec } from '../../livery/spec.ts';
import { fileRule, KEYS } from '../rules.ts';

/** The wagon names its materials and its plates, each material its sheet, each plate its texture. */
export const spec = DeliverySpec.parse({
  schema: 1,
  key: 'longhaul',
  version: 2,
  game: 'longhaul',
  gameName: 'Longhaul',
  folder: 'wagons/{craft.key}/{livery.key}/',
  files: [
    fileRule({
      name: '{livery.key}_{sheet.key}.dds',
      plateName: '{livery.key}_plate_{plate.key}.dds',
      format: 'bc3',
      header: 'legacy',
      alpha: 'keep',
    }),
  ],
  sidecars: [
    {
      name: 'wagon.xml',
      language: 'xml',
      making: {
        kind: 'template',
        text: `<?xml version="1.0" encoding="UTF-8"?>
<wagon name="{{particulars.name}}" craft="{{craft.key}}">
  <model file="wagons/{{craft.key}}/{{craft.key}}.mesh"/>
  {{#sheets}}
  <material part="{{key}}" file="{{key}}.material.xml"/>
  {{/sheets}}
  {{#plated}}
  <plates file="plates.json"/>
  {{/plated}}
</wagon>
`,
      },
    },
    {
      name: '{sheet.key}.material.xml',
      language: 'xml',
      each: 'sheet',
      making: {
        kind: 'template',
        text: `<?xml version="1.0" encoding="UTF-8"?>
<material>
  {{#sheet}}
  <sheet file="{{file}}"/>
  <surface roughness="{{roughness}}" metal="{{metal}}"/>
  {{/sheet}}
</material>
`,
      },
    },
    {
      name: 'plates.json',
      language: 'json',
      when: 'plates',
      making: {
        kind: 'template',
        text: `{
  "plates": [
    {{#plates}}
    {
      "name": {{key}},
      "group": {{group}},
      "partner_of": {{partnerOf}},
      "texture": {{file}},
      "window": [{{left}}, {{top}}, {{right}}, {{bottom}}],
      "position": [{{x}}, {{y}}, {{z}}],
      "turn": [{{#turn}}{{value}}{{^last}}, {{/last}}{{/turn}}],
      "scale": [{{across}}, {{tall}}],
      "bend": { "about": {{about}}, "radius": {{radius}}, "pieces": {{pieces}} }
    }{{^last}},{{/last}}
    {{/plates}}
  ]
}
`,
      },
    },
  ],
  // The game's x runs forward, its y to port and its z up; centimetres; degrees about z, then y, then x.
  plates: {
    kinds: ['flat', 'bent'],
    textures: 'either',
    unit: 'cm',
    axes: ['x', '-z', 'y'],
    turn: { as: 'angles', order: 'zyx', unit: 'degrees' },
    most: 40,
  },
  gameHas: ['wagons/{craft.key}/{craft.key}.mesh'],
  liveryKey: KEYS,
  maxSide: 4096,
  ground: '#808080',
  after: 'Park in a depot; the wagon is read again there.',
});
