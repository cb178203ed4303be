import { DeliverySpec } from '../../livery/spec.ts';
import { fileRule, KEYS } from '../rules.ts';

/** The first version, from before the game's finish zones: liveries that are pinned to it stay as they are. */
export const spec1 = DeliverySpec.parse({
  schema: 1,
  key: 'brackwater-run',
  version: 1,
  game: 'brackwater-run',
  gameName: 'Brackwater Run',
  folder: 'wharf/{craft.key}/{livery.key}/',
  files: [fileRule({ name: '{livery.key}_{sheet.key}.dds' })],
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

[[zone]]
sheet = {{key}}
kind = {{finish}}
roughness = {{roughness}}
metal = {{metal}}
{{/sheets}}
`,
      },
    },
  ],
  liveryKey: KEYS,
  lacks: 'The finish-zone map is not made yet, so the game gives each sheet one finish.',
  maxSide: 4096,
  ground: '#808080',
  after: 'In the game, leave the wharf and come back: it reads its folders on arrival.',
});
