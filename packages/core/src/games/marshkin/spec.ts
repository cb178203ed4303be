import { DeliverySpec } from '../../livery/spec.ts';
import { fileRule, KEYS } from '../rules.ts';

export const spec = DeliverySpec.parse({
  schema: 1,
  key: 'marshkin',
  version: 1,
  game: 'marshkin',
  gameName: 'Marshkin',
  folder: 'pack/{craft.key}/{livery.key}/',
  files: [fileRule({ name: 'skin.png', container: 'png', format: 'rgba8', mips: 'none', alpha: 'keep', padding: 0 })],
  sidecars: [
    {
      name: 'label.json',
      language: 'json',
      making: {
        kind: 'template',
        text: `{
  "label": {{particulars.name}},
  "by": {{particulars.author}},
  "creature": {{craft.key}},
  "skin": "skin.png"
}
`,
      },
    },
  ],
  package: { name: 'crates/{livery.key}.crate' },
  liveryKey: KEYS,
  maxSide: 96,
  ground: '#808080',
  after: 'Press reload in the den.',
});
