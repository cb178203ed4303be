import { DeliverySpec } from '../../livery/spec.ts';
import { fileRule, KEYS } from '../rules.ts';

/** The first version, from before plates: liveries that are pinned to it stay as they are. */
export const spec1 = DeliverySpec.parse({
  schema: 1,
  key: 'longhaul',
  version: 1,
  game: 'longhaul',
  gameName: 'Longhaul',
  folder: 'wagons/{craft.key}/{livery.key}/',
  files: [fileRule({ name: '{livery.key}_{sheet.key}.dds', format: 'bc3', header: 'legacy', alpha: 'keep' })],
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
  ],
  gameHas: ['wagons/{craft.key}/{craft.key}.mesh'],
  liveryKey: KEYS,
  lacks: 'Decal plates are not placed on the model yet: plates.json is not written.',
  maxSide: 4096,
  ground: '#808080',
  after: 'Park in a depot; the wagon is read again there.',
});
